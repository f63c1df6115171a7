import type { Removal } from '@old-echo/core/contracts/removal';
import type { BlindTestView, NewBlindTest, RenderRequest, RenderView, StemView } from '@old-echo/core/contracts/sound';
import type { RenderAnalysis } from '@old-echo/core/sound/analyse-render';

import { api, post } from './api';

const soundApi = api.injectEndpoints({
  endpoints: (build) => ({
    stems: build.query<StemView[], string>({
      query: (production) => `/productions/${production}/stems`,
      providesTags: ['stems'],
    }),
    detachStem: build.mutation<Removal, { production: string; strip: string }>({
      query: ({ production, strip }) => ({ url: `/productions/${production}/stems/${strip}`, method: 'DELETE' }),
      invalidatesTags: ['stems'],
    }),
    startRender: build.mutation<RenderView, RenderRequest>({ query: (request) => post('/renders', request) }),
    render: build.query<RenderView, string>({ query: (id) => `/renders/${id}?wait=400`, keepUnusedDataFor: 0 }),
    analysis: build.query<RenderAnalysis, string>({ query: (id) => `/renders/${id}/analysis` }),
    cancelRender: build.mutation<RenderView, string>({ query: (id) => post(`/renders/${id}/cancel`) }),
    blindTests: build.query<BlindTestView[], { a: string; b: string }>({
      query: ({ a, b }) => `/blind-tests/${a}/${b}`,
      providesTags: ['blindTests'],
    }),
    saveBlindTest: build.mutation<BlindTestView[], NewBlindTest>({
      query: (test) => post('/blind-tests', test),
      invalidatesTags: ['blindTests'],
    }),
  }),
});

export const {
  useStemsQuery,
  useDetachStemMutation,
  useStartRenderMutation,
  useBlindTestsQuery,
  useSaveBlindTestMutation,
  useAnalysisQuery,
  useLazyRenderQuery,
  useCancelRenderMutation,
} = soundApi;
