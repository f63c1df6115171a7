import type {
  NewProduction,
  NewVersion,
  ProductionEdit,
  ProductionView,
  VersionEdit,
} from '@old-echo/core/contracts/production';
import {
  CAPTURE_ROUTES,
  PRODUCTION_ROUTES,
  SCENE_ROUTES,
  VERSION_ROUTES,
} from '@old-echo/core/contracts/routes/scene-routes';
import type {
  Capture,
  ChangeCount,
  NamedScene,
  Replacement,
  SceneEdit,
  SceneFilter,
  SceneNeighbours,
  ScenePage,
  SceneView,
} from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';
import type { StripHistory } from '@old-echo/core/scenes/strip-history';

import { api, post, SCENE_TAGS, type UndoRequest } from './api';
import { ask } from './ask';

interface SceneListRequest extends SceneFilter {
  readonly production: string;
}

/** A scene that others are made from. */
export interface SceneWithState {
  readonly scene: SceneView;
  readonly state: State;
}

/** Scenes fetched at once. */
const PAGE = 100;

const scenesApi = api.injectEndpoints({
  endpoints: (build) => ({
    productions: build.query<ProductionView[], void>({
      query: () => ask(PRODUCTION_ROUTES.productions),
      providesTags: ['productions'],
    }),
    newProduction: build.mutation<{ id: string }, NewProduction>({
      query: (production) => ask(PRODUCTION_ROUTES.createProduction, { body: production }),
      invalidatesTags: SCENE_TAGS,
    }),
    editProduction: build.mutation<unknown, { id: string; edit: ProductionEdit }>({
      query: ({ id, edit }) => ask(PRODUCTION_ROUTES.editProduction, { params: { id }, body: edit }),
      invalidatesTags: SCENE_TAGS,
    }),
    newVersion: build.mutation<{ id: string }, { production: string; version: NewVersion }>({
      query: ({ production, version }) =>
        ask(PRODUCTION_ROUTES.createVersion, { params: { id: production }, body: version }),
      invalidatesTags: SCENE_TAGS,
    }),
    editVersion: build.mutation<unknown, { id: string; edit: VersionEdit }>({
      query: ({ id, edit }) => ask(VERSION_ROUTES.editVersion, { params: { id }, body: edit }),
      invalidatesTags: SCENE_TAGS,
    }),
    /** Puts productions, or the versions of one, in an order. */
    putInOrder: build.mutation<unknown, { of: string; ids: string[] }>({
      query: ({ of, ids }) => post(`/${of}/order`, { ids }),
      invalidatesTags: SCENE_TAGS,
    }),
    /** `what` is a path: `scenes/ID`, `versions/ID`, `productions/ID`. */
    bin: build.mutation<unknown, string>({
      query: (what) => post(`/${what}/bin`),
      invalidatesTags: [...SCENE_TAGS, 'desks', 'presets'],
    }),
    unbin: build.mutation<Partial<SceneView>, string>({
      query: (what) => post(`/${what}/unbin`),
      invalidatesTags: [...SCENE_TAGS, 'desks', 'presets'],
    }),
    /** For good. */
    remove: build.mutation<unknown, string>({
      query: (what) => ({ url: `/${what}`, method: 'DELETE' }),
      invalidatesTags: [...SCENE_TAGS, 'desks', 'restores', 'presets'],
    }),
    undo: build.mutation<unknown, UndoRequest>({
      query: (request) => request,
      invalidatesTags: [...SCENE_TAGS, 'desks', 'scopes', 'presets', 'venues', 'mixNotes', 'outboard', 'stems'],
    }),
    scenes: build.infiniteQuery<ScenePage, SceneListRequest, number | null>({
      infiniteQueryOptions: {
        initialPageParam: null,
        getNextPageParam: (page) => (page.more ? page.scenes.at(-1)?.place : undefined),
      },
      query: ({ queryArg: { production, ...filter }, pageParam }) =>
        ask(PRODUCTION_ROUTES.scenes, {
          params: { id: production },
          query: { ...filter, limit: PAGE, before: pageParam ?? undefined },
        }),
      providesTags: ['scenes'],
    }),
    uniqueName: build.query<{ name: string; taken: NamedScene | null }, { version: string; name: string }>({
      query: ({ version, name }) => ask(VERSION_ROUTES.uniqueName, { params: { id: version }, query: { name } }),
      providesTags: ['scenes'],
    }),
    stripHistory: build.query<StripHistory, { version: string; strip: string }>({
      query: ({ version, strip }) => ask(VERSION_ROUTES.stripHistory, { params: { id: version }, query: { strip } }),
      providesTags: ['scenes'],
    }),
    changeCount: build.query<ChangeCount, { from: string; to: string }>({
      query: ({ from, to }) => ask(SCENE_ROUTES.changeCount, { params: { id: from, other: to } }),
      keepUnusedDataFor: Infinity,
      providesTags: ['profiles'],
    }),
    copyScene: build.mutation<SceneView, { id: string; versionId: string }>({
      query: ({ id, versionId }) => ask(SCENE_ROUTES.copyScene, { params: { id }, body: { versionId } }),
      invalidatesTags: SCENE_TAGS,
    }),
    moveScene: build.mutation<SceneView, { id: string; versionId: string }>({
      query: ({ id, versionId }) => ask(SCENE_ROUTES.moveScene, { params: { id }, body: { versionId } }),
      invalidatesTags: SCENE_TAGS,
    }),
    replaceScene: build.mutation<SceneView, { desk: string } & Replacement>({
      query: ({ desk, ...scene }) => ask(CAPTURE_ROUTES.replaceScene, { params: { id: desk }, body: scene }),
      invalidatesTags: SCENE_TAGS,
    }),
    scene: build.query<SceneView, string>({
      query: (id) => ask(SCENE_ROUTES.scene, { params: { id } }),
      providesTags: ['scenes'],
    }),
    sceneNeighbours: build.query<SceneNeighbours, string>({
      query: (id) => ask(SCENE_ROUTES.neighbours, { params: { id } }),
      providesTags: ['scenes'],
    }),
    sceneState: build.query<State, string>({
      query: (id) => ask(SCENE_ROUTES.sceneState, { params: { id } }),
      keepUnusedDataFor: Infinity,
      providesTags: ['profiles'],
    }),
    editScene: build.mutation<SceneView, { id: string; edit: SceneEdit }>({
      query: ({ id, edit }) => ask(SCENE_ROUTES.editScene, { params: { id }, body: edit }),
      invalidatesTags: SCENE_TAGS,
    }),
    capture: build.mutation<SceneView, { desk: string; capture: Capture }>({
      query: ({ desk, capture }) => ask(CAPTURE_ROUTES.captureScene, { params: { id: desk }, body: capture }),
      invalidatesTags: SCENE_TAGS,
    }),
    /** Several scenes with their states, by id. */
    sources: build.query<Readonly<Record<string, SceneWithState>>, readonly string[]>({
      queryFn: async (ids, _api, _extra, baseQuery) => {
        const found: Record<string, SceneWithState> = {};
        for (const id of ids) {
          const [scene, state] = await Promise.all([
            baseQuery(ask(SCENE_ROUTES.scene, { params: { id } })),
            baseQuery(ask(SCENE_ROUTES.sceneState, { params: { id } })),
          ]);
          const error = scene.error ?? state.error;
          if (error) return { error };
          found[id] = { scene: scene.data, state: state.data } as SceneWithState;
        }
        return { data: found };
      },
      providesTags: ['scenes'],
    }),
  }),
});

export const {
  useProductionsQuery,
  useNewProductionMutation,
  useEditProductionMutation,
  useNewVersionMutation,
  useEditVersionMutation,
  usePutInOrderMutation,
  useBinMutation,
  useUnbinMutation,
  useRemoveMutation,
  useUndoMutation,
  useScenesInfiniteQuery,
  useUniqueNameQuery,
  useStripHistoryQuery,
  useChangeCountQuery,
  useCopySceneMutation,
  useMoveSceneMutation,
  useReplaceSceneMutation,
  useSceneQuery,
  useSceneNeighboursQuery,
  useLazySceneNeighboursQuery,
  useSceneStateQuery,
  useEditSceneMutation,
  useCaptureMutation,
  useSourcesQuery,
} = scenesApi;
