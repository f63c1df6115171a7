import fc from 'fast-check';

import { PROFILES, quay, skiff } from '@old-echo/testing/profiles';
import { anySettings, anyState } from '@old-echo/testing/random-state';

import { diffStates } from '../../src/desk/diff-states';
import { defaultState, filled, type SettingsByAddress, valueAt, withSettings } from '../../src/desk/state';
import { compileScope } from '../../src/recall/compile-scope';
import { preview } from '../../src/recall/preview';
import { recallTarget } from '../../src/recall/recall-target';
import { ALL_EXCEPT_GLOBALS, type Safes, type Scope } from '../../src/recall/scope-rules';

const mode = 'studio';
const base = withSettings(defaultState(quay), {
  'in.1/fader/level': -10,
  'in.2/fader/level': -10,
  'in.1/preamp/gain': 30,
});
const plan = (settings: SettingsByAddress, { scope = ALL_EXCEPT_GLOBALS, safes = [] as Safes, now = {} } = {}) =>
  preview({ profile: quay, now: withSettings(base, now), target: withSettings(base, settings), scope, safes, mode });

describe('a preview', () => {
  test.each(PROFILES)(
    'on %s leads exactly to what the scope takes of the scene, and moves nothing else',
    (_, profile) => {
      const scopes: Scope[] = [ALL_EXCEPT_GLOBALS, [{ strips: ['in'], sections: ['fader', 'eq'], include: true }], []];
      fc.assert(
        fc.property(anyState(profile), anyState(profile), fc.constantFrom(...scopes), (now, target, scope) => {
          const { changes, stays } = preview({ profile, now, target, scope, safes: [], mode });
          const after = withSettings(now, Object.fromEntries(changes.map((c) => [c.address, c.to])));
          const { cells } = compileScope(profile, scope);
          for (const difference of diffStates(profile, target, after))
            expect(cells[difference.strip]?.[difference.section]).not.toBe('comes back');
          for (const difference of diffStates(profile, now, after))
            expect(cells[difference.strip]?.[difference.section]).toBe('comes back');
          expect(changes.length + stays.length).toBe(diffStates(profile, now, target).length);
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
          { strips: ['*'], sections: ['fader'], include: true },
          { strips: ['*'], sections: ['clock'], include: true },
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
    const target = { ...withSettings(defaultState(skiff), { 'in.1/fader/level': -3 }), 'in.40': { 'fader/level': -3 } };
    const wrong = withSettings(target, { 'in.2/pan/position': 400, 'in.1/gate/on': true });
    const { changes, stays } = preview({
      profile: skiff,
      now: defaultState(skiff),
      target: wrong,
      scope: ALL_EXCEPT_GLOBALS,
      safes: [],
      mode,
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
    expect(plan(settings as SettingsByAddress, { now: now, safes: safes }).guarded).toEqual(guarded);
  });

  test('has the same fingerprint wherever hands have put the desk meanwhile, and another once anything else was asked', () => {
    const first = plan({ 'in.1/fader/level': -3 }).fingerprint;
    fc.assert(
      fc.property(anySettings(quay), (now) => {
        expect(plan({ 'in.1/fader/level': -3 }, { now }).fingerprint).toBe(first);
      }),
      { numRuns: 50 },
    );
    expect(plan({ 'in.1/fader/level': -2 }).fingerprint).not.toBe(first);
    expect(plan({ 'in.1/fader/level': -3 }, { scope: [] }).fingerprint).not.toBe(first);
    expect(plan({ 'in.1/fader/level': -3 }, { safes: [{ strips: ['in.9'], sections: ['eq'] }] }).fingerprint).not.toBe(
      first,
    );
  });

  test('never alters what it is given', () => {
    const [now, target] = [JSON.stringify(base), withSettings(base, { 'in.1/fader/level': 0 })];
    const before = JSON.stringify(target);
    preview({ profile: quay, now: base, target, scope: ALL_EXCEPT_GLOBALS, safes: [], mode });
    expect([JSON.stringify(base), JSON.stringify(target)]).toEqual([now, before]);
    expect(valueAt(target, 'in.1/fader/level')).toBe(0);
  });
});

describe('where a recall leads', () => {
  const how = { resume: undefined, onto: [], withPatch: false, relativeTo: null };
  const scene = withSettings(base, { 'in.3/eq/1/gain': 4, 'in.3/source/socket': 'Stage 30', 'in.3/fader/level': -8 });

  test.each(PROFILES)('on %s the difference between two scenes, applied to the first, is the second', (_, profile) => {
    fc.assert(
      fc.property(anyState(profile), anyState(profile), (from, to) => {
        const there = recallTarget(profile, from, { ...how, relativeTo: 'id' }, { scene: to, base: from });
        expect(diffStates(profile, to, filled(there ?? {}, from))).toEqual([]);
        // Without a difference there is nothing to apply.
        expect(recallTarget(profile, from, { ...how, relativeTo: 'id' }, { scene: to, base: to })).toEqual({});
      }),
      { numRuns: 15 },
    );
  });

  test.each([
    ['adds what moved', { from: -10, to: -7, at: -20 }, -17],
    ['stays inside the range', { from: -10, to: -2, at: 8 }, 10],
    ['a level that was off takes the scene’s value', { from: -90, to: -7, at: -20 }, -7],
    ['one that is off on the desk too', { from: -10, to: -7, at: -90 }, -7],
    ['one that goes off goes off', { from: -10, to: -90, at: -20 }, -90],
  ])('relative: %s', (_, { from, to, at }, expected) => {
    const [a, b, now] = [from, to, at].map((level) => withSettings(base, { 'in.1/fader/level': level }));
    const target = recallTarget(quay, now!, { ...how, relativeTo: 'id' }, { scene: b, base: a });
    expect(valueAt(target!, 'in.1/fader/level')).toBe(expected);
  });

  // Common practice: settings put on another strip leave its input alone.
  test('onto other strips everything but source and patch comes along, unless it is asked for', () => {
    const onto = [{ from: 'in.3', to: ['in.7', 'in.8'] }];
    const moved = (withPatch: boolean) =>
      diffStates(quay, base, recallTarget(quay, base, { ...how, onto, withPatch }, { scene })!).map((c) => c.address);
    const expected = ['in.7', 'in.8'].flatMap((s) => [`${s}/eq/1/gain`, `${s}/fader/level`]);
    expect(moved(false).filter((address) => !address.includes('label'))).toEqual(expected);
    expect(moved(true)).toContain('in.8/source/socket');
  });

  test('a strip put onto one of another kind: what that one does not have stays behind, and is named', () => {
    const target = recallTarget(quay, base, { ...how, onto: [{ from: 'in.3', to: ['mix.1'] }] }, { scene })!;
    const { changes, stays } = preview({
      profile: quay,
      now: base,
      target,
      scope: ALL_EXCEPT_GLOBALS,
      safes: [],
      mode,
    });
    expect(changes.map((c) => c.address)).toContain('mix.1/eq/1/gain');
    expect(stays.filter((s) => s.why === 'not on this desk').map((s) => s.section)).toContain('gate');
  });

  test('a restore that did not end leads on to where it was going, or back to where it came from', () => {
    const changes = [{ address: 'in.1/fader/level', from: -10, to: -3 }] as never;
    const journal = { changes, guarded: ['in.2'] };
    const now = withSettings(base, { 'in.1/fader/level': -6, 'in.2/mute/on': true });
    const ends = (['finish', 'roll back'] as const).map((end) => {
      const target = recallTarget(quay, now, { ...how, resume: { restoreId: 'id', how: end } }, { journal })!;
      return diffStates(quay, now, target).map((c) => [c.address, c.now]);
    });
    expect(ends).toEqual([
      [
        ['in.1/fader/level', -3],
        ['in.2/mute/on', false],
      ],
      [
        ['in.1/fader/level', -10],
        ['in.2/mute/on', false],
      ],
    ]);
  });
});
