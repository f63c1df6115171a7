import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { Profile } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';
import type { SkippedChange } from '@old-echo/core/recall/planned-changes';

import { ChangeList } from '../components/change-list';
import { AppText } from '../ui/app-text';
import { Icon } from '../ui/icon';
import { SPACE, TOUCH } from '../ui/tokens';

/** What differs and is left where it is, with the reason, folded until asked for. */
export function SkippedChanges({
  profile,
  names,
  stays,
}: {
  profile: Profile;
  names: State;
  stays: readonly SkippedChange[];
}) {
  const [open, setOpen] = useState(false);
  const reasons = [...new Set(stays.map((stay) => stay.why))].map(
    (why) => `${stays.filter((stay) => stay.why === why).length} ${why}`,
  );
  return (
    <View style={styles.stays}>
      <Pressable
        role="button"
        aria-expanded={open}
        testID="skipped"
        onPress={() => setOpen(!open)}
        style={styles.staysHead}
      >
        <Icon of={open ? ChevronDown : ChevronRight} />
        <View style={styles.fill}>
          <AppText kind="strong">
            {stays.length === 1 ? '1 difference stays' : `${stays.length} differences stay`}
          </AppText>
          <AppText kind="small" tone="second">
            {reasons.join(' · ')}
          </AppText>
        </View>
      </Pressable>
      {open ? (
        <ChangeList
          profile={profile}
          names={names}
          changes={stays.map((stay) => ({
            address: stay.address,
            strip: stay.strip,
            was: stay.scene,
            now: stay.now,
            why: stay.why,
          }))}
        />
      ) : null}
      {open ? (
        <AppText kind="small" tone="second">
          Left: in the scene. Right: stays on the desk.
        </AppText>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  stays: { padding: SPACE.l, gap: SPACE.s },
  staysHead: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, minHeight: TOUCH },
});
