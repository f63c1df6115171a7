import fc from 'fast-check';

import { boathouse as profile } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { diffStates } from '../../src/desk/diff-states';
import { laneOfProcessor, movedByLane } from '../../src/desk/lane';
import { stripFamily } from '../../src/desk/profile';
import type { Curve } from '../../src/desk/setting';
import {
  addressesOf,
  defaultState,
  filled,
  type SettingsByAddress,
  type State,
  stripAddresses,
  valueAt,
  withSettings,
} from '../../src/desk/state';
import { compileScope, decisionFor } from '../../src/recall/compile-scope';
import { chosenSettings, preview } from '../../src/recall/preview';
import { choosable, recallTarget, scopeOfChanges } from '../../src/recall/recall-target';
import { ALL_EXCEPT_GLOBALS, type Scope } from '../../src/recall/scope-rules';

const base = defaultState(profile);
const LANE: Curve = [
  [1, 20],
  [2, 40],
];
const FADES: Curve = [
  [1, -20],
  [2, -10],
];
const drive = { 'in.1/inserts/2/kind': 'drive', 'in.1/inserts/2/on': true };
const leave = (sections: string[]): Scope => [...ALL_EXCEPT_GLOBALS, { strips: ['*'], sections, include: false }];
const only = (sections: string[]): Scope => [{ strips: ['*'], sections, include: true }];
const plan = (now: SettingsByAddress, target: SettingsByAddress, scope: Scope) =>
  preview({
    profile,
    now: withSettings(base, now),
    target: withSettings(base, target),
    scope,
    safes: [],
    mode: 'studio',
  });
const moves = (now: SettingsByAddress, target: SettingsByAddress, scope: Scope) =>
  plan(now, target, scope).changes.map((c) => c.address);

test('every lane of the profile moves a setting that its strip has', () => {
  const lanes = addressesOf(profile).filter((address) => address.split('/')[1] === 'automation');
  expect(lanes.length).toBeGreaterThan(100);
  for (const address of lanes) {
    const [strip = '', ...key] = address.split('/');
    const moved = movedByLane(key.join('/')) ?? '';
    expect([address, stripFamily(profile, strip)?.settings[moved]?.kind]).not.toEqual([address, undefined]);
    if (moved.startsWith('inserts')) expect(laneOfProcessor(moved)).toBe(key.join('/'));
  }
  expect(movedByLane('fader/level')).toBeUndefined();
});

describe('a lane belongs to what it moves', () => {
  const held = { ...drive, 'in.1/automation/inserts/2': LANE, 'in.1/automation/fader': FADES };

  test('inserts that stay keep their automation, although all else comes back', () => {
    expect(moves(held, {}, leave(['inserts']))).toEqual(['in.1/automation/fader']);
    expect(moves(held, {}, leave(['inserts', 'fader']))).toEqual([]);
    const stays = plan(held, {}, leave(['inserts'])).stays.filter(({ section }) => section === 'automation');
    expect(stays.map(({ address, why }) => [address, why])).toEqual([
      ['in.1/automation/inserts/2', 'automation of what stays'],
    ]);
  });

  test('a processor held by its own setting keeps its automation too', () => {
    const without: Scope = [
      ...ALL_EXCEPT_GLOBALS,
      { strips: ['in.1'], sections: ['inserts'], settings: ['inserts/2/kind'], include: false },
    ];
    expect(moves(held, {}, without)).not.toContain('in.1/automation/inserts/2');
  });

  test('automation asked for alone comes where the same processor is there to be moved', () => {
    const scene = { ...drive, 'in.1/automation/inserts/2': LANE, 'in.1/automation/fader': FADES };
    expect(moves(drive, scene, only(['automation']))).toEqual(
      ['in.1/automation/inserts/2', 'in.1/automation/fader'].sort(),
    );
    const other = plan({ 'in.1/inserts/2/kind': 'echo' }, scene, only(['automation']));
    expect(other.changes.map((c) => c.address)).toEqual(['in.1/automation/fader']);
    expect(other.cautions.map(({ kind, weight, items }) => [kind, weight, items.map((i) => i.fact)])).toEqual([
      ['lane', 'stop', [{ is: 'rises' }]],
      ['automation', 'care', [{ is: 'lane', points: 2 }]],
    ]);
  });

  test('a processor that goes with its section takes its points along, and that is a stop', () => {
    const gone = plan(held, {}, ALL_EXCEPT_GLOBALS);
    expect(gone.cautions.filter((c) => c.kind === 'automation').map((c) => [c.weight, c.items[0]?.fact])).toEqual([
      ['stop', { is: 'lane', points: 2 }],
    ]);
  });
});

/** Automation of any strip with any processors, so that lanes and what they move differ more often than by chance. */
const strips = ['in.1', 'in.2', 'fx.1', 'main.1'];
const addresses = strips.flatMap((strip) =>
  stripAddresses(profile, strip).filter((address) =>
    /\/(automation|inserts\/(\d\/)?(kind|on)|fader|mute|pan)/.test(address),
  ),
);
const anyScope = fc.array(
  fc.record({
    strips: fc.oneof(fc.constant<string[]>(['*']), fc.subarray(strips, { minLength: 1 })),
    sections: fc.oneof(
      fc.constant<string[]>(['*']),
      fc.subarray(['automation', 'inserts', 'fader', 'mute', 'pan', 'sends'], { minLength: 1 }),
    ),
    include: fc.boolean(),
  }),
  { minLength: 1, maxLength: 4 },
);
const anyDesk = anySettings(profile, 30, addresses).map((settings) => withSettings(base, settings));

describe('over random states and scopes', () => {
  test('no setting changes whose cell was not chosen, and no lane is emptied whose processor stays', () => {
    let emptied = 0;
    fc.assert(
      fc.property(anyDesk, anyDesk, anyScope, (now, target, scope) => {
        const compiled = compileScope(profile, scope);
        const { changes } = preview({ profile, now, target, scope, safes: [], mode: 'studio' });
        const after = withSettings(now, Object.fromEntries(changes.map((c) => [c.address, c.to])));
        for (const { strip, key } of diffStates(profile, now, after))
          expect(decisionFor(compiled, strip, key)).toBe('comes back');
        for (const { address, strip, key, from, to } of changes) {
          const kind = movedByLane(key);
          if (!kind || laneOfProcessor(kind) !== key || !hasPoints(from) || hasPoints(to)) continue;
          emptied++;
          // Where its processor stays, it is the one that the scene has there as well.
          const [held, wanted] = [valueAt(after, `${strip}/${kind}`), valueAt(target, `${strip}/${kind}`)];
          expect([address, held]).toEqual([address, wanted]);
        }
      }),
      { numRuns: runs(2000) },
    );
    expect(emptied).toBeGreaterThan(runs(2000) / 20);
  });

  test('what a restore chose is what stands afterwards, and what changed is among it', () => {
    fc.assert(
      fc.property(anyDesk, anyDesk, anyScope, (now, target, scope) => {
        const what = { profile, now, target, scope, safes: [] };
        const chosen = chosenSettings(what);
        const { changes } = preview({ ...what, mode: 'studio' });
        const after = withSettings(now, Object.fromEntries(changes.map((c) => [c.address, c.to])));
        const stands = filled(chosen, after);
        expect(diffStates(profile, stands, after)).toEqual([]);
        expect(changes.every(({ address }) => valueAt(chosen, address) !== undefined)).toBe(true);
      }),
      { numRuns: runs(300) },
    );
  });

  test('the way back of any restore leads exactly to where the desk was, and touches nothing else', () => {
    fc.assert(
      fc.property(
        anyDesk,
        anyDesk,
        anyScope,
        anySettings(profile, 10, addressesOf(profile)),
        (now, target, scope, later) => {
          const { changes } = preview({ profile, now, target, scope, safes: [], mode: 'studio' });
          const lanes = changes.flatMap(({ strip, key }) => {
            const lane = laneOfProcessor(key);
            return lane ? [{ strip, key: lane }] : [];
          });
          const wayBack = scopeOfChanges([...changes, ...lanes]);
          // Somebody moved other things meanwhile.
          const cells = new Set(changes.map(({ strip, section }) => `${strip}/${section}`));
          const others = Object.fromEntries(
            Object.entries(later).filter(([address]) => {
              const [strip, section] = address.split('/');
              return !cells.has(`${strip}/${section}`) && section !== 'automation' && section !== 'inserts';
            }),
          );
          const restored = withSettings(now, Object.fromEntries(changes.map((c) => [c.address, c.to])));
          const moved = withSettings(restored, others);
          const back = preview({ profile, now: moved, target: now, scope: wayBack, safes: [], mode: 'studio' });
          const there = withSettings(moved, Object.fromEntries(back.changes.map((c) => [c.address, c.to])));
          expect(diffStates(profile, withSettings(now, others), there)).toEqual([]);
        },
      ),
      { numRuns: runs(2000) },
    );
  });
});

describe('a part of a desk stays a part', () => {
  test('what it lacks is not sent, whatever the scope', () => {
    fc.assert(
      fc.property(anyDesk, fc.subarray(['eq', 'inserts', 'pan', 'fader'], { minLength: 1 }), (now, sections) => {
        const part: State = Object.fromEntries(
          Object.entries(base).map(([strip, keys]) => [
            strip,
            Object.fromEntries(Object.entries(keys).filter(([key]) => sections.includes(key.split('/')[0] as string))),
          ]),
        );
        const { changes, stays } = preview({
          profile,
          now,
          target: part,
          scope: ALL_EXCEPT_GLOBALS,
          safes: [],
          mode: 'studio',
        });
        expect([...changes, ...stays].every(({ section }) => sections.includes(section))).toBe(true);
      }),
      { numRuns: runs(2000) },
    );
  });

  test('a lane of a part without what it moves stays, unless the part is automation alone and the same processor is there', () => {
    const scene = { 'in.1/automation/inserts/2': LANE, 'in.1/automation/fader': FADES, 'in.1/eq/on': true };
    const part = (settings: SettingsByAddress) => withSettings({}, settings);
    const lands = (now: SettingsByAddress, target: State) =>
      preview({ profile, now: withSettings(base, now), target, scope: ALL_EXCEPT_GLOBALS, safes: [], mode: 'studio' });
    const { changes, stays } = lands(drive, part(scene));
    expect(changes.map(({ address }) => address)).toEqual(['in.1/eq/on']);
    expect(stays.map(({ key, why }) => [key, why])).toEqual([
      ['automation/inserts/2', 'automation of what stays'],
      ['automation/fader', 'automation of what stays'],
    ]);
    const { 'in.1/eq/on': _, ...alone } = scene;
    expect(lands(drive, part(alone)).changes.map(({ key }) => key)).toEqual(['automation/fader']);
    const whole = part({ ...scene, ...drive, 'in.1/fader/level': 0 });
    expect(lands(drive, whole).changes.map(({ key }) => key)).toContain('automation/inserts/2');
  });

  test('what a difference and the rest of a restore leave out was there to choose', () => {
    const [how, scene, now] = [{ relativeTo: null }, withSettings(base, drive), withSettings(base, {})];
    expect(choosable(how, now, {}, { scene })).toEqual({});
    expect(choosable({ relativeTo: 'id' }, now, {}, { scene })).toBe(scene);
    expect(choosable({ ...how, resume: { restoreId: 'id', how: 'finish' } }, now, {}, {})).toBe(now);
  });

  test('a recall of a preset, a journal or strips onto others names only what it is about', () => {
    const how = { onto: [], withPatch: false, relativeTo: null };
    const settings = { 'in.1/fader/level': -3 };
    const placed = recallTarget(
      profile,
      base,
      { ...how, stagedSettingsId: 'id' },
      { stagedSettings: { settings, gainFromOtherSource: false } },
    );
    expect(placed).toEqual({ 'in.1': { 'fader/level': -3 } });
  });
});

const hasPoints = (value: unknown): boolean => Array.isArray(value) && value.length > 0;
