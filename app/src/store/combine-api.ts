import type { Recipe } from '@old-echo/core/combine/recipe';
import type { CombinationView, NewCombination, SaveCombination } from '@old-echo/core/contracts/combination';
import type { CatchUpResult, FollowerView } from '@old-echo/core/contracts/follower';
import type { MixNoteEdit, MixNoteView, NewMixNote } from '@old-echo/core/contracts/mix-note';
import type { Removal } from '@old-echo/core/contracts/removal';
import {
  COMBINATION_ROUTES,
  FOLLOWER_ROUTES,
  MIX_NOTE_ROUTES,
  ORIGIN_ROUTES,
} from '@old-echo/core/contracts/routes/combine-routes';
import type { SceneView } from '@old-echo/core/contracts/scene';

import { api, SCENE_TAGS } from './api';
import { ask } from './ask';

const combineApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** Scenes in the making in a production. */
    combinations: build.query<CombinationView[], string>({
      query: (production) => ask(COMBINATION_ROUTES.combinations, { query: { production } }),
      providesTags: ['combinations', 'scenes'],
    }),
    combination: build.query<CombinationView, string>({
      query: (id) => ask(COMBINATION_ROUTES.combination, { params: { id } }),
      providesTags: ['combinations'],
    }),
    startCombination: build.mutation<CombinationView, NewCombination>({
      query: (combination) => ask(COMBINATION_ROUTES.startCombination, { body: combination }),
      invalidatesTags: ['combinations'],
    }),
    pickCells: build.mutation<CombinationView, { id: string; picks: Recipe['picks']; revision: number }>({
      query: ({ id, ...body }) => ask(COMBINATION_ROUTES.editCombination, { params: { id }, body }),
      onQueryStarted: async ({ id }, { dispatch, queryFulfilled }) => {
        const { data } = await queryFulfilled.catch(() => ({ data: undefined }));
        if (data) void dispatch(combineApi.util.upsertQueryData('combination', id, data));
        else dispatch(api.util.invalidateTags(['combinations']));
      },
    }),
    discardCombination: build.mutation<unknown, string>({
      query: (id) => ask(COMBINATION_ROUTES.discardCombination, { params: { id } }),
      invalidatesTags: ['combinations'],
    }),
    saveCombination: build.mutation<SceneView, { id: string; keep: SaveCombination }>({
      query: ({ id, keep }) => ask(COMBINATION_ROUTES.saveCombination, { params: { id }, body: keep }),
      invalidatesTags: SCENE_TAGS,
    }),
    cellOrigins: build.query<Recipe['picks'], string>({
      query: (id) => ask(ORIGIN_ROUTES.cellOrigins, { params: { id } }),
      keepUnusedDataFor: Infinity,
    }),
    /** Versions of a production that follow another and are behind it. */
    followers: build.query<FollowerView[], string>({
      query: (production) => ask(FOLLOWER_ROUTES.followers, { params: { production } }),
      providesTags: ['scenes', 'productions'],
    }),
    takeOver: build.mutation<CatchUpResult[], { production: string; versions: string[] }>({
      query: ({ production, versions }) => ask(FOLLOWER_ROUTES.catchUp, { params: { production }, body: { versions } }),
      invalidatesTags: [...SCENE_TAGS, 'combinations'],
    }),
    mixNotes: build.query<MixNoteView[], string>({
      query: (version) => ask(MIX_NOTE_ROUTES.mixNotes, { query: { version } }),
      providesTags: ['mixNotes', 'scenes'],
    }),
    addMixNote: build.mutation<MixNoteView, NewMixNote>({
      query: (mixNote) => ask(MIX_NOTE_ROUTES.addMixNote, { body: mixNote }),
      invalidatesTags: ['mixNotes'],
    }),
    editMixNote: build.mutation<MixNoteView, { id: string; edit: MixNoteEdit }>({
      query: ({ id, edit }) => ask(MIX_NOTE_ROUTES.editMixNote, { params: { id }, body: edit }),
      invalidatesTags: ['mixNotes'],
    }),
    removeMixNote: build.mutation<Removal, string>({
      query: (id) => ask(MIX_NOTE_ROUTES.removeMixNote, { params: { id } }),
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
