import { useCallback, useDeferredValue, useMemo } from 'react';

import type { ProductionView } from '@old-echo/core/contracts/production';
import type { SceneFilter, SceneView } from '@old-echo/core/contracts/scene';

import { type ApiFault, toApiFault } from '../store/api';
import { isNarrowed } from '../store/scene-list-slice';
import { useScenesInfiniteQuery } from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import { groupAutosaves, type SceneListEntry } from './group-autosaves';

export interface SceneList {
  readonly filter: SceneFilter;
  /** Whether a search or a filter is at work; kept scenes are left out then. */
  readonly narrowed: boolean;
  readonly entries: readonly SceneListEntry[];
  readonly total: number;
  readonly loading: boolean;
  readonly fault: ApiFault | undefined;
  readonly again: () => void;
  /** Fetches the next page, where there is one. */
  readonly more: () => void;
  /** The scene `by` rows below another (above, where it is negative), or undefined. */
  readonly neighbour: (sceneId: string, by: number) => SceneView | undefined;
}

/** The scenes of a production that the filters let through, page by page. */
export function useSceneList(production: ProductionView): SceneList {
  const { filter, unfolded } = useAppSelector((root) => root.mixes);
  const narrowed = isNarrowed(filter);
  const asked = useDeferredValue(filter);
  const answer = useScenesInfiniteQuery({ production: production.id, ...asked, ownOnly: isNarrowed(asked) });
  const { data, error, isFetching, hasNextPage, fetchNextPage, refetch } = answer;
  const scenes = useMemo(() => data?.pages.flatMap((page) => page.scenes) ?? [], [data]);
  const entries = useMemo(() => groupAutosaves(scenes, new Set(unfolded)), [scenes, unfolded]);
  const shown = useMemo(() => entries.flatMap((entry) => (entry.kind === 'scene' ? [entry.scene] : [])), [entries]);
  const more = useCallback(() => {
    if (hasNextPage && !isFetching) void fetchNextPage();
  }, [hasNextPage, isFetching, fetchNextPage]);
  const neighbour = useCallback(
    (sceneId: string, by: number) => {
      const at = shown.findIndex((scene) => scene.id === sceneId);
      return at < 0 ? shown[0] : shown[at + by];
    },
    [shown],
  );
  return {
    filter,
    narrowed,
    entries,
    total: data?.pages[0]?.total ?? 0,
    loading: !data,
    fault: error && toApiFault(error),
    again: () => void refetch(),
    more,
    neighbour,
  };
}
