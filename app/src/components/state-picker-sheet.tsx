import { useState } from 'react';
import { ScrollView, StyleSheet } from 'react-native';

import { useDesksQuery } from '../store/desk-api';
import { useProductionsQuery } from '../store/scenes-api';
import { useLiveDesk } from '../store/use-live-desk';
import { Chip } from '../ui/buttons';
import { Option } from '../ui/option';
import { SPACE } from '../ui/tokens';
import { LIVE_DESK, type StateRef } from './links/compare-link';
import { SceneSheet } from './scene-picker-sheet';
import type { CompareSide } from './use-compare-side';

interface StateSheetProps {
  readonly title: string;
  readonly chosen: CompareSide | undefined;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onChoose: (of: StateRef) => void;
}

/** Chooses a state: what is on the desk now, or a scene of any production, way backs included. */
export function StateSheet({ title, chosen, open, onClose, onChoose }: StateSheetProps) {
  const now = useLiveDesk();
  const { data: desks = [] } = useDesksQuery();
  const { data: productions = [] } = useProductionsQuery();
  const [picked, setPicked] = useState<string | null>(null);
  const kindOf = (deskId: string) => desks.find((desk) => desk.id === deskId)?.profileId;
  const kind = chosen?.profile?.id ?? now?.profile.id;
  const fitting = productions.filter((p) => !p.binnedAt && (!kind || kindOf(p.deskId) === kind));
  const production = fitting.find((p) => p.id === (picked ?? chosen?.productionId)) ?? fitting[0];
  if (!production) return null;
  return (
    <SceneSheet
      title={title}
      production={production}
      chosen={chosen?.of}
      open={open}
      onClose={onClose}
      onChoose={(scene) => onChoose(scene.id)}
      above={
        fitting.length > 1 ? (
          <ScrollView horizontal style={styles.row} contentContainerStyle={styles.chips} role="tablist">
            {fitting.map((p) => (
              <Chip key={p.id} title={p.name} chosen={p.id === production.id} onPress={() => setPicked(p.id)} />
            ))}
          </ScrollView>
        ) : null
      }
      first={
        now && now.profile.id === kind ? (
          <Option
            title="On the desk now"
            under={now.desk.name}
            chosen={chosen?.of === LIVE_DESK}
            onPress={() => {
              onChoose(LIVE_DESK);
              onClose();
            }}
          />
        ) : null
      }
    />
  );
}

const styles = StyleSheet.create({
  row: { flexGrow: 0, marginBottom: SPACE.s },
  chips: { gap: SPACE.s },
});
