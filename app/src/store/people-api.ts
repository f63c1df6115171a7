import type { DeviceView, EntryCode, HereView } from '@old-echo/core/contracts/device';
import { DEVICE_ROUTES } from '@old-echo/core/contracts/routes/people-routes';

import { api, TAGS } from './api';
import { ask } from './ask';

export const peopleApi = api.injectEndpoints({
  endpoints: (build) => ({
    here: build.query<HereView, void>({ query: () => ask(DEVICE_ROUTES.here), providesTags: ['here'] }),
    devices: build.query<DeviceView[], void>({ query: () => ask(DEVICE_ROUTES.devices), providesTags: ['devices'] }),
    makeEntryCode: build.mutation<EntryCode, void>({ query: () => ask(DEVICE_ROUTES.makeEntryCode) }),
    enter: build.mutation<DeviceView, { code: string; name: string }>({
      query: (body) => ask(DEVICE_ROUTES.enter, { body }),
      // Whatever was refused until now can be read.
      invalidatesTags: (device) => (device ? [...TAGS] : []),
    }),
    shutOut: build.mutation<DeviceView, string>({
      query: (id) => ask(DEVICE_ROUTES.shutOut, { params: { id } }),
      invalidatesTags: ['devices'],
    }),
  }),
});

export const { useHereQuery, useDevicesQuery, useMakeEntryCodeMutation, useEnterMutation, useShutOutMutation } =
  peopleApi;
