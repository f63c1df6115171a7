import { StyleSheet, View } from 'react-native';

import { plural } from '@old-echo/core/phrases/format-value';

import { type LiveDesk, useDrift } from '../store/use-live-desk';
import { SPACE } from '../ui/tokens';
import { DeskActions } from './desk-actions';
import { DeskHead } from './desk-head';
import { HeldScopeCard } from './held-scope-card';
import { InUseChip } from './in-use-chip';
import { ScenesAtHand } from './scenes-at-hand';
import { SelectionBar } from './selection-bar';
import { UnfinishedRestoreCard } from './unfinished-restore-card';
import { useHeldScope } from './use-held-scope';
import { useLastSwitch } from './use-last-switch';
import { useOpenStrip } from './use-open-strip';
import { WholeDesk } from './whole-desk';

/** The desk on a phone that is held sideways: the whole of it at a glance, the scenes at hand below. */
export function SidewaysDesk({ now }: { readonly now: LiveDesk }) {
  const { desk, profile } = now;
  const drift = useDrift();
  const held = useHeldScope(desk, profile);
  const open = useOpenStrip(desk.id, profile.strips);
  useLastSwitch(profile);
  const drifted = drift && drift.length > 0 ? `, ${plural(drift.length, 'setting')} drifted` : '';
  return (
    <View style={styles.fill}>
      <DeskHead
        now={now}
        under={desk.baseline ? `${desk.baseline.line}${drifted}` : 'No scene yet'}
        side={<InUseChip />}
      />
      <UnfinishedRestoreCard />
      <SelectionBar now={now} shown={profile.strips} />
      <WholeDesk now={now} onOpen={open} />
      {held ? <HeldScopeCard now={now} held={held} /> : null}
      <View style={styles.foot}>
        <View style={styles.fill}>
          <ScenesAtHand now={now} held={held} />
        </View>
        <DeskActions now={now} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  foot: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, paddingRight: SPACE.m },
});
