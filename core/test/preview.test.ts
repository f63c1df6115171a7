import fc from 'fast-check';

import { untouched, valueAt, withSettings, type Settings } from '../src/desk/state';
import { drift } from '../src/scene/drift';
import { preview } from '../src/preview/preview';
import { compileScope } from '../src/scope/compile';
import { EVERYTHING, type Safes, type Scope } from '../src/scope/rules';
import { PROFILES, quay, skiff } from './profiles';
import { anyState } from './random-state';

const base = withSettings(untouched(quay), {
  'in.1/fader/level': -10,
  'in.2/fader/level': -10,
  'in.1/preamp/gain': 30,
});
const plan = (settings: Settings, { scope = EVERYTHING, safes = [] as Safes, now = {} } = {}) =>
  preview({ profile: quay, now: withSettings(base, now), target: withSettings(base, settings), scope, safes });

describe('a preview', () => {
  test.each(PROFILES)(
    'on %s leads exactly to what the scope takes of the scene, and moves nothing else',
    (_, profile) => {
      const scopes: Scope[] = [EVERYTHING, [{ strips: ['in'], sections: ['fader', 'eq'], take: true }], []];
      fc.assert(
        fc.property(anyState(profile), anyState(profile), fc.constantFrom(...scopes), (now, target, scope) => {
          const { changes, stays } = preview({ profile, now, target, scope, safes: [] });
          const after = withSettings(now, Object.fromEntries(changes.map((c) => [c.address, c.to])));
          const { cells } = compileScope(profile, scope);
          for (const difference of drift(profile, target, after))
            expect(cells[difference.strip]?.[difference.section]).not.toBe('comes back');
          for (const difference of drift(profile, now, after))
            expect(cells[difference.strip]?.[difference.section]).toBe('comes back');
          expect(changes.length + stays.length).toBe(drift(profile, now, target).length);
        }),
        { numRuns: 15 },
      );
    },
  );

  test('says of everything that stays why it does', () => {
    const { changes, stays } = plan(
      { 'in.1/fader/level': -3, 'in.2/fader/level': -3, 'in.3/eq/1/gain': 2, 'desk.1/clock/rate': '96 kHz' },
      {
        scope: [
          { strips: ['*'], sections: ['fader'], take: true },
          { strips: ['*'], sections: ['clock'], take: true },
        ],
        safes: [{ strips: ['in.2'], sections: ['*'] }],
      },
    );
    expect(changes.map((c) => c.address)).toEqual(['in.1/fader/level']);
    expect(Object.fromEntries(stays.map((s) => [s.address, s.why]))).toEqual({
      'in.2/fader/level': 'safe',
      'in.3/eq/1/gain': 'out of scope',
      'desk.1/clock/rate': 'global',
    });
  });

  test('names what this desk does not have, and what it would refuse', () => {
    const target = { ...withSettings(untouched(skiff), { 'in.1/fader/level': -3 }), 'in.40': { 'fader/level': -3 } };
    const wrong = withSettings(target, { 'in.2/pan/position': 400, 'in.1/gate/on': true });
    const { changes, stays } = preview({
      profile: skiff,
      now: untouched(skiff),
      target: wrong,
      scope: EVERYTHING,
      safes: [],
    });
    expect(changes.map((c) => c.address)).toEqual(['in.1/fader/level']);
    expect(stays.map((s) => [s.address, s.why])).toEqual([
      ['in.1/gate/on', 'not on this desk'],
      ['in.2/pan/position', 'not on this desk'],
      ['in.40/fader/level', 'not on this desk'],
    ]);
  });

  test('goes: what closes, patch, gains down, processing, gains up, levels down, levels up, what opens', () => {
    const { changes } = plan(
      {
        'in.9/mute/on': false,
        'in.1/fader/level': -5,
        'in.2/fader/level': -20,
        'in.3/preamp/gain': 40,
        'in.1/preamp/gain': 12,
        'in.4/eq/on': true,
        'in.5/source/socket': 'Stage 9',
        'in.6/mute/on': true,
        'in.7/sends/mix.1/on': false,
      },
      { now: { 'in.9/mute/on': true, 'in.5/mute/on': true } },
    );
    expect(changes.map((c) => c.address)).toEqual([
      'in.6/mute/on',
      'in.7/sends/mix.1/on',
      'in.5/source/socket',
      'in.1/preamp/gain',
      'in.4/eq/on',
      'in.3/preamp/gain',
      'in.2/fader/level',
      'in.1/fader/level',
      'in.5/mute/on',
      'in.9/mute/on',
    ]);
  });

  test.each([
    ['48 V turns on under an open strip', { 'in.1/preamp/phantom': true }, {}, [], ['in.1']],
    [
      'the strip is muted already',
      { 'in.1/preamp/phantom': true, 'in.1/mute/on': true },
      { 'in.1/mute/on': true },
      [],
      [],
    ],
    ['its mute is safe', { 'in.1/preamp/phantom': true }, {}, [{ strips: ['in.1'], sections: ['mute'] }], []],
    ['the scene mutes it', { 'in.1/preamp/phantom': true, 'in.1/mute/on': true }, {}, [], []],
    ['only its fader moves', { 'in.1/fader/level': 0 }, {}, [], []],
  ])('a strip that would thump is muted on the way: %s', (_, settings, now, safes, guarded) => {
    expect(plan(settings as Settings, { now: now, safes: safes }).guarded).toEqual(guarded);
  });

  test('has another fingerprint as soon as something it would send has moved, and the same while it has not', () => {
    const first = plan({ 'in.1/fader/level': -3 });
    expect(
      plan(
        { 'in.1/fader/level': -3 },
        { now: { 'in.2/pan/position': 10 }, scope: [{ strips: ['in.1'], sections: ['*'], take: true }] },
      ).fingerprint,
    ).toBe(first.fingerprint);
    expect(plan({ 'in.1/fader/level': -3 }, { now: { 'in.1/fader/level': -9 } }).fingerprint).not.toBe(
      first.fingerprint,
    );
  });

  test('never alters what it is given', () => {
    const [now, target] = [JSON.stringify(base), withSettings(base, { 'in.1/fader/level': 0 })];
    const before = JSON.stringify(target);
    preview({ profile: quay, now: base, target, scope: EVERYTHING, safes: [] });
    expect([JSON.stringify(base), JSON.stringify(target)]).toEqual([now, before]);
    expect(valueAt(target, 'in.1/fader/level')).toBe(0);
  });
});
