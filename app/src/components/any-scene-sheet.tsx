import { type ReactNode, useState } from 'react';
import { ScrollView, StyleSheet } from 'react-native';

import type { SceneView } from '@old-echo/core/contracts/scene';

import { useDesksQuery } from '../store/desk-api';
import { useProductionsQuery } from '../store/scenes-api';
import { Chip } from '../ui/buttons';
import { SPACE } from '../ui/tokens';
import { SceneSheet } from './scene-picker-sheet';

interface AnySceneSheetProps {
  readonly title: string;
  /** The desk model that it has to be of. */
  readonly profileId: string | undefined;
  readonly chosen: string | undefined;
  /** Whose scenes are shown at first. */
  readonly productionId?: string | null | undefined;
  readonly first?: ReactNode;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onChoose: (scene: SceneView) => void;
}

/** Chooses a scene of any song or show on a desk model, way backs included. */
export function AnySceneSheet({ profileId, productionId, ...sheet }: AnySceneSheetProps) {
  const { data: desks = [] } = useDesksQuery();
  const { data: productions = [] } = useProductionsQuery();
  const [picked, setPicked] = useState<string | null>(null);
  const modelOf = (deskId: string) => desks.find((desk) => desk.id === deskId)?.profileId;
  const fitting = productions.filter((p) => !p.binnedAt && (!profileId || modelOf(p.deskId) === profileId));
  const production = fitting.find((p) => p.id === (picked ?? productionId)) ?? fitting[0];
  if (!production) return null;
  return (
    <SceneSheet
      {...sheet}
      production={production}
      above={
        fitting.length > 1 ? (
          <ScrollView horizontal style={styles.row} contentContainerStyle={styles.chips} role="tablist">
            {fitting.map((p) => (
              <Chip key={p.id} title={p.name} chosen={p.id === production.id} onPress={() => setPicked(p.id)} />
            ))}
          </ScrollView>
        ) : null
      }
    />
  );
}

const styles = StyleSheet.create({
  row: { flexGrow: 0, marginBottom: SPACE.s },
  chips: { gap: SPACE.s },
});
