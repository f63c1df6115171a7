import { skipToken } from '@reduxjs/toolkit/query';

import type { Recall } from '@old-echo/core/contracts/restore';

import { useSceneQuery } from '../../store/api';
import { useAudition, type Audition } from '../audition/use-audition';
import type { Plan } from './use-plan';

/** Listening to the desk as it is and as it would be; undefined where there is no sound of it. */
export function usePreviewAudition(plan: Plan | undefined, recall: Recall | undefined): Audition | undefined {
  const scene = useSceneQuery(recall?.sceneId ?? skipToken).data;
  const productionId = scene?.productionId ?? plan?.now.desk.scene?.productionId;
  const side = plan && { profile: plan.now.profile, state: plan.now.state, deskId: plan.now.desk.id };
  const audition = useAudition(productionId, side, side && { ...side, recall });
  return audition?.stems ? audition : undefined;
}
