import { useState } from 'react';

import type { SceneView } from '@old-echo/core/contracts/scene';

import { useDesksQuery, useProductionsQuery, useProfileQuery, useSceneStateQuery } from '../../store/api';
import type { DeskNow } from '../../live/use-desk';
import { MenuRow } from '../../ui/menu';
import { Sheet } from '../../ui/sheet';
import { StripSheet } from '../strip/strip-sheet';
import { SaveFrom } from './save-from';

/** Saves something of a scene: of one strip, or of the whole desk. */
export function SaveFromScene({ scene, onClose }: { readonly scene: SceneView; readonly onClose: () => void }) {
  const { data: productions = [] } = useProductionsQuery();
  const { data: desks = [] } = useDesksQuery();
  const state = useSceneStateQuery(scene.id).data;
  const deskId = productions.find(({ id }) => id === scene.productionId)?.deskId;
  const desk = desks.find(({ id }) => id === deskId);
  const profile = useProfileQuery(desk?.profileId ?? '', { skip: !desk }).data;
  const [of, setOf] = useState<readonly string[] | 'choosing' | null>(null);
  if (!state || !desk || !profile) return null;
  const then: DeskNow = { desk, profile, state, linked: false };
  const madeOn = `${scene.number} ${scene.name}`;
  return (
    <>
      <Sheet title={`From ${madeOn}`} open={of === null} onClose={onClose}>
        <MenuRow title="Of one strip …" under="The strip, a processor, a kit of it" onPress={() => setOf('choosing')} />
        <MenuRow title="Of the whole desk …" under="A template or the patch" onPress={() => setOf([])} />
      </Sheet>
      <StripSheet
        title="Of which strip"
        now={then}
        open={of === 'choosing'}
        onClose={() => setOf((now) => (now === 'choosing' ? null : now))}
        onChoose={(strip) => setOf([strip])}
      />
      <SaveFrom
        profile={profile}
        state={state}
        madeOn={madeOn}
        strips={Array.isArray(of) ? (of as readonly string[]) : []}
        open={Array.isArray(of)}
        onClose={onClose}
      />
    </>
  );
}
