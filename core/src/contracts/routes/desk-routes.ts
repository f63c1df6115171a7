import type { State } from '../../desk/state';
import type { BaselineOrigins } from '../../scenes/baseline';
import { atHandShape, deskEditShape, type DeskView, moveShape } from '../desk';
import type { Unconfirmed } from '../restore';
import { get, type Nothing, patch, post, put } from '../route';

export const DESK_ROUTES = {
  desks: get('/desks', 'Every desk with what stands on it, in order.').answers<readonly DeskView[]>(),
  desk: get('/desks/:id', 'One desk with what stands on it.').answers<DeskView>(),
  editDesk: patch('/desks/:id', 'Changes the mode, safes, thresholds, show lock or the scene to swap to.', {
    body: deskEditShape,
  }).answers<DeskView>(),
  setScenesAtHand: put('/desks/:id/at-hand', 'Keeps exactly these scenes at hand, in this order.', {
    body: atHandShape,
  }).answers<DeskView>(),
  deskState: get('/desks/:id/state', 'Every setting as the desk has it now.').answers<State>(),
  baselineOrigins: get(
    '/desks/:id/baseline-origins',
    'The scenes that every part of what the desk is meant to hold came from.',
  ).answers<BaselineOrigins>(),
  baseline: get('/desks/:id/baseline', 'Every setting as the desk is meant to have it.').answers<State>(),
  moveSettings: post(
    '/desks/:id/settings',
    'Sends settings to the desk at once, as a hand on the screen does. What is safe is refused, and while the show is locked everything; in live mode what can hurt has to be confirmed.',
    {
      body: moveShape,
    },
  ).answers<{ readonly unconfirmed: readonly Unconfirmed[] }>(),
};

export const PROFILE_ROUTES = {
  profile: get('/profiles/:id', 'What a model of desk has: its families, sections and settings.', {
    gives: 'application/json',
  }).answers<Nothing>(),
};
