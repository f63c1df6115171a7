import { createApi, fetchBaseQuery, type BaseQueryFn, type FetchArgs } from '@reduxjs/toolkit/query/react';

import type { DeskEdit, DeskView } from '@old-echo/core/contracts/desk';
import type { FaultCode } from '@old-echo/core/contracts/fault';
import { fromProblem } from '@old-echo/core/contracts/problem';
import type { RestoreRequest, RestoreView, Unconfirmed } from '@old-echo/core/contracts/restore';
import type { Capture, ProductionView, SceneEdit, SceneView } from '@old-echo/core/contracts/scene';
import { readProfile, type Profile } from '@old-echo/core/desk/profile';
import type { PlannedChange } from '@old-echo/core/preview/preview';
import type { Settings, State } from '@old-echo/core/desk/state';

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

/** Everything the server holds. States of scenes never change, so they are kept for as long as the page is open. */
export const api = createApi({
  baseQuery: query,
  tagTypes: ['desks', 'productions', 'scenes', 'restores'],
  endpoints: (build) => ({
    desks: build.query<DeskView[], void>({ query: () => '/desks', providesTags: ['desks'] }),
    editDesk: build.mutation<DeskView, { id: string; edit: DeskEdit }>({
      query: ({ id, edit }) => ({ url: `/desks/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: ['desks'],
    }),
    profile: build.query<Profile, string>({
      query: (id) => `/profiles/${id}`,
      transformResponse: readProfile,
      keepUnusedDataFor: Infinity,
    }),
    productions: build.query<ProductionView[], void>({ query: () => '/productions', providesTags: ['productions'] }),
    scenes: build.query<SceneView[], string>({ query: (id) => `/productions/${id}/scenes`, providesTags: ['scenes'] }),
    scene: build.query<SceneView, string>({ query: (id) => `/scenes/${id}`, providesTags: ['scenes'] }),
    sceneState: build.query<State, string>({ query: (id) => `/scenes/${id}/state`, keepUnusedDataFor: Infinity }),
    editScene: build.mutation<SceneView, { id: string; edit: SceneEdit }>({
      query: ({ id, edit }) => ({ url: `/scenes/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: ['scenes'],
    }),
    moveSettings: build.mutation<{ unconfirmed: Unconfirmed[] }, { desk: string; settings: Settings }>({
      query: ({ desk, settings }) => ({ url: `/desks/${desk}/settings`, method: 'POST', body: { settings } }),
    }),
    capture: build.mutation<SceneView, { desk: string; capture: Capture }>({
      query: ({ desk, capture }) => ({ url: `/desks/${desk}/captures`, method: 'POST', body: capture }),
      invalidatesTags: ['scenes'],
    }),
    startRestore: build.mutation<RestoreView, { desk: string; request: RestoreRequest }>({
      query: ({ desk, request }) => ({ url: `/desks/${desk}/restores`, method: 'POST', body: request }),
      invalidatesTags: ['scenes'],
    }),
    restoreChanges: build.query<PlannedChange[], string>({ query: (id) => `/restores/${id}/changes` }),
    restore: build.query<RestoreView, string>({ query: (id) => `/restores/${id}`, providesTags: ['restores'] }),
  }),
});

export const {
  useDesksQuery,
  useEditDeskMutation,
  useProfileQuery,
  useProductionsQuery,
  useScenesQuery,
  useSceneQuery,
  useSceneStateQuery,
  useEditSceneMutation,
  useMoveSettingsMutation,
  useCaptureMutation,
  useStartRestoreMutation,
  useRestoreQuery,
  useRestoreChangesQuery,
} = api;

/** The words of what went wrong with a mutation, whatever threw it. */
export const faultOf = (error: unknown): ApiFault =>
  error && typeof error === 'object' && 'advice' in error
    ? (error as ApiFault)
    : {
        code: 'unavailable',
        message: 'Old Echo did not answer.',
        advice: 'Nothing was changed. Try again in a moment.',
      };
