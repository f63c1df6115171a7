import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { countStrips, plural } from '@old-echo/core/phrases/format-value';

import { type LiveDesk, useDrift } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { SPACE } from '../ui/tokens';
import { DriftList } from './drift-list';
import { InUseChip } from './in-use-chip';
import { useOpenStrip } from './use-open-strip';
import { WholeDesk } from './whole-desk';

/** Beside the list of the desk while no strip is open: the whole desk at a glance, or what has drifted. */
export function DeskPane({ now }: { readonly now: LiveDesk }) {
  const drift = useDrift() ?? [];
  const [view, setView] = useState<'desk' | 'drift'>('desk');
  const open = useOpenStrip(now.desk.id, now.profile.strips);
  return (
    <View style={styles.fill}>
      <View style={styles.head}>
        <ChipRow role="tablist" aria-label="What is shown">
          <Chip title="Whole desk" chosen={view === 'desk'} onPress={() => setView('desk')} />
          <Chip title={`Drift ${drift.length}`} chosen={view === 'drift'} onPress={() => setView('drift')} />
        </ChipRow>
        {view === 'desk' ? (
          <InUseChip />
        ) : drift.length > 0 ? (
          <AppText kind="small" tone="second" style={styles.fill} numberOfLines={2}>
            {plural(drift.length, 'setting')} drifted on {countStrips(drift.map(({ strip }) => strip))} since{' '}
            {now.desk.baseline?.line}
          </AppText>
        ) : null}
      </View>
      {view === 'desk' ? <WholeDesk now={now} onOpen={open} /> : <DriftList now={now} />}
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  head: { flexDirection: 'row', alignItems: 'center', gap: SPACE.m, padding: SPACE.m },
});
