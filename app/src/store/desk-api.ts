import type { DeskEdit, DeskView } from '@old-echo/core/contracts/desk';
import type { Unconfirmed } from '@old-echo/core/contracts/restore';
import { DESK_ROUTES, PROFILE_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { STORAGE_ROUTES, type StorageCheck } from '@old-echo/core/contracts/routes/scene-routes';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';

import { api } from './api';
import { ask } from './ask';

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
  useDesksQuery,
  useEditDeskMutation,
  useProfileQuery,
  useSetScenesAtHandMutation,
  useStorageCheckQuery,
  useMoveSettingsMutation,
  useLazyProfileQuery,
} = deskApi;
