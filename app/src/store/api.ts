import { createApi, fetchBaseQuery, type BaseQueryFn, type FetchArgs } from '@reduxjs/toolkit/query/react';

import type {
  NewEdition,
  NewStagedSettings,
  NewPreset,
  PresetOrigin,
  StagedSettings,
  PresetEdit,
  PresetView,
  PresetDetail,
} from '@old-echo/core/contracts/preset';
import type {
  StartConversion,
  ConversionView,
  ConversionPreview,
  ConversionRequest,
} from '@old-echo/core/contracts/conversion';
import type { NewOutboard, OutboardEdit, OutboardView } from '@old-echo/core/contracts/outboard';
import type { HallView, NewParts, Parts } from '@old-echo/core/contracts/part';
import type { CombinationView, SaveCombination, NewCombination } from '@old-echo/core/contracts/combination';
import type { Recipe } from '@old-echo/core/combine/recipe';
import type { DeskEdit, DeskView } from '@old-echo/core/contracts/desk';
import type { FileView, ImportRequest } from '@old-echo/core/contracts/file-transfer';
import type { ParsedInputList } from '@old-echo/core/files/input-list';
import type { FaultCode } from '@old-echo/core/fault/fault';
import { fromProblem } from '@old-echo/core/contracts/problem';
import type {
  CancelAction,
  RestorePage,
  RestoreRequest,
  RestoreView,
  Unconfirmed,
} from '@old-echo/core/contracts/restore';
import type { RipplePreview, RippleRequest, RippleView } from '@old-echo/core/contracts/ripple';
import type { FollowerView, CatchUpResult } from '@old-echo/core/contracts/follower';
import type { NewWish, WishEdit, WishView } from '@old-echo/core/contracts/mix-note';
import type { NamedScope, NewScope } from '@old-echo/core/contracts/scope';
import type { TakenOff } from '@old-echo/core/contracts/taken-off';
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
import type { BlindTestView, NewBlindTest, RenderRequest, RenderView, StemView } from '@old-echo/core/contracts/sound';
import type { RenderAnalysis } from '@old-echo/core/sound/analyse-render';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import type { Point } from '@old-echo/core/recall/caution';
import type { Journal } from '@old-echo/core/recall/recall-target';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import type { StripHistory } from '@old-echo/core/scenes/strip-history';

/** What went wrong, in words for the screen. */
export interface ApiFault {
  readonly code: FaultCode;
  readonly message: string;
  readonly advice: string;
}

const raw = fetchBaseQuery({
  baseUrl: '/api',
  responseHandler: async (response) => JSON.parse(await response.text()) as unknown,
});

/** The one place where a problem from the server becomes words on the screen. */
const query: BaseQueryFn<string | FetchArgs, unknown, ApiFault> = async (args, api, extra) => {
  const answer = await raw(args, api, extra);
  if (!answer.error) return { data: answer.data };
  const { code, message, advice } = fromProblem('data' in answer.error ? answer.error.data : undefined);
  return { error: { code, message, advice } };
};

interface SceneListRequest extends SceneFilter {
  readonly production: string;
}

/** A scene that others are made from. */
export interface SceneWithState {
  readonly scene: SceneView;
  readonly state: State;
}

export interface Storage {
  readonly scenes: number;
  readonly stripStates: number;
  readonly bytes: number;
  readonly orphans: number;
  readonly incomplete: readonly number[];
  readonly spoiled: number;
}

/** How something that was just done is taken back: what to send where. */
export interface UndoRequest {
  readonly url: string;
  readonly body?: object;
}

/** How what was removed with one touch is given back. */
export const givenBack = ({ takenOff }: TakenOff): UndoRequest => ({ url: `/taken-off/${takenOff}/back` });

/** Scenes fetched at once. */
const PAGE = 100;

/** What scenes and productions say about one another changes together. */
const SCENE_TAGS = ['scenes', 'productions'] as const;
const post = (url: string, body: object = {}) => ({ url, method: 'POST', body });

/** Everything the server holds. States of scenes never change, so they are kept for as long as the page is open. */
export const api = createApi({
  baseQuery: query,
  tagTypes: [
    'desks',
    'productions',
    'scenes',
    'restores',
    'scopes',
    'stems',
    'blindTests',
    'combinations',
    'wishes',
    'presets',
    'origins',
    'parts',
    'halls',
    'outboard',
  ],
  endpoints: (build) => ({
    desks: build.query<DeskView[], void>({ query: () => '/desks', providesTags: ['desks'] }),
    editDesk: build.mutation<DeskView, { id: string; edit: DeskEdit }>({
      query: ({ id, edit }) => ({ url: `/desks/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: ['desks'],
    }),
    /** What a desk is meant to hold, by its revision and, where it is a scene whole, by that. */
    baseline: build.query<State, { desk: string; revision: number; scene: string | undefined }>({
      query: ({ desk }) => `/desks/${desk}/baseline`,
    }),
    profile: build.query<Profile, string>({
      query: (id) => `/profiles/${id}`,
      transformResponse: parseProfile,
      keepUnusedDataFor: Infinity,
    }),
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
    bringBack: build.mutation<Partial<SceneView>, string>({
      query: (what) => post(`/${what}/back`),
      invalidatesTags: [...SCENE_TAGS, 'desks', 'presets'],
    }),
    /** For good. */
    remove: build.mutation<unknown, string>({
      query: (what) => ({ url: `/${what}`, method: 'DELETE' }),
      invalidatesTags: [...SCENE_TAGS, 'desks', 'restores', 'presets'],
    }),
    undo: build.mutation<unknown, UndoRequest>({
      query: ({ url, body }) => post(url, body),
      invalidatesTags: [...SCENE_TAGS, 'desks', 'scopes', 'presets', 'halls', 'wishes', 'outboard', 'stems'],
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
    freeName: build.query<{ name: string; taken: NamedScene | null }, { version: string; name: string }>({
      query: ({ version, name }) => ({ url: `/versions/${version}/free-name`, params: { name } }),
      providesTags: ['scenes'],
    }),
    past: build.query<StripHistory, { version: string; strip: string }>({
      query: ({ version, strip }) => ({ url: `/versions/${version}/past`, params: { strip } }),
      providesTags: ['scenes'],
    }),
    distance: build.query<ChangeCount, { from: string; to: string }>({
      query: ({ from, to }) => `/scenes/${from}/distance/${to}`,
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
      query: ({ desk, ...scene }) => post(`/desks/${desk}/replacements`, scene),
      invalidatesTags: SCENE_TAGS,
    }),
    pinScenes: build.mutation<DeskView, { desk: string; ids: string[] }>({
      query: ({ desk, ids }) => ({ url: `/desks/${desk}/pins`, method: 'PUT', body: { ids } }),
      invalidatesTags: ['desks'],
    }),
    storage: build.query<Storage, void>({ query: () => '/storage', keepUnusedDataFor: 0 }),
    scene: build.query<SceneView, string>({ query: (id) => `/scenes/${id}`, providesTags: ['scenes'] }),
    sceneState: build.query<State, string>({ query: (id) => `/scenes/${id}/state`, keepUnusedDataFor: Infinity }),
    editScene: build.mutation<SceneView, { id: string; edit: SceneEdit }>({
      query: ({ id, edit }) => ({ url: `/scenes/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: SCENE_TAGS,
    }),
    moveSettings: build.mutation<{ unconfirmed: Unconfirmed[] }, { desk: string; settings: SettingsByAddress }>({
      query: ({ desk, settings }) => post(`/desks/${desk}/settings`, { settings }),
    }),
    capture: build.mutation<SceneView, { desk: string; capture: Capture }>({
      query: ({ desk, capture }) => post(`/desks/${desk}/captures`, capture),
      invalidatesTags: SCENE_TAGS,
    }),
    startRestore: build.mutation<RestoreView, { desk: string; request: RestoreRequest }>({
      query: ({ desk, request }) => post(`/desks/${desk}/restores`, request),
      invalidatesTags: [...SCENE_TAGS, 'restores'],
    }),
    /** What was looked at and accepted when one scene followed another before. */
    accepted: build.query<Point[], { desk: string; from: string; to: string }>({
      query: ({ desk, from, to }) => ({ url: `/desks/${desk}/accepted`, params: { from, to } }),
      providesTags: ['restores'],
    }),
    forgetAccepted: build.mutation<unknown, { desk: string; from: string; to: string }>({
      query: ({ desk, from, to }) => ({ url: `/desks/${desk}/accepted`, method: 'DELETE', params: { from, to } }),
      invalidatesTags: ['restores'],
    }),
    flip: build.mutation<RestoreView, { desk: string; by: string }>({
      query: ({ desk, by }) => post(`/desks/${desk}/flips`, { by }),
      invalidatesTags: [...SCENE_TAGS, 'restores'],
    }),
    cancelRestore: build.mutation<unknown, { id: string; how: CancelAction }>({
      query: ({ id, how }) => post(`/restores/${id}/cancel`, { how }),
    }),
    journal: build.query<Journal, string>({ query: (id) => `/restores/${id}/journal`, keepUnusedDataFor: Infinity }),
    /** The log of a desk's restores, the newest first. */
    log: build.infiniteQuery<RestorePage, string, string | null>({
      infiniteQueryOptions: { initialPageParam: null, getNextPageParam: (page) => page.before ?? undefined },
      query: ({ queryArg, pageParam }) => ({
        url: `/desks/${queryArg}/restores`,
        params: { before: pageParam ?? undefined },
      }),
      providesTags: ['restores'],
    }),
    scopes: build.query<NamedScope[], string>({ query: (profile) => `/scopes/${profile}`, providesTags: ['scopes'] }),
    saveScope: build.mutation<NamedScope, NewScope>({
      query: (scope) => post('/scopes', scope),
      invalidatesTags: ['scopes'],
    }),
    removeScope: build.mutation<TakenOff, string>({
      query: (id) => ({ url: `/scopes/${id}`, method: 'DELETE' }),
      invalidatesTags: ['scopes'],
    }),
    ripplePreview: build.query<RipplePreview[], { desk: string; request: RippleRequest }>({
      query: ({ desk, request }) => post(`/desks/${desk}/ripple-previews`, request),
      keepUnusedDataFor: 0,
      providesTags: ['scenes'],
    }),
    ripple: build.mutation<RippleView, { desk: string; request: RippleRequest }>({
      query: ({ desk, request }) => post(`/desks/${desk}/ripples`, request),
      invalidatesTags: [...SCENE_TAGS, 'desks'],
    }),
    /** Scenes in the making in a production. */
    combinations: build.query<CombinationView[], string>({
      query: (production) => ({ url: '/combinations', params: { production } }),
      providesTags: ['combinations', 'scenes'],
    }),
    combination: build.query<CombinationView, string>({
      query: (id) => `/combinations/${id}`,
      providesTags: ['combinations'],
    }),
    beginCombination: build.mutation<CombinationView, NewCombination>({
      query: (combination) => post('/combinations', combination),
      invalidatesTags: ['combinations'],
    }),
    pickCells: build.mutation<CombinationView, { id: string; picks: Recipe['picks']; revision: number }>({
      query: ({ id, ...body }) => ({ url: `/combinations/${id}`, method: 'PATCH', body }),
      onQueryStarted: async ({ id }, { dispatch, queryFulfilled }) => {
        const { data } = await queryFulfilled.catch(() => ({ data: undefined }));
        if (data) void dispatch(api.util.upsertQueryData('combination', id, data));
        else dispatch(api.util.invalidateTags(['combinations']));
      },
    }),
    giveUpCombination: build.mutation<unknown, string>({
      query: (id) => ({ url: `/combinations/${id}`, method: 'DELETE' }),
      invalidatesTags: ['combinations'],
    }),
    keepCombination: build.mutation<SceneView, { id: string; keep: SaveCombination }>({
      query: ({ id, keep }) => post(`/combinations/${id}/keep`, keep),
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
    cellOrigins: build.query<Recipe['picks'], string>({
      query: (id) => `/scenes/${id}/origins`,
      keepUnusedDataFor: Infinity,
    }),
    /** Versions of a production that follow another and are behind it. */
    followers: build.query<FollowerView[], string>({
      query: (production) => `/productions/${production}/followers`,
      providesTags: ['scenes', 'productions'],
    }),
    takeOver: build.mutation<CatchUpResult[], { production: string; versions: string[] }>({
      query: ({ production, versions }) => post(`/productions/${production}/followers`, { versions }),
      invalidatesTags: [...SCENE_TAGS, 'combinations'],
    }),
    wishes: build.query<WishView[], string>({
      query: (version) => ({ url: '/wishes', params: { version } }),
      providesTags: ['wishes', 'scenes'],
    }),
    newWish: build.mutation<WishView, NewWish>({ query: (wish) => post('/wishes', wish), invalidatesTags: ['wishes'] }),
    editWish: build.mutation<WishView, { id: string; edit: WishEdit }>({
      query: ({ id, edit }) => ({ url: `/wishes/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: ['wishes'],
    }),
    removeWish: build.mutation<TakenOff, string>({
      query: (id) => ({ url: `/wishes/${id}`, method: 'DELETE' }),
      invalidatesTags: ['wishes'],
    }),
    /** The library, without what is in it. */
    presets: build.query<PresetView[], void>({ query: () => '/presets', providesTags: ['presets'] }),
    preset: build.query<PresetDetail, string>({ query: (id) => `/presets/${id}`, providesTags: ['presets'] }),
    newPreset: build.mutation<PresetView, NewPreset>({
      query: (preset) => post('/presets', preset),
      invalidatesTags: ['presets'],
    }),
    editPreset: build.mutation<PresetView, { id: string; edit: PresetEdit }>({
      query: ({ id, edit }) => ({ url: `/presets/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: ['presets'],
    }),
    newEdition: build.mutation<PresetView, { id: string; edition: NewEdition }>({
      query: ({ id, edition }) => post(`/presets/${id}/editions`, edition),
      invalidatesTags: ['presets', 'origins'],
    }),
    newPlacement: build.mutation<StagedSettings, NewStagedSettings>({
      query: (placement) => post('/placements', placement),
    }),
    placement: build.query<StagedSettings, string>({
      query: (id) => `/placements/${id}`,
      keepUnusedDataFor: Infinity,
    }),
    /** Strips of a desk that came from presets. */
    origins: build.query<PresetOrigin[], string>({
      query: (desk) => `/placements/on/${desk}`,
      providesTags: ['origins', 'restores'],
    }),
    forgetOrigin: build.mutation<unknown, { desk: string; strip: string; preset: string }>({
      query: ({ desk, strip, preset }) => ({ url: `/placements/on/${desk}/${strip}/${preset}`, method: 'DELETE' }),
      invalidatesTags: ['origins'],
    }),
    parts: build.query<Parts, string>({
      query: (production) => `/productions/${production}/parts`,
      providesTags: ['parts'],
    }),
    setParts: build.mutation<Parts, { production: string } & NewParts>({
      query: ({ production, ...body }) => ({ url: `/productions/${production}/parts`, method: 'PUT', body }),
      invalidatesTags: ['parts'],
    }),
    halls: build.query<HallView[], string>({
      query: (production) => `/productions/${production}/halls`,
      providesTags: ['halls'],
    }),
    newHall: build.mutation<HallView[], { production: string; name: string }>({
      query: ({ production, name }) => post(`/productions/${production}/halls`, { name }),
      invalidatesTags: ['halls'],
    }),
    takeHall: build.mutation<HallView[], { production: string; id: string }>({
      query: ({ production, id }) => post(`/productions/${production}/halls/${id}/take`),
      invalidatesTags: ['halls'],
    }),
    removeHall: build.mutation<TakenOff, { production: string; id: string }>({
      query: ({ production, id }) => ({ url: `/productions/${production}/halls/${id}`, method: 'DELETE' }),
      invalidatesTags: ['halls'],
    }),
    outboard: build.query<OutboardView[], string>({
      query: (production) => `/productions/${production}/outboard`,
      providesTags: ['outboard'],
    }),
    newOutboard: build.mutation<OutboardView[], { production: string; device: NewOutboard }>({
      query: ({ production, device }) => post(`/productions/${production}/outboard`, device),
      invalidatesTags: ['outboard'],
    }),
    editOutboard: build.mutation<OutboardView[], { production: string; id: string; edit: OutboardEdit }>({
      query: ({ production, id, edit }) => ({
        url: `/productions/${production}/outboard/${id}`,
        method: 'PATCH',
        body: edit,
      }),
      invalidatesTags: ['outboard'],
    }),
    photograph: build.mutation<OutboardView[], { production: string; id: string; photo: Blob }>({
      query: ({ production, id, photo }) => ({
        url: `/productions/${production}/outboard/${id}/photo`,
        method: 'PUT',
        body: photo,
        headers: { 'content-type': photo.type || 'application/octet-stream' },
      }),
      invalidatesTags: ['outboard'],
    }),
    removeOutboard: build.mutation<TakenOff, { production: string; id: string }>({
      query: ({ production, id }) => ({ url: `/productions/${production}/outboard/${id}`, method: 'DELETE' }),
      invalidatesTags: ['outboard'],
    }),
    carryPreview: build.query<ConversionPreview, ConversionRequest>({
      query: (request) => post('/carryings/preview', request),
      keepUnusedDataFor: 0,
      providesTags: ['scenes', 'parts'],
    }),
    beginCarry: build.mutation<ConversionView, StartConversion>({ query: (request) => post('/carryings', request) }),
    carrying: build.query<ConversionView, string>({ query: (id) => `/carryings/${id}`, keepUnusedDataFor: 0 }),
    cancelCarry: build.mutation<ConversionView, string>({ query: (id) => post(`/carryings/${id}/cancel`) }),
    lastFiles: build.query<Pick<FileView, 'id' | 'name' | 'bytes' | 'status' | 'madeAt'>[], void>({
      query: () => '/files',
      keepUnusedDataFor: 0,
    }),
    file: build.query<FileView, string>({ query: (id) => `/files/${id}`, keepUnusedDataFor: 0 }),
    fileProgress: build.query<Pick<FileView, 'id' | 'status' | 'done' | 'total' | 'why' | 'href'>, string>({
      query: (id) => `/files/${id}/progress`,
      keepUnusedDataFor: 0,
    }),
    importFile: build.mutation<unknown, { id: string; request: ImportRequest }>({
      query: ({ id, request }) => post(`/files/${id}/import`, request),
    }),
    cancelImport: build.mutation<unknown, string>({ query: (id) => post(`/files/${id}/cancel`) }),
    readStripList: build.mutation<ParsedInputList, { production: string; text: string }>({
      query: ({ production, text }) => ({
        url: `/sheets/strips/${production}`,
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/csv' },
      }),
    }),
    stems: build.query<StemView[], string>({
      query: (production) => `/productions/${production}/stems`,
      providesTags: ['stems'],
    }),
    detachStem: build.mutation<TakenOff, { production: string; strip: string }>({
      query: ({ production, strip }) => ({ url: `/productions/${production}/stems/${strip}`, method: 'DELETE' }),
      invalidatesTags: ['stems'],
    }),
    beginMix: build.mutation<RenderView, RenderRequest>({ query: (request) => post('/renders', request) }),
    mix: build.query<RenderView, string>({ query: (id) => `/renders/${id}?wait=400`, keepUnusedDataFor: 0 }),
    analysis: build.query<RenderAnalysis, string>({ query: (id) => `/renders/${id}/analysis` }),
    cancelMix: build.mutation<RenderView, string>({ query: (id) => post(`/renders/${id}/cancel`) }),
    blindTests: build.query<BlindTestView[], { a: string; b: string }>({
      query: ({ a, b }) => `/blind-tests/${a}/${b}`,
      providesTags: ['blindTests'],
    }),
    keepBlindTest: build.mutation<BlindTestView[], NewBlindTest>({
      query: (test) => post('/blind-tests', test),
      invalidatesTags: ['blindTests'],
    }),
    restore: build.query<RestoreView, string>({ query: (id) => `/restores/${id}`, providesTags: ['restores'] }),
  }),
});

export const {
  useBaselineQuery,
  useDesksQuery,
  useEditDeskMutation,
  useProfileQuery,
  useProductionsQuery,
  useNewProductionMutation,
  useEditProductionMutation,
  useNewVersionMutation,
  useEditVersionMutation,
  usePutInOrderMutation,
  useBinMutation,
  useBringBackMutation,
  useRemoveMutation,
  useUndoMutation,
  useScenesInfiniteQuery,
  useFreeNameQuery,
  usePastQuery,
  useDistanceQuery,
  useCopySceneMutation,
  useMoveSceneMutation,
  useReplaceSceneMutation,
  usePinScenesMutation,
  useStorageQuery,
  useSceneQuery,
  useSceneStateQuery,
  useEditSceneMutation,
  useMoveSettingsMutation,
  useCaptureMutation,
  useStartRestoreMutation,
  useRestoreQuery,
  useAcceptedQuery,
  useCancelRestoreMutation,
  useJournalQuery,
  useLogInfiniteQuery,
  useScopesQuery,
  useSaveScopeMutation,
  useRemoveScopeMutation,
  useRippleMutation,
  useRipplePreviewQuery,
  useFlipMutation,
  useForgetAcceptedMutation,
  useCombinationsQuery,
  useCombinationQuery,
  useBeginCombinationMutation,
  usePickCellsMutation,
  useGiveUpCombinationMutation,
  useKeepCombinationMutation,
  useSourcesQuery,
  useCellOriginsQuery,
  useFollowersQuery,
  useTakeOverMutation,
  usePresetsQuery,
  usePresetQuery,
  useLazyPresetQuery,
  useLazyProfileQuery,
  useNewPresetMutation,
  useEditPresetMutation,
  useNewEditionMutation,
  useNewPlacementMutation,
  usePlacementQuery,
  useOriginsQuery,
  useForgetOriginMutation,
  usePartsQuery,
  useSetPartsMutation,
  useHallsQuery,
  useNewHallMutation,
  useTakeHallMutation,
  useRemoveHallMutation,
  useOutboardQuery,
  useNewOutboardMutation,
  useEditOutboardMutation,
  usePhotographMutation,
  useRemoveOutboardMutation,
  useCarryPreviewQuery,
  useBeginCarryMutation,
  useCarryingQuery,
  useCancelCarryMutation,
  useLastFilesQuery,
  useFileQuery,
  useFileProgressQuery,
  useImportFileMutation,
  useCancelImportMutation,
  useReadStripListMutation,
  useWishesQuery,
  useNewWishMutation,
  useEditWishMutation,
  useRemoveWishMutation,
  useStemsQuery,
  useDetachStemMutation,
  useBeginMixMutation,
  useBlindTestsQuery,
  useKeepBlindTestMutation,
  useAnalysisQuery,
  useLazyMixQuery,
  useCancelMixMutation,
} = api;

/** The words of what went wrong with a mutation, whatever threw it. */
export const toApiFault = (error: unknown): ApiFault =>
  error && typeof error === 'object' && 'advice' in error
    ? (error as ApiFault)
    : {
        code: 'unavailable',
        message: 'Old Echo did not answer.',
        advice: 'Nothing was changed. Try again in a moment.',
      };
