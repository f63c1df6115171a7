import { type DeviceView, type EntryCode, entryShape, type HereView } from '../device';
import { get, post } from '../route';

export const DEVICE_ROUTES = {
  here: get(
    '/here',
    'Who asks: the machine Old Echo runs on, a device that was let in, or neither.',
  ).answers<HereView>(),
  devices: get('/devices', 'The devices that were let in, the newest first.').answers<readonly DeviceView[]>(),
  enter: post('/devices', 'Lets in whoever asks with a code, which is good once and for two minutes.', {
    body: entryShape,
    status: 201,
  }).answers<DeviceView>(),
  makeEntryCode: post('/entry-codes', 'Makes a code that lets one more device in.', {
    status: 201,
  }).answers<EntryCode>(),
  shutOut: post('/devices/:id/shut-out', 'Shuts a device out at once.').answers<DeviceView>(),
};
