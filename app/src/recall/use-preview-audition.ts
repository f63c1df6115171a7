import { skipToken } from '@reduxjs/toolkit/query';

import type { Recall } from '@old-echo/core/contracts/restore';

import { type Audition, useAudition } from '../components/audition/use-audition';
import { useHeardProduction } from '../components/audition/use-desk-audition';
import { useSceneQuery } from '../store/scenes-api';
import type { Plan } from './use-recall-plan';

/** Listening to the desk as it is and as it would be; undefined where there is no sound of it. */
export function usePreviewAudition(plan: Plan | undefined, recall: Recall | undefined): Audition | undefined {
  const scene = useSceneQuery(recall?.sceneId ?? skipToken).data;
  // Settings for a venue, a preset, are of no song by themselves.
  const here = useHeardProduction(plan?.now);
  const productionId = scene?.productionId ?? here;
  const side = plan && { profile: plan.now.profile, state: plan.now.state, deskId: plan.now.desk.id };
  const audition = useAudition(productionId, side, side && { ...side, recall });
  return audition?.stems ? audition : undefined;
}
