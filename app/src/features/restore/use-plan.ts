import { useDeferredValue, useMemo } from 'react';

import type { SceneView } from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';
import { preview, type Preview } from '@old-echo/core/preview/preview';
import type { Scope } from '@old-echo/core/scope/rules';

import { useDesk, type DeskNow } from '../../live/use-desk';
import { useSceneQuery, useSceneStateQuery } from '../../store/api';

export interface Plan {
  readonly now: DeskNow;
  readonly scene: SceneView;
  readonly target: State;
  readonly preview: Preview;
}

/**
 * What restoring a scene would do to the desk as it is. Worked out here from the live values, so it follows both the
 * scope and the desk at once; the server works it out again before anything is sent.
 */
export function usePlan(sceneId: string, scope: Scope | undefined): Plan | undefined {
  const now = useDesk();
  const scene = useSceneQuery(sceneId).data;
  const target = useSceneStateQuery(sceneId).data;
  const state = useDeferredValue(now?.state);
  const { profile, desk } = now ?? {};
  const safes = desk?.safes;
  const plan = useMemo(
    () =>
      profile && safes && state && target && scope ? preview({ profile, now: state, target, scope, safes }) : undefined,
    [profile, safes, state, target, scope],
  );
  return now && scene && target && plan ? { now, scene, target, preview: plan } : undefined;
}
