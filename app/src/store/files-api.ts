import type {
  FileNode,
  ImportProgress,
  ImportRequest,
  ImportView,
  RecentImport,
} from '@old-echo/core/contracts/file-transfer';
import { EXPORT_ROUTES, IMPORT_ROUTES, SHEET_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import type { ParsedInputList } from '@old-echo/core/files/input-list';

import { api } from './api';
import { ask } from './ask';

const filesApi = api.injectEndpoints({
  endpoints: (build) => ({
    recentImports: build.query<RecentImport[], void>({
      query: () => ask(IMPORT_ROUTES.imports),
      keepUnusedDataFor: 0,
    }),
    archiveContents: build.query<readonly FileNode[], string>({
      query: (id) => ask(EXPORT_ROUTES.exportContents, { params: { id } }),
      keepUnusedDataFor: 0,
    }),
    import: build.query<ImportView, string>({
      query: (id) => ask(IMPORT_ROUTES.import, { params: { id } }),
      keepUnusedDataFor: 0,
    }),
    importProgress: build.query<ImportProgress, string>({
      query: (id) => ask(IMPORT_ROUTES.importProgress, { params: { id } }),
      keepUnusedDataFor: 0,
    }),
    startImport: build.mutation<unknown, { id: string; request: ImportRequest }>({
      query: ({ id, request }) => ask(IMPORT_ROUTES.startImport, { params: { id }, body: request }),
    }),
    cancelImport: build.mutation<unknown, string>({
      query: (id) => ask(IMPORT_ROUTES.cancelImport, { params: { id } }),
    }),
    readStripList: build.mutation<ParsedInputList, { production: string; text: string }>({
      query: ({ production, text }) =>
        ask(SHEET_ROUTES.readInputList, {
          params: { production },
          body: text,
          headers: { 'content-type': 'text/csv' },
        }),
    }),
  }),
});

export const {
  useRecentImportsQuery,
  useArchiveContentsQuery,
  useImportQuery,
  useImportProgressQuery,
  useStartImportMutation,
  useCancelImportMutation,
  useReadStripListMutation,
} = filesApi;
