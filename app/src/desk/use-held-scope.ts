import { skipToken } from '@reduxjs/toolkit/query';
import { useMemo, useState } from 'react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import type { Profile } from '@old-echo/core/desk/profile';
import { plural } from '@old-echo/core/phrases/format-value';
import { compileScope } from '@old-echo/core/recall/compile-scope';
import type { Scope } from '@old-echo/core/recall/scope-rules';
import { sourcesInScope } from '@old-echo/core/recall/sources-in-scope';
import type { BaselineSource } from '@old-echo/core/scenes/baseline';

import { useTouchRecall } from '../components/restore-at-once';
import { useBaselineOriginsQuery } from '../store/desk-api';
import { useLazySceneNeighboursQuery, useSceneNeighboursQuery } from '../store/scenes-api';
import { useAppSelector } from '../store/store';

export interface HeldScope {
  readonly scope: Scope;
  /** The scenes to either side of the one that is heard; null at the end, undefined while that is not known. */
  readonly earlier: SceneView | null | undefined;
  readonly later: SceneView | null | undefined;
  /** Where what is held is from: "12 Chorus", "12 Chorus and 1 more"; or what is on its way. */
  readonly from: string;
  /** Takes what is held from another scene: at once in the studio, over its preview at a show. */
  readonly take: (scene: Touched['scene']) => void;
  /** The same from the scene to one side, where there is one. */
  readonly step: (way: 'earlier' | 'later') => Promise<void>;
}

interface Touched {
  readonly scene: Pick<SceneView, 'id' | 'number' | 'name'>;
  /** Of what the desk was meant to hold. */
  readonly revision: number | undefined;
  /** Nothing of it differed from the desk, for as long as that is meant to hold the same. */
  readonly isSame: boolean;
}

const sourcesLine = ([first, ...more]: readonly BaselineSource[]): string =>
  first ? `${sceneTitle(first)}${more.length > 0 ? ` and ${plural(more.length, 'other')}` : ''}` : 'No scene yet';

/** The scope that is held on a desk, with where one is among the scenes; undefined where none is. */
export function useHeldScope(desk: DeskView, profile: Profile): HeldScope | undefined {
  const scope = useAppSelector((root) => root.heldScopes[desk.id]);
  const touch = useTouchRecall(desk);
  // What was touched last: the next step goes on from there, also where nothing of it differed.
  const [touched, setTouched] = useState<Touched | null>(null);
  const revision = desk.baseline?.revision;
  const origins = useBaselineOriginsQuery(
    scope && revision !== undefined ? { desk: desk.id, revision } : skipToken,
  ).data;
  const sources = useMemo(
    () => (scope && origins ? sourcesInScope(origins, compileScope(profile, scope)) : []),
    [scope, origins, profile],
  );
  const last = touched?.isSame && touched.revision !== revision ? null : touched;
  const at = last?.scene.id ?? (origins && (sources[0]?.sceneId ?? desk.scene?.id));
  const neighbours = useSceneNeighboursQuery(scope && at ? at : skipToken).currentData;
  // Those of the next step as well: who steps fast does not wait for them.
  useSceneNeighboursQuery(neighbours?.earlier?.id ?? skipToken);
  useSceneNeighboursQuery(neighbours?.later?.id ?? skipToken);
  const [lookUp] = useLazySceneNeighboursQuery();
  if (!scope) return undefined;
  const take = (scene: Touched['scene']) => {
    const isAtOnce = touch(sceneRecall(desk.id, scene.id, scope), {
      said: (title) => `Only what is held, from ${title}`,
      onEnd: (refusal) => {
        const isSame = refusal?.code === 'no-difference';
        setTouched((now) => (now?.scene.id === scene.id ? (isSame ? { scene, revision, isSame } : null) : now));
      },
    });
    if (isAtOnce) setTouched({ scene, revision, isSame: false });
  };
  return {
    scope,
    earlier: neighbours?.earlier,
    later: neighbours?.later,
    from: last ? `${sceneTitle(last.scene)}${last.isSame ? ': the same' : ' …'}` : sourcesLine(sources),
    take,
    step: async (way) => {
      // Who steps before it is known what is there is not left standing.
      const scene = (neighbours ?? (at ? (await lookUp(at, true)).data : undefined))?.[way];
      if (scene) take(scene);
    },
  };
}
