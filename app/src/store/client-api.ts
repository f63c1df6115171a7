import type {
  ClientChoice,
  ClientLinkView,
  ClientPage,
  MadeClientLink,
  NewClientLink,
  NewClientNote,
} from '@old-echo/core/contracts/client-link';
import { CLIENT_LINK_ROUTES, CLIENT_ROUTES } from '@old-echo/core/contracts/routes/client-routes';

import { api } from './api';
import { ask } from './ask';

const pageApi = api.injectEndpoints({
  endpoints: (build) => ({
    clientPage: build.query<ClientPage, string>({
      query: (token) => ask(CLIENT_ROUTES.clientPage, { params: { token } }),
    }),
  }),
});

interface Started {
  readonly dispatch: (action: ReturnType<typeof pageApi.util.upsertQueryData>) => unknown;
  readonly queryFulfilled: Promise<{ readonly data: ClientPage }>;
}

/** What is answered to what a client says is what the page shows from then on. */
async function shown({ token }: { readonly token: string }, { dispatch, queryFulfilled }: Started): Promise<void> {
  try {
    const { data } = await queryFulfilled;
    dispatch(pageApi.util.upsertQueryData('clientPage', token, data));
  } catch {
    // Whoever asked is told.
  }
}

const clientApi = pageApi.injectEndpoints({
  endpoints: (build) => ({
    clientLinks: build.query<ClientLinkView[], string>({
      query: (production) => ask(CLIENT_LINK_ROUTES.clientLinks, { params: { production } }),
      // Notes that are written by one arrive as changes of scenes.
      providesTags: ['clientLinks', 'scenes'],
    }),
    makeClientLink: build.mutation<MadeClientLink, { production: string; link: NewClientLink }>({
      query: ({ production, link }) => ask(CLIENT_LINK_ROUTES.makeClientLink, { params: { production }, body: link }),
      invalidatesTags: ['clientLinks'],
    }),
    renewClientLink: build.mutation<MadeClientLink, string>({
      query: (id) => ask(CLIENT_LINK_ROUTES.renewClientLink, { params: { id } }),
      invalidatesTags: ['clientLinks'],
    }),
    withdrawClientLink: build.mutation<ClientLinkView, string>({
      query: (id) => ask(CLIENT_LINK_ROUTES.withdrawClientLink, { params: { id } }),
      invalidatesTags: ['clientLinks'],
    }),
    sayWord: build.mutation<ClientPage, { token: string; word: string }>({
      query: ({ token, word }) => ask(CLIENT_ROUTES.sayWord, { params: { token }, body: { word } }),
      onQueryStarted: shown,
    }),
    addClientNote: build.mutation<ClientPage, { token: string; note: NewClientNote }>({
      query: ({ token, note }) => ask(CLIENT_ROUTES.addClientNote, { params: { token }, body: note }),
      onQueryStarted: shown,
    }),
    choose: build.mutation<ClientPage, { token: string; choice: ClientChoice }>({
      query: ({ token, choice }) => ask(CLIENT_ROUTES.choose, { params: { token }, body: choice }),
      onQueryStarted: shown,
    }),
  }),
});

export const {
  useClientLinksQuery,
  useMakeClientLinkMutation,
  useRenewClientLinkMutation,
  useWithdrawClientLinkMutation,
  useSayWordMutation,
  useAddClientNoteMutation,
  useChooseMutation,
} = clientApi;
export const { useClientPageQuery } = pageApi;
