import type { ImportProgress, ImportRequest, ImportView, RecentImport } from '@old-echo/core/contracts/file-transfer';
import type { ParsedInputList } from '@old-echo/core/files/input-list';

import { api, post } from './api';

const filesApi = api.injectEndpoints({
  endpoints: (build) => ({
    recentImports: build.query<RecentImport[], void>({
      query: () => '/imports',
      keepUnusedDataFor: 0,
    }),
    import: build.query<ImportView, string>({ query: (id) => `/imports/${id}`, keepUnusedDataFor: 0 }),
    importProgress: build.query<ImportProgress, string>({
      query: (id) => `/imports/${id}/progress`,
      keepUnusedDataFor: 0,
    }),
    startImport: build.mutation<unknown, { id: string; request: ImportRequest }>({
      query: ({ id, request }) => post(`/imports/${id}/start`, request),
    }),
    cancelImport: build.mutation<unknown, string>({ query: (id) => post(`/imports/${id}/cancel`) }),
    readStripList: build.mutation<ParsedInputList, { production: string; text: string }>({
      query: ({ production, text }) => ({
        url: `/sheets/input-list/${production}`,
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/csv' },
      }),
    }),
  }),
});

export const {
  useRecentImportsQuery,
  useImportQuery,
  useImportProgressQuery,
  useStartImportMutation,
  useCancelImportMutation,
  useReadStripListMutation,
} = filesApi;
