import { type DeviceView, type EntryCode, entryShape } from '../device';
import {
  type ChangePage,
  changesQueryShape,
  entryCodeShape,
  type HereView,
  passwordShape,
  personEditShape,
  type PersonView,
  signInShape,
} from '../person';
import { get, type Nothing, patch, post } from '../route';

/** How one gets in, and out again. */
export const DEVICE_ROUTES = {
  here: get('/here', 'Who asks, and what they may do.', { by: 'nothing' }).answers<HereView>(),
  enter: post('/devices', 'Lets in whoever asks with a code, which is good once and for two minutes.', {
    body: entryShape,
    status: 201,
    by: 'nothing',
  }).answers<DeviceView>(),
  signIn: post('/sign-in', 'Lets in whoever asks with a name and a password.', {
    body: signInShape,
    status: 201,
    by: 'nothing',
  }).answers<DeviceView>(),
  signOut: post('/sign-out', 'Shuts out the device that asks.', { by: 'viewer' }).answers<Nothing>(),
  setPassword: post('/password', 'Gives whoever asks a password, by which they get in on other devices.', {
    body: passwordShape,
    by: 'viewer',
  }).answers<Nothing>(),
};

/** Who is let in, and what they may do. */
export const PEOPLE_ROUTES = {
  people: get('/people', 'Who was let in, by which devices, and what they may do; by name.', {
    by: 'owner',
  }).answers<readonly PersonView[]>(),
  makeEntryCode: post('/entry-codes', 'Makes a code that lets somebody in on one more device.', {
    body: entryCodeShape,
    status: 201,
    by: 'owner',
  }).answers<EntryCode>(),
  editPerson: patch('/people/:id', 'Changes what somebody is called and may do.', {
    body: personEditShape,
    by: 'owner',
  }).answers<PersonView>(),
  forgetPassword: post('/people/:id/forget-password', 'Takes somebody’s password away.', {
    by: 'owner',
  }).answers<PersonView>(),
  removePerson: post('/people/:id/remove', 'Shuts somebody out with all of their devices, and forgets them.', {
    by: 'owner',
  }).answers<Nothing>(),
  shutOut: post('/devices/:id/shut-out', 'Shuts a device out at once.', { by: 'owner' }).answers<DeviceView>(),
  changes: get('/changes', 'Who changed what, and from which device; the newest first.', {
    query: changesQueryShape,
    by: 'owner',
  }).answers<ChangePage>(),
};
