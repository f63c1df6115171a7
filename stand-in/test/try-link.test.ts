import { MOST_LISTED } from '@old-echo/core/desk/link-trial';
import { parseProfile } from '@old-echo/core/desk/profile';
import { addressesOf } from '@old-echo/core/desk/state';
import { tryLink } from '@old-echo/desk-link/try-link';
import { profileJson, quay, skiff } from '@old-echo/testing/profiles';

import { SimulatedDesk } from '../src/desk';
import { DeskServer } from '../src/front';

let front: DeskServer;
let port: number;
const open = async (profile = skiff) => {
  front = new DeskServer(new SimulatedDesk(profile));
  port = await front.open(0);
};
const tried = (profile = skiff) => tryLink({ profile, host: '127.0.0.1', port });
afterEach(() => front.close());

test('a desk that is all right says who it is, how far it is, and answers every setting; nothing on it moves', async () => {
  await open();
  const before = front.desk.settings();
  const trial = await tried();
  expect(trial).toMatchObject({
    desk: { profileId: skiff.id, name: skiff.name },
    why: '',
    lost: 0,
    settings: addressesOf(skiff).length,
    answered: addressesOf(skiff).length,
    unanswered: 0,
    missing: [],
    unfit: [],
  });
  expect(trial.roundTrip!.worst).toBeGreaterThanOrEqual(trial.roundTrip!.median);
  expect(front.desk.settings()).toEqual(before);
});

test('loss is counted, and made up for when settings are asked for', async () => {
  await open();
  front.misbehave({ loss: 0.3, seed: 7 });
  const { lost, packets, unanswered, settings } = await tried();
  // Both ways a packet comes through with 0.7 · 0.7 = 49 %.
  expect(lost).toBeGreaterThan(packets * 0.2);
  expect(lost).toBeLessThan(packets * 0.8);
  // After four rounds (1 − 0.49)⁴ = 7 % may be left of a strip, as many as share a packet.
  expect(unanswered).toBeLessThan(settings * 0.2);
});

test('a desk that is frozen, one that is off, and a name that nobody has are told apart from one that answers', async () => {
  await open();
  front.freeze(true);
  expect((await tried()).why).toBe(`Nothing answers at 127.0.0.1:${port}.`);
  await front.close();
  expect((await tried()).why).toBe(`No desk listens at 127.0.0.1:${port}.`);
  const nowhere = await tryLink({ profile: skiff, host: 'no.such.desk.invalid', port });
  expect(nowhere).toMatchObject({ desk: null, why: 'There is no way to no.such.desk.invalid.', settings: 0 });
});

test('another model is named, and not read', async () => {
  await open(quay);
  const trial = await tried(skiff);
  expect([trial.desk?.profileId, trial.why, trial.settings]).toEqual([
    quay.id,
    `A ${quay.name} answers at 127.0.0.1:${port}, not a ${skiff.name}.`,
    0,
  ]);
});

/** The small desk with another count of inputs, and faders up to another level. */
const changed = (inputs: number, top: number) => {
  const source = structuredClone(profileJson('skiff-16')) as {
    families: { id: string; count: number; sections: Record<string, Record<string, { max?: number }>> }[];
  };
  const family = source.families.find(({ id }) => id === 'in')!;
  family.count = inputs;
  family.sections['fader']!['level']!.max = top;
  return parseProfile(source);
};

test('what the profile has and the desk has not is listed, and so is a value that does not fit', async () => {
  await open(changed(14, 10));
  front.hands({ 'in.3/fader/level': 6 });
  const profile = changed(16, 0);
  const trial = await tried(profile);
  const more = addressesOf(profile).filter((address) => /^in\.1[56]\//.test(address));
  expect([trial.unanswered, trial.missing]).toEqual([more.length, more.slice(0, MOST_LISTED)]);
  expect(trial.unfit).toEqual([{ address: 'in.3/fader/level', why: expect.any(String) as string }]);
  expect(trial.answered).toBe(trial.settings - more.length - 1);
});
