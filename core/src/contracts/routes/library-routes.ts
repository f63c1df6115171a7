import { type ConversionPreview, conversionShape, type ConversionView, startConversionShape } from '../conversion';
import { outboardEditShape, outboardShape, type OutboardView } from '../outboard';
import { type Parts, partsShape, venueCaptureShape, venueShape, type VenueView } from '../part';
import { newEditionShape, newPresetShape, type PresetDetail, presetEditShape, type PresetView } from '../preset';
import type { Removal } from '../removal';
import { del, get, type Nothing, patch, post, put } from '../route';

export const PRESET_ROUTES = {
  presets: get('/presets', 'The library, without what its presets hold.').answers<readonly PresetView[]>(),
  savePreset: post('/presets', 'Saves a preset.', { body: newPresetShape, status: 201 }).answers<PresetView>(),
  preset: get('/presets/:id', 'A preset with what it holds, and what it held before.').answers<PresetDetail>(),
  editPreset: patch('/presets/:id', 'Changes what is written about a preset.', {
    body: presetEditShape,
  }).answers<PresetView>(),
  updatePreset: post('/presets/:id/editions', 'Writes other settings into a preset, or an earlier edition of it.', {
    body: newEditionShape,
    status: 201,
  }).answers<PresetView>(),
  binPreset: post('/presets/:id/bin', 'Moves a preset to the bin.').answers<PresetView>(),
  unbinPreset: post('/presets/:id/unbin', 'Takes a preset out of the bin.').answers<PresetView>(),
  deletePreset: del('/presets/:id', 'Deletes a preset that is in the bin, for good.').answers<Nothing>(),
};

export const PART_ROUTES = {
  parts: get('/productions/:production/parts', 'Which part each strip carries.').answers<Parts>(),
  setParts: put('/productions/:production/parts', 'Says which part each strip carries.', {
    body: partsShape,
  }).answers<Parts>(),
};

export const VENUE_ROUTES = {
  venues: get('/productions/:production/venues', 'The venues of a song or show, by name.').answers<
    readonly VenueView[]
  >(),
  addVenue: post('/productions/:production/venues', 'Adds a venue.', {
    body: venueShape,
    status: 201,
  }).answers<readonly VenueView[]>(),
  editVenue: patch('/productions/:production/venues/:id', 'Changes what is written about a venue.', {
    body: venueShape,
  }).answers<readonly VenueView[]>(),
  captureVenue: post('/productions/:production/venues/:id/capture', 'Keeps what parts are set to now as the venue’s.', {
    body: venueCaptureShape,
  }).answers<readonly VenueView[]>(),
  undoVenueCapture: post('/productions/:production/venues/:id/give-back', 'Undoes that.').answers<
    readonly VenueView[]
  >(),
  copyVenue: post('/productions/:production/venues/:id/copies', 'Adds a venue that holds the same.', {
    status: 201,
  }).answers<readonly VenueView[]>(),
  removeVenue: del('/productions/:production/venues/:id', 'Removes a venue.').answers<Removal>(),
};

export const OUTBOARD_ROUTES = {
  outboard: get('/productions/:production/outboard', 'The devices beside the desk.').answers<readonly OutboardView[]>(),
  outboardPhoto: get('/productions/:production/outboard/photos/:hash', 'A photo of a device.', {
    gives: 'image/*',
  }).answers<Nothing>(),
  addOutboard: post('/productions/:production/outboard', 'Adds a device.', {
    body: outboardShape,
    status: 201,
    by: 'assistant',
  }).answers<readonly OutboardView[]>(),
  editOutboard: patch('/productions/:production/outboard/:id', 'Changes a device.', {
    body: outboardEditShape,
    by: 'assistant',
  }).answers<readonly OutboardView[]>(),
  setOutboardPhoto: put('/productions/:production/outboard/:id/photo', 'Gives a device a photo.', {
    takes: 'image/*',
    by: 'assistant',
  }).answers<readonly OutboardView[]>(),
  removeOutboard: del('/productions/:production/outboard/:id', 'Removes a device.', {
    by: 'assistant',
  }).answers<Removal>(),
};

export const CONVERSION_ROUTES = {
  previewConversion: post(
    '/conversions/preview',
    'Which strip would go where on another desk, and what would change.',
    {
      body: conversionShape,
      looks: true,
    },
  ).answers<ConversionPreview>(),
  startConversion: post('/conversions', 'Begins to carry scenes over to another desk.', {
    body: startConversionShape,
    status: 202,
  }).answers<ConversionView>(),
  conversion: get('/conversions/:id', 'How far it is, and what it made.').answers<ConversionView>(),
  conversionReport: get('/conversions/:id/report.html', 'Its report for paper.', {
    gives: 'text/html',
  }).answers<Nothing>(),
  cancelConversion: post('/conversions/:id/cancel', 'Asks it to stop; nothing is made then.').answers<ConversionView>(),
};
