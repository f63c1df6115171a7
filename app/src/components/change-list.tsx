import { type ReactNode, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, type Value } from '@old-echo/core/desk/setting';
import { displayName, type State } from '@old-echo/core/desk/state';
import { formatValue, fullSettingName, plural } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { EchoBar } from '../ui/echo-bar';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';

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
  /** Stands beside a strip's name. */
  readonly side?: (strip: string) => ReactNode;
  /** Without the strips' names. */
  readonly plain?: boolean;
  /** What was is A, what is is B. */
  readonly compared?: boolean;
}

/** Changes drawn before one asks for more: two unlike scenes differ in thousands. */
const AT_FIRST = 200;

/** Changes setting by setting, grouped by strip: the echo where it was, solid where it is, and both values. */
export function ChangeList({ profile, names, changes, side, plain, compared }: ChangeListProps) {
  const look = useLook();
  const [shown, setShown] = useState(AT_FIRST);
  const byStrip = new Map<string, ListedChange[]>();
  for (const change of changes.slice(0, shown))
    byStrip.set(change.strip, [...(byStrip.get(change.strip) ?? []), change]);
  return (
    <View style={styles.list}>
      {[...byStrip].map(([strip, own]) => (
        <View key={strip} testID={`changes-${strip}`} style={[styles.strip, { borderColor: look.line }]}>
          {plain ? null : (
            <View style={styles.head}>
              <AppText kind="strong" style={styles.fill} numberOfLines={1}>
                {displayName(profile, names, strip)}
              </AppText>
              {side?.(strip)}
            </View>
          )}
          {own.map((change) => (
            <Change key={change.address} profile={profile} names={names} change={change} compared={compared} />
          ))}
        </View>
      ))}
      {changes.length > shown ? (
        <Action title={`Show ${plural(changes.length - shown, 'more change')}`} onPress={() => setShown(shown * 3)} />
      ) : null}
    </View>
  );
}

interface ChangeProps extends Pick<ChangeListProps, 'profile' | 'names' | 'compared'> {
  readonly change: ListedChange;
}

function Change({ profile, names, change, compared }: ChangeProps) {
  const look = useLook();
  const colours = compared ? { was: look.a, now: look.b } : undefined;
  const { was, now } = change;
  const spec = specOf(profile, change.address);
  const show = (value: Value | undefined) => (spec ? formatValue(spec, value) : String(value ?? '–'));
  return (
    <View style={styles.change}>
      <AppText tone="second" style={styles.name} numberOfLines={1}>
        {fullSettingName(profile, change.address, names)}
        {change.why ? ` · ${change.why}` : ''}
      </AppText>
      {spec && isNumberSpec(spec) && typeof was === 'number' && typeof now === 'number' ? (
        <View style={styles.line}>
          <EchoBar spec={spec} was={was} now={now} colours={colours} />
        </View>
      ) : null}
      <View style={styles.values}>
        <AppText kind="value" tone={compared ? 'a' : 'second'} numberOfLines={1} style={styles.was}>
          {show(was)}
        </AppText>
        <AppText kind="value" tone={compared ? 'b' : 'ink'} numberOfLines={1} style={styles.now}>
          →&nbsp;{show(now)}
        </AppText>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: SPACE.m },
  strip: { borderBottomWidth: 1, paddingBottom: SPACE.s, gap: SPACE.xs },
  head: { flexDirection: 'row', alignItems: 'center', minHeight: 24 },
  fill: { flex: 1, minWidth: 0 },
  change: { flexDirection: 'row', alignItems: 'center', minHeight: 24, gap: SPACE.s },
  name: { flex: 1, minWidth: 0 },
  line: { flex: 0.9 },
  values: { flexDirection: 'row', justifyContent: 'flex-end', gap: SPACE.xs, minWidth: 148, maxWidth: '60%' },
  was: { flexShrink: 1, textAlign: 'right' },
  now: { minWidth: 78, flexShrink: 1, textAlign: 'right' },
});
