import { copyWithStructuralSharing } from '@reduxjs/toolkit/query';

import type { DeskEdit, DeskView } from '@old-echo/core/contracts/desk';
import type { Unconfirmed } from '@old-echo/core/contracts/restore';
import { DESK_ROUTES, PROFILE_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { STORAGE_ROUTES, type StorageCheck } from '@old-echo/core/contracts/routes/scene-routes';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import type { BaselineOrigins } from '@old-echo/core/scenes/baseline';

import { api } from './api';
import { ask } from './ask';

/** What each desk was meant to hold when it was asked for last. */
const lastBaselines = new Map<string, State>();

export const deskApi = api.injectEndpoints({
  endpoints: (build) => ({
    desks: build.query<DeskView[], void>({ query: () => ask(DESK_ROUTES.desks), providesTags: ['desks'] }),
    editDesk: build.mutation<DeskView, { id: string; edit: DeskEdit }>({
      query: ({ id, edit }) => ask(DESK_ROUTES.editDesk, { params: { id }, body: edit }),
      invalidatesTags: ['desks'],
    }),
    /** What a desk is meant to hold, by its revision and, where it is a scene whole, by that. */
    baseline: build.query<State, { desk: string; revision: number; scene: string | undefined }>({
      query: ({ desk }) => ask(DESK_ROUTES.baseline, { params: { id: desk } }),
      // Strips that are meant to hold the same as before keep their identity, so that only the others are drawn anew.
      transformResponse: (state: State, _, { desk }) => {
        const shared = copyWithStructuralSharing(lastBaselines.get(desk), state);
        lastBaselines.set(desk, shared);
        return shared;
      },
    }),
    /** The scenes that it came from, with the names they have today. */
    baselineOrigins: build.query<BaselineOrigins, { desk: string; revision: number }>({
      query: ({ desk }) => ask(DESK_ROUTES.baselineOrigins, { params: { id: desk } }),
      providesTags: ['scenes'],
    }),
    profile: build.query<Profile, string>({
      query: (id) => ask(PROFILE_ROUTES.profile, { params: { id } }),
      transformResponse: parseProfile,
      keepUnusedDataFor: Infinity,
    }),
    setScenesAtHand: build.mutation<DeskView, { desk: string; ids: string[] }>({
      query: ({ desk, ids }) => ask(DESK_ROUTES.setScenesAtHand, { params: { id: desk }, body: { ids } }),
      invalidatesTags: ['desks'],
    }),
    storageCheck: build.query<StorageCheck, void>({
      query: () => ask(STORAGE_ROUTES.checkStorage),
      keepUnusedDataFor: 0,
    }),
    moveSettings: build.mutation<
      { unconfirmed: Unconfirmed[] },
      { desk: string; settings: SettingsByAddress; gesture?: string; confirmed?: string[] }
    >({
      query: ({ desk, ...body }) => ask(DESK_ROUTES.moveSettings, { params: { id: desk }, body }),
    }),
  }),
});

export const {
  useBaselineQuery,
  useBaselineOriginsQuery,
  useDesksQuery,
  useEditDeskMutation,
  useProfileQuery,
  useSetScenesAtHandMutation,
  useStorageCheckQuery,
  useMoveSettingsMutation,
  useLazyProfileQuery,
} = deskApi;
