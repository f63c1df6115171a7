import type { Recipe } from '@old-echo/core/combine/recipe';
import type { CombinationView, NewCombination, SaveCombination } from '@old-echo/core/contracts/combination';
import type { CatchUpResult, FollowerView } from '@old-echo/core/contracts/follower';
import type { MixNoteEdit, MixNoteView, NewMixNote } from '@old-echo/core/contracts/mix-note';
import type { Removal } from '@old-echo/core/contracts/removal';
import type { SceneView } from '@old-echo/core/contracts/scene';

import { api, post, SCENE_TAGS } from './api';

const combineApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** Scenes in the making in a production. */
    combinations: build.query<CombinationView[], string>({
      query: (production) => ({ url: '/combinations', params: { production } }),
      providesTags: ['combinations', 'scenes'],
    }),
    combination: build.query<CombinationView, string>({
      query: (id) => `/combinations/${id}`,
      providesTags: ['combinations'],
    }),
    startCombination: build.mutation<CombinationView, NewCombination>({
      query: (combination) => post('/combinations', combination),
      invalidatesTags: ['combinations'],
    }),
    pickCells: build.mutation<CombinationView, { id: string; picks: Recipe['picks']; revision: number }>({
      query: ({ id, ...body }) => ({ url: `/combinations/${id}`, method: 'PATCH', body }),
      onQueryStarted: async ({ id }, { dispatch, queryFulfilled }) => {
        const { data } = await queryFulfilled.catch(() => ({ data: undefined }));
        if (data) void dispatch(combineApi.util.upsertQueryData('combination', id, data));
        else dispatch(api.util.invalidateTags(['combinations']));
      },
    }),
    discardCombination: build.mutation<unknown, string>({
      query: (id) => ({ url: `/combinations/${id}`, method: 'DELETE' }),
      invalidatesTags: ['combinations'],
    }),
    saveCombination: build.mutation<SceneView, { id: string; keep: SaveCombination }>({
      query: ({ id, keep }) => post(`/combinations/${id}/save`, keep),
      invalidatesTags: SCENE_TAGS,
    }),
    cellOrigins: build.query<Recipe['picks'], string>({
      query: (id) => `/scenes/${id}/cell-origins`,
      keepUnusedDataFor: Infinity,
    }),
    /** Versions of a production that follow another and are behind it. */
    followers: build.query<FollowerView[], string>({
      query: (production) => `/productions/${production}/followers`,
      providesTags: ['scenes', 'productions'],
    }),
    takeOver: build.mutation<CatchUpResult[], { production: string; versions: string[] }>({
      query: ({ production, versions }) => post(`/productions/${production}/followers/catch-up`, { versions }),
      invalidatesTags: [...SCENE_TAGS, 'combinations'],
    }),
    mixNotes: build.query<MixNoteView[], string>({
      query: (version) => ({ url: '/mix-notes', params: { version } }),
      providesTags: ['mixNotes', 'scenes'],
    }),
    addMixNote: build.mutation<MixNoteView, NewMixNote>({
      query: (mixNote) => post('/mix-notes', mixNote),
      invalidatesTags: ['mixNotes'],
    }),
    editMixNote: build.mutation<MixNoteView, { id: string; edit: MixNoteEdit }>({
      query: ({ id, edit }) => ({ url: `/mix-notes/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: ['mixNotes'],
    }),
    removeMixNote: build.mutation<Removal, string>({
      query: (id) => ({ url: `/mix-notes/${id}`, method: 'DELETE' }),
      invalidatesTags: ['mixNotes'],
    }),
  }),
});

export const {
  useCombinationsQuery,
  useCombinationQuery,
  useStartCombinationMutation,
  usePickCellsMutation,
  useDiscardCombinationMutation,
  useSaveCombinationMutation,
  useCellOriginsQuery,
  useFollowersQuery,
  useTakeOverMutation,
  useMixNotesQuery,
  useAddMixNoteMutation,
  useEditMixNoteMutation,
  useRemoveMixNoteMutation,
} = combineApi;
