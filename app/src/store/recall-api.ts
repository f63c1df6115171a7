import type { NewStagedSettings, StagedSettings } from '@old-echo/core/contracts/preset';
import type { Removal } from '@old-echo/core/contracts/removal';
import type { CancelAction, RestorePage, RestoreRequest, RestoreView } from '@old-echo/core/contracts/restore';
import type { RipplePreview, RippleRequest, RippleView } from '@old-echo/core/contracts/ripple';
import type { NamedScope, NewScope } from '@old-echo/core/contracts/scope';
import type { Point } from '@old-echo/core/recall/caution';
import type { Journal } from '@old-echo/core/recall/recall-target';

import { api, post, SCENE_TAGS } from './api';

const recallApi = api.injectEndpoints({
  endpoints: (build) => ({
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
    swap: build.mutation<RestoreView, { desk: string; by: string }>({
      query: ({ desk, by }) => post(`/desks/${desk}/swaps`, { by }),
      invalidatesTags: [...SCENE_TAGS, 'restores'],
    }),
    cancelRestore: build.mutation<unknown, { id: string; how: CancelAction }>({
      query: ({ id, how }) => post(`/restores/${id}/cancel`, { how }),
    }),
    journal: build.query<Journal, string>({ query: (id) => `/restores/${id}/journal`, keepUnusedDataFor: Infinity }),
    /** The log of a desk's restores, the newest first. */
    restoreLog: build.infiniteQuery<RestorePage, string, string | null>({
      infiniteQueryOptions: { initialPageParam: null, getNextPageParam: (page) => page.before ?? undefined },
      query: ({ queryArg, pageParam }) => ({
        url: `/desks/${queryArg}/restores`,
        params: { before: pageParam ?? undefined },
      }),
      providesTags: ['restores'],
    }),
    savedScopes: build.query<NamedScope[], string>({
      query: (profile) => `/saved-scopes/${profile}`,
      providesTags: ['scopes'],
    }),
    saveScope: build.mutation<NamedScope, NewScope>({
      query: (scope) => post('/saved-scopes', scope),
      invalidatesTags: ['scopes'],
    }),
    removeScope: build.mutation<Removal, string>({
      query: (id) => ({ url: `/saved-scopes/${id}`, method: 'DELETE' }),
      invalidatesTags: ['scopes'],
    }),
    ripplePreview: build.query<RipplePreview[], { desk: string; request: RippleRequest }>({
      query: ({ desk, request }) => post(`/desks/${desk}/ripple-previews`, request),
      keepUnusedDataFor: 0,
      providesTags: ['scenes'],
    }),
    /** How far a change of many scenes is, and what it made. */
    ripple: build.query<RippleView, string>({ query: (id) => `/ripples/${id}`, keepUnusedDataFor: 0 }),
    cancelRipple: build.mutation<RippleView, string>({ query: (id) => post(`/ripples/${id}/cancel`) }),
    startRipple: build.mutation<RippleView, { desk: string; request: RippleRequest }>({
      query: ({ desk, request }) => post(`/desks/${desk}/ripples`, request),
      invalidatesTags: [...SCENE_TAGS, 'desks'],
    }),
    stageSettings: build.mutation<StagedSettings, NewStagedSettings>({
      query: (stagedSettings) => post('/staged-settings', stagedSettings),
    }),
    stagedSettings: build.query<StagedSettings, string>({
      query: (id) => `/staged-settings/${id}`,
      keepUnusedDataFor: Infinity,
    }),
    restore: build.query<RestoreView, string>({ query: (id) => `/restores/${id}`, providesTags: ['restores'] }),
  }),
});

export const {
  useStartRestoreMutation,
  useRestoreQuery,
  useAcceptedQuery,
  useCancelRestoreMutation,
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
