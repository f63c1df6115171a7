import { CLIENT_LINK_ROUTES, CLIENT_ROUTES } from './client-routes';
import { COMBINATION_ROUTES, FOLLOWER_ROUTES, MIX_NOTE_ROUTES, ORIGIN_ROUTES } from './combine-routes';
import { DESK_ROUTES, LISTENING_ROUTES, PROFILE_ROUTES } from './desk-routes';
import { EXPORT_ROUTES, IMPORT_ROUTES, SHEET_ROUTES } from './file-routes';
import { CONVERSION_ROUTES, OUTBOARD_ROUTES, PART_ROUTES, PRESET_ROUTES, VENUE_ROUTES } from './library-routes';
import { DEVICE_ROUTES, PEOPLE_ROUTES } from './people-routes';
import {
  DESK_RECALL_ROUTES,
  PRESET_ORIGIN_ROUTES,
  RESTORE_ROUTES,
  RIPPLE_ROUTES,
  SCOPE_ROUTES,
  STAGED_SETTINGS_ROUTES,
} from './recall-routes';
import {
  CAPTURE_ROUTES,
  PRODUCTION_ROUTES,
  REMOVAL_ROUTES,
  SCENE_ROUTES,
  STORAGE_ROUTES,
  VERSION_ROUTES,
} from './scene-routes';
import { BLIND_TEST_ROUTES, RENDER_ROUTES, STEM_ROUTES } from './sound-routes';

/** Every address of the server, by wing: what the documentation tells, and what screens ask by. */
export const ROUTES = {
  desk: { ...DESK_ROUTES, ...LISTENING_ROUTES, ...PROFILE_ROUTES },
  scenes: {
    ...CAPTURE_ROUTES,
    ...PRODUCTION_ROUTES,
    ...VERSION_ROUTES,
    ...SCENE_ROUTES,
    ...REMOVAL_ROUTES,
    ...STORAGE_ROUTES,
  },
  recall: {
    ...DESK_RECALL_ROUTES,
    ...RESTORE_ROUTES,
    ...RIPPLE_ROUTES,
    ...SCOPE_ROUTES,
    ...STAGED_SETTINGS_ROUTES,
    ...PRESET_ORIGIN_ROUTES,
  },
  sound: { ...STEM_ROUTES, ...RENDER_ROUTES, ...BLIND_TEST_ROUTES },
  combine: { ...COMBINATION_ROUTES, ...ORIGIN_ROUTES, ...FOLLOWER_ROUTES, ...MIX_NOTE_ROUTES },
  library: { ...PRESET_ROUTES, ...PART_ROUTES, ...VENUE_ROUTES, ...OUTBOARD_ROUTES, ...CONVERSION_ROUTES },
  people: { ...DEVICE_ROUTES, ...PEOPLE_ROUTES, ...CLIENT_LINK_ROUTES, ...CLIENT_ROUTES },
  files: { ...IMPORT_ROUTES, ...EXPORT_ROUTES, ...SHEET_ROUTES },
};
