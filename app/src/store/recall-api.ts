import type { NewStagedSettings, StagedSettings } from '@old-echo/core/contracts/preset';
import type { Removal } from '@old-echo/core/contracts/removal';
import type {
  CancelAction,
  RestorePage,
  RestoreRequest,
  RestoreView,
  SwapView,
} from '@old-echo/core/contracts/restore';
import type { RipplePreview, RippleRequest, RippleView } from '@old-echo/core/contracts/ripple';
import {
  DESK_RECALL_ROUTES,
  RESTORE_ROUTES,
  RIPPLE_ROUTES,
  SCOPE_ROUTES,
  STAGED_SETTINGS_ROUTES,
} from '@old-echo/core/contracts/routes/recall-routes';
import type { NamedScope, NewScope } from '@old-echo/core/contracts/scope';
import type { Point } from '@old-echo/core/recall/caution';
import type { Journal } from '@old-echo/core/recall/recall-target';
import { type WalkMark, withMarks } from '@old-echo/core/recall/walk';

import { api, SCENE_TAGS } from './api';
import { ask } from './ask';

const recallApi = api.injectEndpoints({
  endpoints: (build) => ({
    startRestore: build.mutation<RestoreView, { desk: string; request: RestoreRequest }>({
      query: ({ desk, request }) => ask(DESK_RECALL_ROUTES.startRestore, { params: { id: desk }, body: request }),
      invalidatesTags: [...SCENE_TAGS, 'restores'],
    }),
    /** What was looked at and accepted when one scene followed another before. */
    accepted: build.query<Point[], { desk: string; from: string; to: string }>({
      query: ({ desk, from, to }) => ask(DESK_RECALL_ROUTES.accepted, { params: { id: desk }, query: { from, to } }),
      providesTags: ['restores'],
    }),
    forgetAccepted: build.mutation<unknown, { desk: string; from: string; to: string }>({
      query: ({ desk, from, to }) =>
        ask(DESK_RECALL_ROUTES.forgetAccepted, { params: { id: desk }, query: { from, to } }),
      invalidatesTags: ['restores'],
    }),
    swap: build.mutation<SwapView, { desk: string; by: string }>({
      query: ({ desk, by }) => ask(DESK_RECALL_ROUTES.swap, { params: { id: desk }, body: { by } }),
      invalidatesTags: [...SCENE_TAGS, 'restores'],
    }),
    cancelRestore: build.mutation<unknown, { id: string; how: CancelAction }>({
      query: ({ id, how }) => ask(RESTORE_ROUTES.cancelRestore, { params: { id }, body: { how } }),
    }),
    markWalk: build.mutation<RestoreView, { id: string; marks: Readonly<Record<string, WalkMark | null>> }>({
      query: ({ id, marks }) => ask(RESTORE_ROUTES.markWalk, { params: { id }, body: { marks } }),
      // At once on the screen; what the server does not take is taken back.
      async onQueryStarted({ id, marks }, { dispatch, queryFulfilled }) {
        const shown = dispatch(
          recallApi.util.updateQueryData('restore', id, (restore) => ({
            ...restore,
            marks: withMarks(restore.marks ?? {}, marks),
          })),
        );
        await queryFulfilled.catch(shown.undo);
      },
    }),
    endWalk: build.mutation<RestoreView, string>({
      query: (id) => ask(RESTORE_ROUTES.endWalk, { params: { id } }),
      invalidatesTags: [...SCENE_TAGS, 'restores'],
    }),
    journal: build.query<Journal, string>({
      query: (id) => ask(RESTORE_ROUTES.journal, { params: { id } }),
      keepUnusedDataFor: Infinity,
    }),
    /** The log of a desk's restores, the newest first. */
    restoreLog: build.infiniteQuery<RestorePage, string, string | null>({
      infiniteQueryOptions: { initialPageParam: null, getNextPageParam: (page) => page.before ?? undefined },
      query: ({ queryArg, pageParam }) =>
        ask(DESK_RECALL_ROUTES.restoreLog, { params: { id: queryArg }, query: { before: pageParam ?? undefined } }),
      providesTags: ['restores'],
    }),
    savedScopes: build.query<NamedScope[], string>({
      query: (profile) => ask(SCOPE_ROUTES.savedScopes, { params: { profile } }),
      providesTags: ['scopes'],
    }),
    saveScope: build.mutation<NamedScope, NewScope>({
      query: (scope) => ask(SCOPE_ROUTES.saveScope, { body: scope }),
      invalidatesTags: ['scopes'],
    }),
    removeScope: build.mutation<Removal, string>({
      query: (id) => ask(SCOPE_ROUTES.removeScope, { params: { id } }),
      invalidatesTags: ['scopes'],
    }),
    ripplePreview: build.query<RipplePreview[], { desk: string; request: RippleRequest }>({
      query: ({ desk, request }) => ask(DESK_RECALL_ROUTES.previewRipple, { params: { id: desk }, body: request }),
      keepUnusedDataFor: 0,
      providesTags: ['scenes'],
    }),
    /** How far a change of many scenes is, and what it made. */
    ripple: build.query<RippleView, string>({
      query: (id) => ask(RIPPLE_ROUTES.ripple, { params: { id } }),
      keepUnusedDataFor: 0,
    }),
    cancelRipple: build.mutation<RippleView, string>({
      query: (id) => ask(RIPPLE_ROUTES.cancelRipple, { params: { id } }),
    }),
    startRipple: build.mutation<RippleView, { desk: string; request: RippleRequest }>({
      query: ({ desk, request }) => ask(DESK_RECALL_ROUTES.startRipple, { params: { id: desk }, body: request }),
      invalidatesTags: [...SCENE_TAGS, 'desks'],
    }),
    stageSettings: build.mutation<StagedSettings, NewStagedSettings>({
      query: (stagedSettings) => ask(STAGED_SETTINGS_ROUTES.stageSettings, { body: stagedSettings }),
    }),
    stagedSettings: build.query<StagedSettings, string>({
      query: (id) => ask(STAGED_SETTINGS_ROUTES.stagedSettings, { params: { id } }),
      keepUnusedDataFor: Infinity,
    }),
    restore: build.query<RestoreView, string>({
      query: (id) => ask(RESTORE_ROUTES.restore, { params: { id } }),
      providesTags: ['restores'],
    }),
  }),
});

export const {
  useStartRestoreMutation,
  useRestoreQuery,
  useAcceptedQuery,
  useCancelRestoreMutation,
  useMarkWalkMutation,
  useEndWalkMutation,
  useJournalQuery,
  useRestoreLogInfiniteQuery,
  useSavedScopesQuery,
  useSaveScopeMutation,
  useRemoveScopeMutation,
  useStartRippleMutation,
  useRippleQuery,
  useCancelRippleMutation,
  useRipplePreviewQuery,
  useSwapMutation,
  useForgetAcceptedMutation,
  useStageSettingsMutation,
  useStagedSettingsQuery,
} = recallApi;
