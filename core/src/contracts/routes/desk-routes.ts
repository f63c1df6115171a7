import type { FoundDesk, LinkTrial } from '../../desk/link-trial';
import type { LoggedMessages } from '../../desk/logged-message';
import type { ProfileChangeView } from '../../desk/profile-change';
import type { State } from '../../desk/state';
import type { BaselineOrigins } from '../../scenes/baseline';
import { atHandShape, deskEditShape, deskPlaceShape, type DeskView, moveShape, newDeskShape } from '../desk';
import { linkTrialShape } from '../link-trial';
import { askedShape, listeningShape, type ListeningView } from '../listening';
import { changedProfileShape, newProfileShape, type ProfileSummary } from '../profile';
import type { Unconfirmed } from '../restore';
import { del, get, type Nothing, patch, post, put } from '../route';
import { wireQueryShape } from '../wire';

export const DESK_ROUTES = {
  desks: get('/desks', 'Every desk with what stands on it, in order.').answers<readonly DeskView[]>(),
  desk: get('/desks/:id', 'One desk with what stands on it.').answers<DeskView>(),
  addDesk: post('/desks', 'Adds a desk of a model that is here, and begins to look for it.', {
    body: newDeskShape,
    status: 201,
  }).answers<DeskView>(),
  placeDesk: put('/desks/:id/place', 'Says what a desk is called and where it is, and looks for it there.', {
    body: deskPlaceShape,
  }).answers<DeskView>(),
  removeDesk: post('/desks/:id/remove', 'Takes a desk out of use. Its songs and shows stay.').answers<DeskView>(),
  bringBackDesk: post('/desks/:id/bring-back', 'Takes a desk into use again.').answers<DeskView>(),
  nearbyDesks: get(
    '/nearby-desks',
    'Desks that answer on this computer and its networks, and are not in use here yet.',
    { by: 'engineer' },
  ).answers<readonly FoundDesk[]>(),
  tryLink: post(
    '/link-trials',
    'Looks at a desk before it is used: who answers, how fast, and which settings. Nothing on it is moved.',
    { body: linkTrialShape, by: 'engineer', looks: true },
  ).answers<LinkTrial>(),
  wire: get('/desks/:id/wire', 'What went over the wire to a desk and back after a packet, the oldest first.', {
    query: wireQueryShape,
    by: 'engineer',
  }).answers<LoggedMessages>(),
  exportWire: get('/desks/:id/wire/list.csv', 'The last packets to a desk and back, as a table.', {
    gives: 'text/csv',
    by: 'engineer',
  }).answers<Nothing>(),
  editDesk: patch(
    '/desks/:id',
    'Changes the mode, safes, thresholds, show lock, the scene to swap to or the song or show it works on.',
    {
      body: deskEditShape,
    },
  ).answers<DeskView>(),
  forgetPin: post('/desks/:id/forget-pin', 'Lets the show lock be lifted without its PIN.', {
    by: 'owner',
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
      by: 'in the studio',
    },
  ).answers<{ readonly unconfirmed: readonly Unconfirmed[] }>(),
};

export const LISTENING_ROUTES = {
  startListening: post(
    '/listenings',
    'Begins to listen to a desk whose language is to be learned. Nothing on it is moved.',
    {
      body: listeningShape,
      status: 201,
      by: 'engineer',
      looks: true,
    },
  ).answers<ListeningView>(),
  listening: get('/listenings/:id', 'What went there and back after a packet, the oldest first.', {
    query: wireQueryShape,
  }).answers<LoggedMessages>(),
  askDesk: post(
    '/listenings/:id/questions',
    'After how many ms the desk answers a question with a value; null where it does not.',
    {
      body: askedShape,
      by: 'engineer',
      looks: true,
    },
  ).answers<{ readonly answeredIn: number | null }>(),
  endListening: del('/listenings/:id', 'Ends it.', { by: 'engineer', looks: true }).answers<Nothing>(),
};

export const PROFILE_ROUTES = {
  profiles: get('/profiles', 'The models of desks that are here, in alphabetical order.').answers<
    readonly ProfileSummary[]
  >(),
  addProfile: post(
    '/profiles',
    'Adds a model of desk from what its profile says. One that is here already stays as it is.',
    {
      body: newProfileShape,
      status: 201,
    },
  ).answers<ProfileSummary>(),
  previewProfileChange: post(
    '/profiles/:id/change-previews',
    'What it would mean for desks, scenes and presets if a model of desk were another. Nothing is changed.',
    {
      body: newProfileShape,
      by: 'engineer',
      looks: true,
    },
  ).answers<ProfileChangeView>(),
  changeProfile: put(
    '/profiles/:id',
    'Changes a model of desk. What its scenes hold beyond it is set aside, and comes back with it.',
    {
      body: changedProfileShape,
    },
  ).answers<ProfileSummary>(),
  exportProfile: get('/profiles/:id/file', 'A model of desk as a file.', {
    gives: 'application/json',
  }).answers<Nothing>(),
  profile: get('/profiles/:id', 'What a model of desk has: its families, sections and settings.', {
    gives: 'application/json',
  }).answers<Nothing>(),
};
