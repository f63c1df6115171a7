import { object } from 'yup';

import { idShape } from '../../fault/text-shapes';
import type { Caution, CautionItem, Point } from '../../recall/caution';
import type { Preview } from '../../recall/planned-changes';
import type { Journal } from '../../recall/recall-target';
import { type PresetOrigin, type StagedSettings, stagedSettingsShape } from '../preset';
import type { Removal } from '../removal';
import {
  cancelShape,
  recallShape,
  type RestorePage,
  restoreRequestShape,
  type RestoreView,
  swapShape,
  type SwapView,
  walkMarksShape,
} from '../restore';
import { type RipplePreview, rippleShape, type RippleView } from '../ripple';
import { del, get, type Nothing, post } from '../route';
import { timestampShape } from '../scene';
import { type NamedScope, namedScopeShape } from '../scope';

/** A preview as JSON has it, which knows no infinity: a `rise` of null is that of what opens. */
export type PreviewView = Omit<Preview, 'cautions'> & {
  readonly cautions: readonly (Omit<Caution, 'items'> & {
    readonly items: readonly (Omit<CautionItem, 'rise'> & { readonly rise?: number | null })[];
  })[];
};

const transitionShape = object({ from: idShape.required(), to: idShape.required() }).noUnknown().required();

export const DESK_RECALL_ROUTES = {
  previewRestore: post('/desks/:id/previews', 'What a restore would change now, and what to be careful of.', {
    body: recallShape,
    looks: true,
  }).answers<PreviewView>(),
  previewRipple: post('/desks/:id/ripple-previews', 'What a change would do to each of some scenes.', {
    body: rippleShape,
    looks: true,
  }).answers<readonly RipplePreview[]>(),
  startRipple: post('/desks/:id/ripples', 'Begins to write a change into many scenes.', {
    body: rippleShape,
    status: 202,
  }).answers<RippleView>(),
  accepted: get('/desks/:id/accepted', 'What was accepted when one scene followed another before.', {
    query: transitionShape,
  }).answers<readonly Point[]>(),
  forgetAccepted: del('/desks/:id/accepted', 'Forgets that, so that it is asked for again.', {
    query: transitionShape,
  }).answers<Nothing>(),
  restoreLog: get('/desks/:id/restores', 'A page of the restores of a desk, the newest first.', {
    query: object({ before: timestampShape.optional() }).noUnknown().required(),
  }).answers<RestorePage>(),
  swap: post('/desks/:id/swaps', 'Restores the scene to swap to; what is there becomes the next.', {
    body: swapShape,
    status: 202,
    by: 'in the studio',
  }).answers<SwapView>(),
  startRestore: post('/desks/:id/restores', 'Begins a restore, as it was looked at in its preview.', {
    body: restoreRequestShape,
    status: 202,
    by: 'in the studio',
  }).answers<RestoreView>(),
};

export const RESTORE_ROUTES = {
  restore: get('/restores/:id', 'How far a restore is, and how it ended.').answers<RestoreView>(),
  journal: get('/restores/:id/journal', 'Every setting that a restore was going to send, in order.').answers<Journal>(),
  cancelRestore: post('/restores/:id/cancel', 'Stops a restore where it is, or takes it back.', {
    body: cancelShape,
    by: 'in the studio',
  }).answers<Nothing>(),
  markWalk: post(
    '/restores/:id/marks',
    'Says what of a restore was set by hand, what could not be, or takes that back.',
    {
      body: walkMarksShape,
      by: 'in the studio',
    },
  ).answers<RestoreView>(),
  endWalk: post('/restores/:id/end', 'Ends what is set by hand; what nobody has set is named in the report.', {
    by: 'in the studio',
  }).answers<RestoreView>(),
};

export const RIPPLE_ROUTES = {
  ripple: get('/ripples/:id', 'How far a change of many scenes is, and what it made.').answers<RippleView>(),
  cancelRipple: post('/ripples/:id/cancel', 'Asks it to stop; no scene is changed then.').answers<RippleView>(),
  undoRipple: post('/ripples/:id/undo', 'Puts the scenes of before back.').answers<RippleView>(),
};

export const SCOPE_ROUTES = {
  savedScopes: get('/saved-scopes/:profile', 'The saved scopes of a model of desk, by name.').answers<
    readonly NamedScope[]
  >(),
  saveScope: post('/saved-scopes', 'Saves a scope; one of its name is written over.', {
    body: namedScopeShape,
  }).answers<NamedScope>(),
  removeScope: del('/saved-scopes/:id', 'Removes a saved scope.').answers<Removal>(),
};

export const STAGED_SETTINGS_ROUTES = {
  stageSettings: post('/staged-settings', 'Keeps settings that are to be restored to a desk.', {
    body: stagedSettingsShape,
    status: 201,
    looks: true,
  }).answers<StagedSettings>(),
  stagedSettings: get('/staged-settings/:id', 'Settings that are to be restored to a desk.').answers<StagedSettings>(),
};

export const PRESET_ORIGIN_ROUTES = {
  presetOrigins: get('/desks/:id/preset-origins', 'Which strips of a desk came from which presets.').answers<
    readonly PresetOrigin[]
  >(),
  removePresetOrigin: del(
    '/desks/:id/preset-origins/:strip/:preset',
    'Forgets where a strip came from.',
  ).answers<Nothing>(),
};
