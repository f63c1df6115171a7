import { skipToken } from '@reduxjs/toolkit/query';

import type { Recall } from '@old-echo/core/contracts/restore';

import { type Audition, useAudition } from '../components/audition/use-audition';
import { useProductionsQuery, useSceneQuery } from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import type { Plan } from './use-recall-plan';

/** Listening to the desk as it is and as it would be; undefined where there is no sound of it. */
export function usePreviewAudition(plan: Plan | undefined, recall: Recall | undefined): Audition | undefined {
  const scene = useSceneQuery(recall?.sceneId ?? skipToken).data;
  // Settings for a venue, a preset: heard in the song or show that one is in, else in that of the desk.
  const inside = useAppSelector((root) => root.place.productionId);
  const { data: productions } = useProductionsQuery();
  const here = productions?.find(({ id, deskId }) => id === inside && deskId === plan?.now.desk.id)?.id;
  const productionId = scene?.productionId ?? here ?? plan?.now.desk.scene?.productionId;
  const side = plan && { profile: plan.now.profile, state: plan.now.state, deskId: plan.now.desk.id };
  const audition = useAudition(productionId, side, side && { ...side, recall });
  return audition?.stems ? audition : undefined;
}
