import type {
  ConversionPreview,
  ConversionRequest,
  ConversionView,
  StartConversion,
} from '@old-echo/core/contracts/conversion';
import type { NewOutboard, OutboardEdit, OutboardView } from '@old-echo/core/contracts/outboard';
import type { NewParts, NewVenue, Parts, VenueCapture, VenueView } from '@old-echo/core/contracts/part';
import type {
  NewEdition,
  NewPreset,
  PresetDetail,
  PresetEdit,
  PresetOrigin,
  PresetView,
} from '@old-echo/core/contracts/preset';
import type { Removal } from '@old-echo/core/contracts/removal';
import {
  CONVERSION_ROUTES,
  OUTBOARD_ROUTES,
  PART_ROUTES,
  PRESET_ROUTES,
  VENUE_ROUTES,
} from '@old-echo/core/contracts/routes/library-routes';
import { PRESET_ORIGIN_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';

import { api } from './api';
import { ask } from './ask';

const libraryApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** The library, without what is in it. */
    presets: build.query<PresetView[], void>({ query: () => ask(PRESET_ROUTES.presets), providesTags: ['presets'] }),
    preset: build.query<PresetDetail, string>({
      query: (id) => ask(PRESET_ROUTES.preset, { params: { id } }),
      providesTags: ['presets'],
    }),
    newPreset: build.mutation<PresetView, NewPreset>({
      query: (preset) => ask(PRESET_ROUTES.savePreset, { body: preset }),
      invalidatesTags: ['presets'],
    }),
    editPreset: build.mutation<PresetView, { id: string; edit: PresetEdit }>({
      query: ({ id, edit }) => ask(PRESET_ROUTES.editPreset, { params: { id }, body: edit }),
      invalidatesTags: ['presets'],
    }),
    newEdition: build.mutation<PresetView, { id: string; edition: NewEdition }>({
      query: ({ id, edition }) => ask(PRESET_ROUTES.updatePreset, { params: { id }, body: edition }),
      invalidatesTags: ['presets', 'origins'],
    }),
    /** Strips of a desk that came from presets. */
    presetOrigins: build.query<PresetOrigin[], string>({
      query: (desk) => ask(PRESET_ORIGIN_ROUTES.presetOrigins, { params: { id: desk } }),
      providesTags: ['origins', 'restores'],
    }),
    forgetPresetOrigin: build.mutation<unknown, { desk: string; strip: string; preset: string }>({
      query: ({ desk, strip, preset }) =>
        ask(PRESET_ORIGIN_ROUTES.removePresetOrigin, { params: { id: desk, strip, preset } }),
      invalidatesTags: ['origins'],
    }),
    parts: build.query<Parts, string>({
      query: (production) => ask(PART_ROUTES.parts, { params: { production } }),
      providesTags: ['parts'],
    }),
    setParts: build.mutation<Parts, { production: string } & NewParts>({
      query: ({ production, ...body }) => ask(PART_ROUTES.setParts, { params: { production }, body }),
      invalidatesTags: ['parts'],
    }),
    venues: build.query<VenueView[], string>({
      query: (production) => ask(VENUE_ROUTES.venues, { params: { production } }),
      providesTags: ['venues'],
    }),
    addVenue: build.mutation<VenueView[], { production: string; name: string }>({
      query: ({ production, name }) => ask(VENUE_ROUTES.addVenue, { params: { production }, body: { name } }),
      invalidatesTags: ['venues'],
    }),
    editVenue: build.mutation<VenueView[], { production: string; id: string; words: NewVenue }>({
      query: ({ words, ...params }) => ask(VENUE_ROUTES.editVenue, { params, body: words }),
      invalidatesTags: ['venues'],
    }),
    captureVenue: build.mutation<VenueView[], { production: string; id: string; capture: VenueCapture }>({
      query: ({ capture, ...params }) => ask(VENUE_ROUTES.captureVenue, { params, body: capture }),
      invalidatesTags: ['venues'],
    }),
    copyVenue: build.mutation<VenueView[], { production: string; id: string }>({
      query: (params) => ask(VENUE_ROUTES.copyVenue, { params }),
      invalidatesTags: ['venues'],
    }),
    removeVenue: build.mutation<Removal, { production: string; id: string }>({
      query: ({ production, id }) => ask(VENUE_ROUTES.removeVenue, { params: { production, id } }),
      invalidatesTags: ['venues'],
    }),
    outboard: build.query<OutboardView[], string>({
      query: (production) => ask(OUTBOARD_ROUTES.outboard, { params: { production } }),
      providesTags: ['outboard'],
    }),
    newOutboard: build.mutation<OutboardView[], { production: string; device: NewOutboard }>({
      query: ({ production, device }) => ask(OUTBOARD_ROUTES.addOutboard, { params: { production }, body: device }),
      invalidatesTags: ['outboard'],
    }),
    editOutboard: build.mutation<OutboardView[], { production: string; id: string; edit: OutboardEdit }>({
      query: ({ production, id, edit }) =>
        ask(OUTBOARD_ROUTES.editOutboard, { params: { production, id }, body: edit }),
      invalidatesTags: ['outboard'],
    }),
    photograph: build.mutation<OutboardView[], { production: string; id: string; photo: Blob }>({
      query: ({ production, id, photo }) =>
        ask(OUTBOARD_ROUTES.setOutboardPhoto, {
          params: { production, id },
          body: photo,
          headers: { 'content-type': photo.type || 'application/octet-stream' },
        }),
      invalidatesTags: ['outboard'],
    }),
    removeOutboard: build.mutation<Removal, { production: string; id: string }>({
      query: ({ production, id }) => ask(OUTBOARD_ROUTES.removeOutboard, { params: { production, id } }),
      invalidatesTags: ['outboard'],
    }),
    conversionPreview: build.query<ConversionPreview, ConversionRequest>({
      query: (request) => ask(CONVERSION_ROUTES.previewConversion, { body: request }),
      keepUnusedDataFor: 0,
      providesTags: ['scenes', 'parts'],
    }),
    startConversion: build.mutation<ConversionView, StartConversion>({
      query: (request) => ask(CONVERSION_ROUTES.startConversion, { body: request }),
    }),
    conversion: build.query<ConversionView, string>({
      query: (id) => ask(CONVERSION_ROUTES.conversion, { params: { id } }),
      keepUnusedDataFor: 0,
    }),
    cancelConversion: build.mutation<ConversionView, string>({
      query: (id) => ask(CONVERSION_ROUTES.cancelConversion, { params: { id } }),
    }),
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
  useEditVenueMutation,
  useCaptureVenueMutation,
  useCopyVenueMutation,
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
