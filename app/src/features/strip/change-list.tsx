import { StyleSheet, View } from 'react-native';

import { specAt, type Profile } from '@old-echo/core/desk/profile';
import { stripName, type State } from '@old-echo/core/desk/state';
import type { Value } from '@old-echo/core/desk/setting';
import { fullSettingName, showValue } from '@old-echo/core/desk/wording';

import { useLook } from '../../ui/theme';
import { SPACE } from '../../ui/tokens';
import { Words } from '../../ui/words';

export interface ListedChange {
  readonly address: string;
  readonly strip: string;
  readonly was: Value | undefined;
  readonly now: Value | undefined;
  /** A word behind it: why it stays. */
  readonly why?: string;
}

interface ChangeListProps {
  readonly profile: Profile;
  /** The state whose labels name the strips. */
  readonly names: State;
  readonly changes: readonly ListedChange[];
}

/** Changes setting by setting, grouped by strip: what it was, struck by an arrow, what it is. */
export function ChangeList({ profile, names, changes }: ChangeListProps) {
  const look = useLook();
  const strips = [...new Set(changes.map((change) => change.strip))];
  return (
    <View style={styles.list}>
      {strips.map((strip) => (
        <View key={strip} style={[styles.strip, { borderColor: look.line }]}>
          <Words kind="strong">{stripName(profile, names, strip)}</Words>
          {changes
            .filter((change) => change.strip === strip)
            .map((change) => (
              <Change key={change.address} profile={profile} names={names} change={change} />
            ))}
        </View>
      ))}
    </View>
  );
}

function Change({ profile, names, change }: { profile: Profile; names: State; change: ListedChange }) {
  const spec = specAt(profile, change.address);
  const show = (value: Value | undefined) => (spec ? showValue(spec, value) : String(value ?? '–'));
  return (
    <View style={styles.change}>
      <Words tone="second" style={styles.name} numberOfLines={1}>
        {fullSettingName(profile, change.address, names)}
        {change.why ? ` · ${change.why}` : ''}
      </Words>
      <Words kind="value" tone="second">
        {show(change.was)}
      </Words>
      <Words kind="value" tone="second">
        {' → '}
      </Words>
      <Words kind="value">{show(change.now)}</Words>
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: SPACE.m },
  strip: { borderBottomWidth: 1, paddingBottom: SPACE.s, gap: SPACE.xs },
  change: { flexDirection: 'row', alignItems: 'center', minHeight: 24 },
  name: { flex: 1, minWidth: 0 },
});
