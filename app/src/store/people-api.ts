import type { DeviceView, EntryCode } from '@old-echo/core/contracts/device';
import type { ChangePage, HereView, PersonEdit, PersonView, SignIn, WhoIsLetIn } from '@old-echo/core/contracts/person';
import { DEVICE_ROUTES, PEOPLE_ROUTES } from '@old-echo/core/contracts/routes/people-routes';

import { api, TAGS } from './api';
import { ask } from './ask';

/** Whatever was refused until now can be read. */
const everything = (device: DeviceView | undefined) => (device ? [...TAGS] : []);

export const peopleApi = api.injectEndpoints({
  endpoints: (build) => ({
    here: build.query<HereView, void>({ query: () => ask(DEVICE_ROUTES.here), providesTags: ['here'] }),
    enter: build.mutation<DeviceView, { code: string; name: string }>({
      query: (body) => ask(DEVICE_ROUTES.enter, { body }),
      invalidatesTags: everything,
    }),
    signIn: build.mutation<DeviceView, SignIn>({
      query: (body) => ask(DEVICE_ROUTES.signIn, { body }),
      invalidatesTags: everything,
    }),
    signOut: build.mutation<unknown, void>({ query: () => ask(DEVICE_ROUTES.signOut), invalidatesTags: ['here'] }),
    setPassword: build.mutation<unknown, { current: string; password: string | null; signOutOthers: boolean }>({
      query: (body) => ask(DEVICE_ROUTES.setPassword, { body }),
      invalidatesTags: ['here'],
    }),
    people: build.query<PersonView[], void>({ query: () => ask(PEOPLE_ROUTES.people), providesTags: ['people'] }),
    makeEntryCode: build.mutation<EntryCode, WhoIsLetIn>({
      query: (body) => ask(PEOPLE_ROUTES.makeEntryCode, { body }),
      invalidatesTags: ['people'],
    }),
    editPerson: build.mutation<PersonView, { id: string; edit: PersonEdit }>({
      query: ({ id, edit }) => ask(PEOPLE_ROUTES.editPerson, { params: { id }, body: edit }),
      invalidatesTags: ['people', 'here'],
    }),
    forgetPassword: build.mutation<PersonView, string>({
      query: (id) => ask(PEOPLE_ROUTES.forgetPassword, { params: { id } }),
      invalidatesTags: ['people'],
    }),
    removePerson: build.mutation<unknown, string>({
      query: (id) => ask(PEOPLE_ROUTES.removePerson, { params: { id } }),
      invalidatesTags: ['people', 'here'],
    }),
    shutOut: build.mutation<DeviceView, string>({
      query: (id) => ask(PEOPLE_ROUTES.shutOut, { params: { id } }),
      invalidatesTags: ['people', 'here'],
    }),
    changes: build.infiniteQuery<ChangePage, void, string | undefined>({
      infiniteQueryOptions: {
        initialPageParam: undefined,
        getNextPageParam: ({ before }) => before ?? undefined,
      },
      query: ({ pageParam }) =>
        ask(PEOPLE_ROUTES.changes, { query: pageParam === undefined ? {} : { before: pageParam } }),
    }),
  }),
});

export const {
  useHereQuery,
  useEnterMutation,
  useSignInMutation,
  useSignOutMutation,
  useSetPasswordMutation,
  usePeopleQuery,
  useMakeEntryCodeMutation,
  useEditPersonMutation,
  useForgetPasswordMutation,
  useRemovePersonMutation,
  useShutOutMutation,
  useChangesInfiniteQuery,
} = peopleApi;
