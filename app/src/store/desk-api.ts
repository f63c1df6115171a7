import type { DeskEdit, DeskView } from '@old-echo/core/contracts/desk';
import type { Unconfirmed } from '@old-echo/core/contracts/restore';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';

import { api, post } from './api';

export interface Storage {
  readonly scenes: number;
  readonly stripStates: number;
  readonly bytes: number;
  readonly orphans: number;
  readonly incomplete: readonly number[];
  readonly spoiled: number;
}

export const deskApi = api.injectEndpoints({
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
    setScenesAtHand: build.mutation<DeskView, { desk: string; ids: string[] }>({
      query: ({ desk, ids }) => ({ url: `/desks/${desk}/at-hand`, method: 'PUT', body: { ids } }),
      invalidatesTags: ['desks'],
    }),
    storageCheck: build.query<Storage, void>({ query: () => '/storage-check', keepUnusedDataFor: 0 }),
    moveSettings: build.mutation<{ unconfirmed: Unconfirmed[] }, { desk: string; settings: SettingsByAddress }>({
      query: ({ desk, settings }) => post(`/desks/${desk}/settings`, { settings }),
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
