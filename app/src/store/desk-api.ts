import { copyWithStructuralSharing } from '@reduxjs/toolkit/query';

import type { DeskEdit, DeskPlace, DeskView, NewDesk } from '@old-echo/core/contracts/desk';
import type { NewLinkTrial } from '@old-echo/core/contracts/link-trial';
import type { AskedDesk, ListeningView, NewListening } from '@old-echo/core/contracts/listening';
import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import type { Unconfirmed } from '@old-echo/core/contracts/restore';
import { DESK_ROUTES, LISTENING_ROUTES, PROFILE_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { STORAGE_ROUTES, type StorageCheck } from '@old-echo/core/contracts/routes/scene-routes';
import type { FoundDesk, LinkTrial } from '@old-echo/core/desk/link-trial';
import type { LoggedMessages } from '@old-echo/core/desk/logged-message';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import type { ProfileChangeView } from '@old-echo/core/desk/profile-change';
import type { ProfileSource } from '@old-echo/core/desk/profile-source';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import type { BaselineOrigins } from '@old-echo/core/scenes/baseline';

import { api, TAGS } from './api';
import { ask } from './ask';

/** What each desk was meant to hold when it was asked for last. */
const lastBaselines = new Map<string, State>();

export const deskApi = api.injectEndpoints({
  endpoints: (build) => ({
    desks: build.query<DeskView[], void>({ query: () => ask(DESK_ROUTES.desks), providesTags: ['desks'] }),
    addDesk: build.mutation<DeskView, NewDesk>({
      query: (body) => ask(DESK_ROUTES.addDesk, { body }),
      invalidatesTags: ['desks'],
    }),
    placeDesk: build.mutation<DeskView, { id: string; place: DeskPlace }>({
      query: ({ id, place }) => ask(DESK_ROUTES.placeDesk, { params: { id }, body: place }),
      invalidatesTags: ['desks'],
    }),
    removeDesk: build.mutation<DeskView, string>({
      query: (id) => ask(DESK_ROUTES.removeDesk, { params: { id } }),
      invalidatesTags: ['desks'],
    }),
    bringBackDesk: build.mutation<DeskView, string>({
      query: (id) => ask(DESK_ROUTES.bringBackDesk, { params: { id } }),
      invalidatesTags: ['desks'],
    }),
    nearbyDesks: build.query<FoundDesk[], void>({
      query: () => ask(DESK_ROUTES.nearbyDesks),
      keepUnusedDataFor: 0,
    }),
    startListening: build.mutation<ListeningView, NewListening>({
      query: (body) => ask(LISTENING_ROUTES.startListening, { body }),
    }),
    listening: build.query<LoggedMessages, { id: string; after: number }>({
      query: ({ id, after }) => ask(LISTENING_ROUTES.listening, { params: { id }, query: { after } }),
      keepUnusedDataFor: 0,
    }),
    askDesk: build.mutation<{ answeredIn: number | null }, AskedDesk & { id: string }>({
      query: ({ id, ...body }) => ask(LISTENING_ROUTES.askDesk, { params: { id }, body }),
    }),
    endListening: build.mutation<unknown, string>({
      query: (id) => ask(LISTENING_ROUTES.endListening, { params: { id } }),
    }),
    wire: build.query<LoggedMessages, { desk: string; after: number }>({
      query: ({ desk, after }) => ask(DESK_ROUTES.wire, { params: { id: desk }, query: { after } }),
      keepUnusedDataFor: 0,
    }),
    tryLink: build.mutation<LinkTrial, NewLinkTrial>({ query: (body) => ask(DESK_ROUTES.tryLink, { body }) }),
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
      providesTags: ['profiles'],
    }),
    /** The scenes that it came from, with the names they have today. */
    baselineOrigins: build.query<BaselineOrigins, { desk: string; revision: number }>({
      query: ({ desk }) => ask(DESK_ROUTES.baselineOrigins, { params: { id: desk } }),
      providesTags: ['scenes'],
    }),
    profiles: build.query<ProfileSummary[], void>({
      query: () => ask(PROFILE_ROUTES.profiles),
      providesTags: ['profiles'],
    }),
    addProfile: build.mutation<ProfileSummary, object>({
      query: (source) => ask(PROFILE_ROUTES.addProfile, { body: { source } }),
      invalidatesTags: ['profiles'],
    }),
    profile: build.query<Profile, string>({
      query: (id) => ask(PROFILE_ROUTES.profile, { params: { id } }),
      transformResponse: parseProfile,
      keepUnusedDataFor: Infinity,
      providesTags: ['profiles'],
    }),
    /** The same as its file has it, to be changed. */
    profileSource: build.query<ProfileSource, string>({
      query: (id) => ask(PROFILE_ROUTES.profile, { params: { id } }),
      providesTags: ['profiles'],
    }),
    /** What it would mean if a model were another. */
    profileChange: build.query<ProfileChangeView, { id: string; source: ProfileSource }>({
      query: ({ id, source }) => ask(PROFILE_ROUTES.previewProfileChange, { params: { id }, body: { source } }),
      keepUnusedDataFor: 0,
    }),
    changeProfile: build.mutation<ProfileSummary, { id: string; was: ProfileSource; source: ProfileSource }>({
      query: ({ id, ...body }) => ask(PROFILE_ROUTES.changeProfile, { params: { id }, body }),
      invalidatesTags: [...TAGS],
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
  useProfileSourceQuery,
  useProfileChangeQuery,
  useChangeProfileMutation,
  useAddDeskMutation,
  usePlaceDeskMutation,
  useRemoveDeskMutation,
  useBringBackDeskMutation,
  useNearbyDesksQuery,
  useLazyWireQuery,
  useStartListeningMutation,
  useLazyListeningQuery,
  useAskDeskMutation,
  useEndListeningMutation,
  useTryLinkMutation,
  useProfilesQuery,
  useAddProfileMutation,
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
