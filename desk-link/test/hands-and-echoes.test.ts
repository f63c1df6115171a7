import fc from 'fast-check';

import type { Value } from '@old-echo/core/desk/setting';

import { HandsAndEchoes } from '../src/hands-and-echoes';

const FADER = 'in.1/fader/level';
const WITHIN = 40;
const level = fc.integer({ min: -60, max: 10 });

const memory = () => new HandsAndEchoes((_, a, b) => a === b, WITHIN);
const hear = (of: HandsAndEchoes, value: number, now: number) => of.hear({ setting: FADER, wire: value, value }, now);

test('the echo of what was sent is a change and no hand; what nobody sent is a hand', () => {
  const settings = memory();
  hear(settings, -20, 0);
  settings.send(FADER, -10, -10, 10);
  expect(hear(settings, -10, 30)).toEqual({ value: -10, isChange: true, isHand: false, wasPut: undefined });
  expect(hear(settings, -10, 40)).toMatchObject({ isChange: false, isHand: false });
  expect(hear(settings, -30, 50)).toMatchObject({ isChange: true, isHand: true });
});

test('where a hand moved it while something was on its way, what arrives after it is taken back', () => {
  const settings = memory();
  hear(settings, -20, 0);
  settings.send(FADER, -10, -10, 10);
  expect(hear(settings, -33, 15)).toMatchObject({ isHand: true });
  expect(hear(settings, -10, 30)).toMatchObject({ isHand: false, wasPut: -33 });
  expect(settings.wasMovedByHandSince(FADER, 10)).toBe(true);
});

test('what a hand moved while something was on its way is contested until it is heard there, moved again, or sent elsewhere', () => {
  const overrun = () => {
    const settings = memory();
    hear(settings, -20, 0);
    settings.send(FADER, -10, -10, 10);
    hear(settings, -33, 15);
    expect(hear(settings, -10, 30)).toMatchObject({ wasPut: -33 });
    settings.send(FADER, -33, -33, 40);
    hear(settings, -33, 60);
    settings.answered(FADER, 50, 60);
    // What was asked so soon may have been answered before all had arrived.
    expect(settings.contested()).toEqual([FADER]);
    return settings;
  };
  const [stands, overrunAgain, moved, meant, refused] = [overrun(), overrun(), overrun(), overrun(), overrun()];
  stands.answered(FADER, 200, 220);
  expect(hear(overrunAgain, -10, 220)).toMatchObject({ isHand: false, wasPut: -33 });
  overrunAgain.answered(FADER, 200, 220);
  expect(overrunAgain.contested()).toEqual([FADER]);
  hear(moved, -50, 5000);
  meant.send(FADER, -5, -5, 220);
  refused.giveUp([FADER]);
  for (const settings of [stands, moved, meant, refused]) expect(settings.contested()).toEqual([]);
});

test('a hand that is told of later than what arrived before it on the desk is contested too', () => {
  const settings = memory();
  hear(settings, -20, 0);
  settings.send(FADER, -10, -10, 10);
  hear(settings, -10, 30);
  expect(hear(settings, -33, 40)).toMatchObject({ isHand: true });
  expect(hear(settings, -10, 200)).toMatchObject({ isHand: false, wasPut: -33 });
});

test('what arrives late on the desk, after what was sent later and after a hand, is taken back as well', () => {
  const settings = memory();
  hear(settings, -20, 0);
  settings.send(FADER, -15, -15, 5);
  settings.send(FADER, -10, -10, 10);
  hear(settings, -10, 30);
  // Without a hand it was only told late.
  expect(hear(settings, -15, 35)).toBeUndefined();
  settings.send(FADER, -8, -8, 40);
  settings.send(FADER, -5, -5, 45);
  hear(settings, -5, 60);
  hear(settings, -33, 65);
  expect(hear(settings, -8, 80)).toMatchObject({ isHand: false, wasPut: -33 });
});

test('where it stood a moment ago is a message that was overtaken, and means nothing; later it is a hand', () => {
  const settings = memory();
  hear(settings, -20, 0);
  settings.send(FADER, -10, -10, 10);
  hear(settings, -10, 30);
  expect(hear(settings, -20, 60)).toBeUndefined();
  expect(hear(settings, -20, 1000)).toMatchObject({ isHand: true });
});

test('a desk that rounds holds what was sent to it', () => {
  const settings = memory();
  settings.send(FADER, -10.04, -10, 0);
  expect(settings.hear({ setting: FADER, wire: -10, value: -10 }, 20)).toMatchObject({ value: -10.04 });
  settings.beginAnew(1000);
  expect(settings.hear({ setting: FADER, wire: -10, value: -10 }, 1020)).toMatchObject({
    value: -10.04,
    isHand: false,
  });
});

test('whatever was sent in vain, once the desk has answered for it every move is a hand and stays', () => {
  fc.assert(
    fc.property(
      fc.array(level, { minLength: 1, maxLength: 8 }),
      level,
      fc.array(level, { maxLength: 8 }),
      (sent, stands, hands) => {
        const settings = memory();
        hear(settings, -90, 0);
        sent.forEach((value, i) => settings.send(FADER, value, value, 1 + i));
        hear(settings, stands, 20);
        settings.answered(FADER, 15, 20);
        // And again once all must have arrived, where it stands elsewhere than anybody has sent it.
        hear(settings, stands, 200);
        settings.answered(FADER, 190, 200);
        let [now, before]: [number, Value] = [200 + 1000, stands];
        for (const value of hands) {
          const heard = hear(settings, value, (now += 10));
          expect(heard).toEqual({ value, isChange: value !== before, isHand: value !== before, wasPut: undefined });
          before = value;
        }
      },
    ),
  );
});

test('an answer to what was asked before it was sent settles nothing', () => {
  const settings = memory();
  hear(settings, -20, 0);
  settings.send(FADER, -10, -10, 10);
  settings.answered(FADER, 5, 12);
  expect(hear(settings, -10, 400)).toMatchObject({ isHand: false });
});
