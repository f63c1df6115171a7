import { StyleSheet, View } from 'react-native';

import { type Profile, stripFamily, stripNumber } from '@old-echo/core/desk/profile';
import { isNumberSpec } from '@old-echo/core/desk/setting';
import { displayName, type State } from '@old-echo/core/desk/state';
import type { PlannedChange } from '@old-echo/core/recall/planned-changes';

import { ChangeList, type ListedChange } from '../components/change-list';
import { countBySection } from '../components/strip-summary';
import { StripRowLayout } from '../ui/strip-row-layout';
import { SPACE } from '../ui/tokens';

interface StripChangeProps {
  readonly profile: Profile;
  readonly state: State;
  readonly after: State;
  readonly strip: string;
  readonly changes: readonly PlannedChange[];
  readonly open: boolean;
  readonly onOpen: (strip: string) => void;
}

/** One strip of a preview: the echo where it is now, solid where it will be; opened, setting by setting. */
export function StripChangeRow({ profile, state, after, strip, changes, open, onOpen }: StripChangeProps) {
  const spec = stripFamily(profile, strip)?.settings['fader/level'];
  const now = state[strip] ?? {};
  const fader = changes.find((change) => change.key === 'fader/level');
  const mute = changes.find((change) => change.key === 'mute/on');
  const level = Number(fader?.to ?? now['fader/level']);
  const listed: ListedChange[] = changes.map(({ address, from, to }) => ({ address, strip, was: from, now: to }));
  return (
    <View>
      <StripRowLayout
        strip={strip}
        number={String(stripNumber(strip)).padStart(2, '0')}
        name={displayName(profile, state, strip)}
        under={countBySection(changes.map(({ section, key, to }) => ({ section, key, now: to })))}
        level={
          spec && isNumberSpec(spec) ? { spec, value: level, echo: fader ? Number(fader.from) : undefined } : undefined
        }
        muted={(mute?.to ?? now['mute/on']) === true}
        chosen={open}
        onOpen={onOpen}
      />
      {open ? (
        <View style={styles.open}>
          <ChangeList profile={profile} names={after} changes={listed} />
        </View>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({ open: { paddingHorizontal: SPACE.l, paddingVertical: SPACE.s } });
