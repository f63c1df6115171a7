import type {
  NewProduction,
  NewVersion,
  ProductionEdit,
  ProductionView,
  VersionEdit,
} from '@old-echo/core/contracts/production';
import type {
  Capture,
  ChangeCount,
  NamedScene,
  Replacement,
  SceneEdit,
  SceneFilter,
  ScenePage,
  SceneView,
} from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';
import type { StripHistory } from '@old-echo/core/scenes/strip-history';

import { api, post, SCENE_TAGS, type UndoRequest } from './api';

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
    productions: build.query<ProductionView[], void>({ query: () => '/productions', providesTags: ['productions'] }),
    newProduction: build.mutation<{ id: string }, NewProduction>({
      query: (production) => post('/productions', production),
      invalidatesTags: SCENE_TAGS,
    }),
    editProduction: build.mutation<unknown, { id: string; edit: ProductionEdit }>({
      query: ({ id, edit }) => ({ url: `/productions/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: SCENE_TAGS,
    }),
    newVersion: build.mutation<{ id: string }, { production: string; version: NewVersion }>({
      query: ({ production, version }) => post(`/productions/${production}/versions`, version),
      invalidatesTags: SCENE_TAGS,
    }),
    editVersion: build.mutation<unknown, { id: string; edit: VersionEdit }>({
      query: ({ id, edit }) => ({ url: `/versions/${id}`, method: 'PATCH', body: edit }),
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
      query: ({ url, body }) => post(url, body),
      invalidatesTags: [...SCENE_TAGS, 'desks', 'scopes', 'presets', 'venues', 'mixNotes', 'outboard', 'stems'],
    }),
    scenes: build.infiniteQuery<ScenePage, SceneListRequest, number | null>({
      infiniteQueryOptions: {
        initialPageParam: null,
        getNextPageParam: (page) => (page.more ? page.scenes.at(-1)?.place : undefined),
      },
      query: ({ queryArg: { production, ...filter }, pageParam }) => ({
        url: `/productions/${production}/scenes`,
        params: { ...filter, limit: PAGE, before: pageParam ?? undefined },
      }),
      providesTags: ['scenes'],
    }),
    uniqueName: build.query<{ name: string; taken: NamedScene | null }, { version: string; name: string }>({
      query: ({ version, name }) => ({ url: `/versions/${version}/unique-name`, params: { name } }),
      providesTags: ['scenes'],
    }),
    stripHistory: build.query<StripHistory, { version: string; strip: string }>({
      query: ({ version, strip }) => ({ url: `/versions/${version}/strip-history`, params: { strip } }),
      providesTags: ['scenes'],
    }),
    changeCount: build.query<ChangeCount, { from: string; to: string }>({
      query: ({ from, to }) => `/scenes/${from}/change-count/${to}`,
      keepUnusedDataFor: Infinity,
    }),
    copyScene: build.mutation<SceneView, { id: string; versionId: string }>({
      query: ({ id, versionId }) => post(`/scenes/${id}/copy`, { versionId }),
      invalidatesTags: SCENE_TAGS,
    }),
    moveScene: build.mutation<SceneView, { id: string; versionId: string }>({
      query: ({ id, versionId }) => post(`/scenes/${id}/move`, { versionId }),
      invalidatesTags: SCENE_TAGS,
    }),
    replaceScene: build.mutation<SceneView, { desk: string } & Replacement>({
      query: ({ desk, ...scene }) => post(`/desks/${desk}/scene-replacements`, scene),
      invalidatesTags: SCENE_TAGS,
    }),
    scene: build.query<SceneView, string>({ query: (id) => `/scenes/${id}`, providesTags: ['scenes'] }),
    sceneState: build.query<State, string>({ query: (id) => `/scenes/${id}/state`, keepUnusedDataFor: Infinity }),
    editScene: build.mutation<SceneView, { id: string; edit: SceneEdit }>({
      query: ({ id, edit }) => ({ url: `/scenes/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: SCENE_TAGS,
    }),
    capture: build.mutation<SceneView, { desk: string; capture: Capture }>({
      query: ({ desk, capture }) => post(`/desks/${desk}/captures`, capture),
      invalidatesTags: SCENE_TAGS,
    }),
    /** Several scenes with their states, by id. */
    sources: build.query<Readonly<Record<string, SceneWithState>>, readonly string[]>({
      queryFn: async (ids, _api, _extra, ask) => {
        const found: Record<string, SceneWithState> = {};
        for (const id of ids) {
          const [scene, state] = await Promise.all([ask(`/scenes/${id}`), ask(`/scenes/${id}/state`)]);
          const error = scene.error ?? state.error;
          if (error) return { error };
          found[id] = { scene: scene.data as SceneView, state: state.data as State };
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
  useSceneStateQuery,
  useEditSceneMutation,
  useCaptureMutation,
  useSourcesQuery,
} = scenesApi;
