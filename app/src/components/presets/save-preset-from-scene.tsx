import { useState } from 'react';

import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';

import { useDesksQuery, useProfileQuery } from '../../store/desk-api';
import { useProductionsQuery, useSceneStateQuery } from '../../store/scenes-api';
import type { LiveDesk } from '../../store/use-live-desk';
import { MenuRow } from '../../ui/menu';
import { Sheet } from '../../ui/sheet';
import { StripSheet } from '../strip-picker-sheet';
import { SaveFrom } from './save-preset-sheet';

/** Saves something of a scene: of one strip, or of the whole desk. */
export function SaveFromScene({ scene, onClose }: { readonly scene: SceneView; readonly onClose: () => void }) {
  const { data: productions = [] } = useProductionsQuery();
  const { data: desks = [] } = useDesksQuery();
  const state = useSceneStateQuery(scene.id).data;
  const deskId = productions.find(({ id }) => id === scene.productionId)?.deskId;
  const desk = desks.find(({ id }) => id === deskId);
  const profile = useProfileQuery(desk?.profileId ?? '', { skip: !desk }).data;
  if (!state || !desk || !profile) return null;
  return (
    <SaveFromState
      now={{ desk, profile, state, known: true, linked: false }}
      madeOn={sceneTitle(scene)}
      onClose={onClose}
    />
  );
}

/** Saves something of the desk as it is now. */
export const SaveFromDesk = ({ now, onClose }: { readonly now: LiveDesk; readonly onClose: () => void }) => (
  <SaveFromState now={now} madeOn={now.desk.name} onClose={onClose} />
);

interface SaveFromStateProps {
  readonly now: LiveDesk;
  readonly madeOn: string;
  readonly onClose: () => void;
}

function SaveFromState({ now, madeOn, onClose }: SaveFromStateProps) {
  const [of, setOf] = useState<readonly string[] | 'choosing' | null>(null);
  return (
    <>
      <Sheet title={`From ${madeOn}`} open={of === null} onClose={onClose}>
        <MenuRow
          title="From one strip …"
          under="The strip, a processor, a strip set"
          onPress={() => setOf('choosing')}
        />
        <MenuRow title="From the whole desk …" under="A template or the patch" onPress={() => setOf([])} />
      </Sheet>
      <StripSheet
        title="Which strip?"
        now={now}
        open={of === 'choosing'}
        onClose={() => setOf((before) => (before === 'choosing' ? null : before))}
        onChoose={(strip) => setOf([strip])}
      />
      <SaveFrom
        profile={now.profile}
        state={now.state}
        madeOn={madeOn}
        strips={typeof of === 'string' || of === null ? [] : of}
        open={Array.isArray(of)}
        onClose={onClose}
      />
    </>
  );
}
