import type {
  ConversionPreview,
  ConversionRequest,
  ConversionView,
  StartConversion,
} from '@old-echo/core/contracts/conversion';
import type { NewOutboard, OutboardEdit, OutboardView } from '@old-echo/core/contracts/outboard';
import type { NewParts, Parts, VenueView } from '@old-echo/core/contracts/part';
import type {
  NewEdition,
  NewPreset,
  PresetDetail,
  PresetEdit,
  PresetOrigin,
  PresetView,
} from '@old-echo/core/contracts/preset';
import type { Removal } from '@old-echo/core/contracts/removal';

import { api, post } from './api';

const libraryApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** The library, without what is in it. */
    presets: build.query<PresetView[], void>({ query: () => '/presets', providesTags: ['presets'] }),
    preset: build.query<PresetDetail, string>({ query: (id) => `/presets/${id}`, providesTags: ['presets'] }),
    newPreset: build.mutation<PresetView, NewPreset>({
      query: (preset) => post('/presets', preset),
      invalidatesTags: ['presets'],
    }),
    editPreset: build.mutation<PresetView, { id: string; edit: PresetEdit }>({
      query: ({ id, edit }) => ({ url: `/presets/${id}`, method: 'PATCH', body: edit }),
      invalidatesTags: ['presets'],
    }),
    newEdition: build.mutation<PresetView, { id: string; edition: NewEdition }>({
      query: ({ id, edition }) => post(`/presets/${id}/editions`, edition),
      invalidatesTags: ['presets', 'origins'],
    }),
    /** Strips of a desk that came from presets. */
    presetOrigins: build.query<PresetOrigin[], string>({
      query: (desk) => `/desks/${desk}/preset-origins`,
      providesTags: ['origins', 'restores'],
    }),
    forgetPresetOrigin: build.mutation<unknown, { desk: string; strip: string; preset: string }>({
      query: ({ desk, strip, preset }) => ({
        url: `/desks/${desk}/desks/${strip}/preset-origins/${preset}`,
        method: 'DELETE',
      }),
      invalidatesTags: ['origins'],
    }),
    parts: build.query<Parts, string>({
      query: (production) => `/productions/${production}/parts`,
      providesTags: ['parts'],
    }),
    setParts: build.mutation<Parts, { production: string } & NewParts>({
      query: ({ production, ...body }) => ({ url: `/productions/${production}/parts`, method: 'PUT', body }),
      invalidatesTags: ['parts'],
    }),
    venues: build.query<VenueView[], string>({
      query: (production) => `/productions/${production}/venues`,
      providesTags: ['venues'],
    }),
    addVenue: build.mutation<VenueView[], { production: string; name: string }>({
      query: ({ production, name }) => post(`/productions/${production}/venues`, { name }),
      invalidatesTags: ['venues'],
    }),
    captureVenue: build.mutation<VenueView[], { production: string; id: string }>({
      query: ({ production, id }) => post(`/productions/${production}/venues/${id}/capture`),
      invalidatesTags: ['venues'],
    }),
    removeVenue: build.mutation<Removal, { production: string; id: string }>({
      query: ({ production, id }) => ({ url: `/productions/${production}/venues/${id}`, method: 'DELETE' }),
      invalidatesTags: ['venues'],
    }),
    outboard: build.query<OutboardView[], string>({
      query: (production) => `/productions/${production}/outboard`,
      providesTags: ['outboard'],
    }),
    newOutboard: build.mutation<OutboardView[], { production: string; device: NewOutboard }>({
      query: ({ production, device }) => post(`/productions/${production}/outboard`, device),
      invalidatesTags: ['outboard'],
    }),
    editOutboard: build.mutation<OutboardView[], { production: string; id: string; edit: OutboardEdit }>({
      query: ({ production, id, edit }) => ({
        url: `/productions/${production}/outboard/${id}`,
        method: 'PATCH',
        body: edit,
      }),
      invalidatesTags: ['outboard'],
    }),
    photograph: build.mutation<OutboardView[], { production: string; id: string; photo: Blob }>({
      query: ({ production, id, photo }) => ({
        url: `/productions/${production}/outboard/${id}/photo`,
        method: 'PUT',
        body: photo,
        headers: { 'content-type': photo.type || 'application/octet-stream' },
      }),
      invalidatesTags: ['outboard'],
    }),
    removeOutboard: build.mutation<Removal, { production: string; id: string }>({
      query: ({ production, id }) => ({ url: `/productions/${production}/outboard/${id}`, method: 'DELETE' }),
      invalidatesTags: ['outboard'],
    }),
    conversionPreview: build.query<ConversionPreview, ConversionRequest>({
      query: (request) => post('/conversions/preview', request),
      keepUnusedDataFor: 0,
      providesTags: ['scenes', 'parts'],
    }),
    startConversion: build.mutation<ConversionView, StartConversion>({
      query: (request) => post('/conversions', request),
    }),
    conversion: build.query<ConversionView, string>({ query: (id) => `/conversions/${id}`, keepUnusedDataFor: 0 }),
    cancelConversion: build.mutation<ConversionView, string>({ query: (id) => post(`/conversions/${id}/cancel`) }),
  }),
});

export const {
  usePresetsQuery,
  usePresetQuery,
  useLazyPresetQuery,
  useNewPresetMutation,
  useEditPresetMutation,
  useNewEditionMutation,
  usePresetOriginsQuery,
  useForgetPresetOriginMutation,
  usePartsQuery,
  useSetPartsMutation,
  useVenuesQuery,
  useAddVenueMutation,
  useCaptureVenueMutation,
  useRemoveVenueMutation,
  useOutboardQuery,
  useNewOutboardMutation,
  useEditOutboardMutation,
  usePhotographMutation,
  useRemoveOutboardMutation,
  useConversionPreviewQuery,
  useStartConversionMutation,
  useConversionQuery,
  useCancelConversionMutation,
} = libraryApi;
