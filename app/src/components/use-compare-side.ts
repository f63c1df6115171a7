import { skipToken } from '@reduxjs/toolkit/query';

import { sceneTitle } from '@old-echo/core/contracts/scene';
import type { Profile } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';

import { type ApiFault, faultIn } from '../store/api';
import { useDesksQuery, useProfileQuery } from '../store/desk-api';
import { useProductionsQuery, useSceneQuery, useSceneStateQuery } from '../store/scenes-api';
import { useLiveDesk } from '../store/use-live-desk';
import { heardAt } from './heard-at';
import { LIVE_DESK, type StateRef } from './links/compare-link';

export interface CompareSide {
  readonly of: StateRef;
  readonly title: string;
  readonly under: string;
  readonly state: State | undefined;
  readonly profile: Profile | undefined;
  readonly productionId: string | undefined;
  readonly versionId: string | undefined;
  /** What comes back of it unless something else is asked for. */
  readonly scope: Scope;
  /** The desk, where it is what stands on it now. */
  readonly deskId: string | undefined;
  readonly fault: Pick<ApiFault, 'message' | 'advice'> | undefined;
}

/** One side of a comparison with everything that is known of it; undefined where there is none. */
export function useSide(of: StateRef | undefined, deskId?: string | null): CompareSide | undefined {
  const now = useLiveDesk(deskId ?? undefined);
  const id = of === undefined || of === LIVE_DESK ? skipToken : of;
  const scene = useSceneQuery(id);
  const state = useSceneStateQuery(id);
  const { data: productions } = useProductionsQuery();
  const { data: desks } = useDesksQuery();
  const production = productions?.find((p) => p.id === scene.data?.productionId);
  const profileId = desks?.find((desk) => desk.id === production?.deskId)?.profileId;
  const profile = useProfileQuery(profileId ?? skipToken).data;
  if (of === undefined) return undefined;
  if (of === LIVE_DESK)
    return {
      of,
      title: !now || now.linked ? 'On the desk now' : `As last read ${heardAt(now.desk.heardAt)}`,
      under: now?.desk.name ?? '',
      state: now?.known ? now.state : undefined,
      profile: now?.profile,
      productionId: now?.desk.scene?.productionId,
      versionId: now?.desk.scene?.versionId,
      scope: ALL_EXCEPT_GLOBALS,
      deskId: now?.desk.id,
      fault:
        now && !now.known
          ? {
              message: `${now.desk.name} has not been read yet`,
              advice: 'It can be compared once it is connected.',
            }
          : undefined,
    };
  const { data } = scene;
  const version = production?.versions.find((v) => v.id === data?.versionId);
  return {
    of,
    title: data ? sceneTitle(data) : '',
    under: [version?.name, production?.name].filter(Boolean).join(' · '),
    state: state.currentData,
    profile,
    productionId: data?.productionId,
    versionId: data?.versionId,
    scope: data?.scope ?? ALL_EXCEPT_GLOBALS,
    deskId: undefined,
    fault: faultIn(scene.error ?? state.error),
  };
}
