import type { Removal } from '@old-echo/core/contracts/removal';
import { BLIND_TEST_ROUTES, RENDER_ROUTES, STEM_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import type { BlindTestView, NewBlindTest, RenderRequest, RenderView, StemView } from '@old-echo/core/contracts/sound';
import type { RenderAnalysis } from '@old-echo/core/sound/analyse-render';

import { api } from './api';
import { ask } from './ask';

export const soundApi = api.injectEndpoints({
  endpoints: (build) => ({
    stems: build.query<StemView[], string>({
      query: (production) => ask(STEM_ROUTES.stems, { params: { production } }),
      providesTags: ['stems'],
    }),
    detachStem: build.mutation<Removal, { production: string; strip: string }>({
      query: ({ production, strip }) => ask(STEM_ROUTES.detachStem, { params: { production, strip } }),
      invalidatesTags: ['stems'],
    }),
    startRender: build.mutation<RenderView, RenderRequest>({
      query: (request) => ask(RENDER_ROUTES.startRender, { body: request }),
    }),
    render: build.query<RenderView, string>({
      query: (id) => ask(RENDER_ROUTES.render, { params: { id }, query: { wait: 400 } }),
      keepUnusedDataFor: 0,
    }),
    analysis: build.query<RenderAnalysis, string>({ query: (id) => ask(RENDER_ROUTES.analysis, { params: { id } }) }),
    cancelRender: build.mutation<RenderView, string>({
      query: (id) => ask(RENDER_ROUTES.cancelRender, { params: { id } }),
    }),
    blindTests: build.query<BlindTestView[], { a: string; b: string }>({
      query: ({ a, b }) => ask(BLIND_TEST_ROUTES.blindTests, { params: { a, b } }),
      providesTags: ['blindTests'],
    }),
    saveBlindTest: build.mutation<BlindTestView[], NewBlindTest>({
      query: (test) => ask(BLIND_TEST_ROUTES.saveBlindTest, { body: test }),
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
