import fc from 'fast-check';

import { boathouse, quay, skiff } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { diffStates } from '../../src/desk/diff-states';
import { addressesOf, defaultState, type SettingsByAddress, valueAt, withSettings } from '../../src/desk/state';
import { baselineLine } from '../../src/phrases/describe-baseline';
import { compileScope } from '../../src/recall/compile-scope';
import type { Scope } from '../../src/recall/scope-rules';
import { sourcesInScope } from '../../src/recall/sources-in-scope';
import {
  type Baseline,
  type BaselineSource,
  capturedBaseline,
  givenBack as givenBackState,
  type Replaced,
  replacedBy as replacedByState,
  restoredOver as restoredOverState,
  scenesOfBaseline,
  withSceneReplaced,
} from '../../src/scenes/baseline';

/** Each with what was restored by its addresses. */
const restoredOver = (was: Baseline | undefined, from: BaselineSource, settings: SettingsByAddress) =>
  restoredOverState(was, from, withSettings({}, settings));
const replacedBy = (was: Baseline | undefined, settings: SettingsByAddress) =>
  replacedByState(was, withSettings({}, settings));
const givenBack = (was: Baseline, replaced: Replaced, settings: SettingsByAddress) =>
  givenBackState(was, replaced, withSettings({}, settings));

const source = (number: number, name: string) => ({ sceneId: `id-${number}`, number, name });
const reel = source(5, 'Saltmarsh reel');
const ferry = source(4, 'Night ferry');
const plain = defaultState(skiff);

/** Everything of a state but some sections or strips. */
const partOf = (state: typeof plain, test: (strip: string, section: string) => boolean): SettingsByAddress =>
  Object.fromEntries(
    Object.entries(state).flatMap(([strip, keys]) =>
      Object.entries(keys).flatMap(([key, value]) =>
        strip !== 'desk.1' && test(strip, key.split('/')[0] as string) ? [[`${strip}/${key}`, value]] : [],
      ),
    ),
  );
const before = capturedBaseline(ferry, plain);
const line = (baseline: Baseline) => baselineLine(skiff, baseline);

describe('what a desk is meant to hold, in one true line', () => {
  test.each([
    ['after a capture the scene', before, '4 Night ferry'],
    [
      'after all came back the scene, although globals never do',
      restoredOver(
        before,
        reel,
        partOf(plain, () => true),
      ),
      '5 Saltmarsh reel',
    ],
    [
      'after all but one section came back',
      restoredOver(
        before,
        reel,
        partOf(plain, (_, section) => section !== 'label'),
      ),
      '5 Saltmarsh reel, without label',
    ],
    [
      'after all but two strips came back',
      restoredOver(
        before,
        reel,
        partOf(plain, (strip) => !['in.1', 'in.2'].includes(strip)),
      ),
      '5 Saltmarsh reel, without Input 1 and Input 2',
    ],
    [
      'after one section of a strip came back',
      restoredOver(
        before,
        reel,
        partOf(plain, (strip, section) => strip === 'in.3' && section === 'eq'),
      ),
      '4 Night ferry, with EQ on Input 3 from 5 Saltmarsh reel',
    ],
    [
      'after one setting came back',
      restoredOver(before, reel, { 'in.3/eq/on': true }),
      '4 Night ferry, with EQ on Input 3 from 5 Saltmarsh reel',
    ],
    [
      'after a preset',
      restoredOver(before, { sceneId: null, number: 0, name: 'Bright voice' }, { 'in.3/eq/on': true }),
      '4 Night ferry, with EQ on Input 3 from Bright voice',
    ],
    [
      'where nothing was captured before',
      restoredOver(
        undefined,
        reel,
        partOf(plain, (_, section) => section === 'eq'),
      ),
      'Only EQ of 5 Saltmarsh reel',
    ],
  ])('%s', (_, baseline, said) => expect(line(baseline)).toBe(said));

  test('the same scene twice is one, and a scene of which nothing is left is not named', () => {
    const once = restoredOver(before, reel, { 'in.3/eq/on': true });
    const again = restoredOver(
      once,
      ferry,
      partOf(plain, () => true),
    );
    expect(line(again)).toBe('4 Night ferry');
    expect(scenesOfBaseline(again)).toEqual(['id-4']);
  });

  test('what is captured descends from the scene that makes up most of it first', () => {
    expect(scenesOfBaseline(restoredOver(before, reel, { 'in.3/eq/on': true }))).toEqual(['id-4', 'id-5']);
    expect(
      scenesOfBaseline(
        restoredOver(
          before,
          reel,
          partOf(plain, (_, s) => s !== 'label'),
        ),
      ),
    ).toEqual(['id-5', 'id-4']);
  });
});

describe('what a part of the desk is from', () => {
  const fromScope = (baseline: Baseline, scope: Scope) =>
    sourcesInScope(baseline, compileScope(skiff, scope)).map(({ number }) => number);
  const EQS: Scope = [{ strips: ['*'], sections: ['eq'], include: true }];
  const restored = restoredOver(
    before,
    reel,
    partOf(plain, (strip, section) => section === 'eq' && strip !== 'in.1'),
  );

  test('is told of that part alone, what makes up most of it first', () => {
    expect(fromScope(before, EQS)).toEqual([4]);
    expect(fromScope(restored, EQS)).toEqual([5, 4]);
    expect(fromScope(restored, [{ strips: ['in.2'], sections: ['eq'], include: true }])).toEqual([5]);
    expect(fromScope(restored, [{ strips: ['*'], sections: ['fader'], include: true }])).toEqual([4]);
  });

  test('names both where only settings of a part came back, and nothing where nothing is known', () => {
    const single: Scope = [{ strips: ['in.3'], sections: ['eq'], include: true }];
    expect(fromScope(restoredOver(before, reel, { 'in.3/eq/on': true }), single).sort()).toEqual([4, 5]);
    expect(fromScope(restoredOver(undefined, reel, { 'in.3/eq/on': true }), single)).toEqual([5]);
    expect(fromScope({ state: {}, sources: [], cells: {} }, EQS)).toEqual([]);
  });
});

describe.each([
  ['Boathouse', boathouse, runs(2000)],
  ['Quay 48', quay, runs(200)],
])('a baseline on %s', (_, profile, numRuns) => {
  const start = capturedBaseline(ferry, defaultState(profile));
  const addresses = addressesOf(profile);

  test('holds what was restored where it was, and what it held everywhere else', () => {
    fc.assert(
      fc.property(anySettings(profile, 30, addresses), anySettings(profile, 30, addresses), (first, second) => {
        const after = restoredOver(restoredOver(start, reel, first), ferry, second);
        expect(diffStates(profile, withSettings(withSettings(start.state, first), second), after.state)).toEqual([]);
      }),
      { numRuns },
    );
  });

  test('a way back gives back exactly what the restore replaced, also after another restore in between', () => {
    const some = anySettings(profile, 20, addresses);
    fc.assert(
      fc.property(some, some, some, (held, restored, other) => {
        const now = restoredOver(start, reel, held);
        const then = restoredOver(now, ferry, restored);
        const between = Object.fromEntries(Object.entries(other).filter(([address]) => !(address in restored)));
        const back = givenBack(restoredOver(then, reel, between), replacedBy(now, restored), restored);
        expect(diffStates(profile, withSettings(now.state, between), back.state)).toEqual([]);
      }),
      { numRuns },
    );
  });

  test('way back and forth again says the same line as before', () => {
    const some = anySettings(profile, 20, addresses);
    fc.assert(
      fc.property(some, some, (held, restored) => {
        const now = restoredOver(start, reel, held);
        const then = restoredOver(now, ferry, restored);
        expect(baselineLine(profile, givenBack(then, replacedBy(now, restored), restored))).toBe(
          baselineLine(profile, now),
        );
      }),
      { numRuns: numRuns / 10 },
    );
  });

  test('a way back that came back in part gives back that part, and no more', () => {
    const restored = { 'in.1/fader/level': -3, 'in.2/fader/level': -4 };
    const then = restoredOver(start, reel, restored);
    const back = givenBack(then, replacedBy(start, restored), { 'in.1/fader/level': -90 });
    expect(valueAt(back.state, 'in.1/fader/level')).toBe(-90);
    expect(valueAt(back.state, 'in.2/fader/level')).toBe(-4);
    expect(back.cells['in.2/fader']).toHaveLength(2);
  });

  test('a scene that takes the place of another brings what it holds otherwise, in the cells from it', () => {
    const mixed = restoredOver(start, reel, { 'in.1/fader/level': -3 });
    const next = {
      source: source(4, 'Night ferry'),
      state: withSettings(start.state, { 'in.1/fader/level': -9, 'in.2/fader/level': -9 }),
    };
    const after = withSceneReplaced(mixed, { sceneId: 'id-4', state: start.state }, next);
    expect(['in.1', 'in.2'].map((strip) => valueAt(after.state, `${strip}/fader/level`))).toEqual([-3, -9]);
  });

  test('a scene that takes the place of another is named in its stead, whatever moved', () => {
    const mixed = restoredOver(start, reel, { 'in.1/fader/level': -3 });
    const named = source(4, 'Night ferry, second night');
    const after = withSceneReplaced(
      mixed,
      { sceneId: 'id-4', state: start.state },
      { source: named, state: start.state },
    );
    expect(after.sources).toEqual([named, reel]);
    expect(diffStates(profile, mixed.state, after.state)).toEqual([]);
  });

  test('cells that come in part from another scene stay as they are', () => {
    const mixed = restoredOver(start, reel, { 'in.1/eq/1/gain': 3 });
    expect(mixed.cells['in.1/eq']).toEqual([0, 1]);
    const next = withSettings(start.state, { 'in.1/eq/2/gain': -5, 'in.1/mute/on': true });
    const after = withSceneReplaced(mixed, { sceneId: 'id-4', state: start.state }, { source: ferry, state: next });
    expect(valueAt(after.state, 'in.1/eq/2/gain')).toBe(0);
    expect(valueAt(after.state, 'in.1/mute/on')).toBe(true);
  });

  test('what was restored since where the new scene holds what the old one held is kept', () => {
    // By a hand that was kept: the cell is the scene's still, its value is not.
    const kept = { ...start, state: withSettings(start.state, { 'in.1/fader/level': -3 }) };
    const after = withSceneReplaced(
      kept,
      { sceneId: 'id-4', state: start.state },
      { source: ferry, state: withSettings(start.state, { 'in.1/mute/on': true }) },
    );
    expect(valueAt(after.state, 'in.1/fader/level')).toBe(-3);
  });
});

describe('where cells come from', () => {
  const eq = partOf(plain, (strip, section) => strip === 'in.3' && section === 'eq');

  test('a capture is the source of every cell there is, globals among them', () => {
    expect(before.cells['in.3/eq']).toEqual([0]);
    expect(Object.keys(before.cells).some((cell) => cell.startsWith('desk.1/'))).toBe(true);
    expect(Object.values(before.cells).every((from) => from.length === 1)).toBe(true);
  });

  test('a cell of which all came back is of the scene alone; one of which some did is of both', () => {
    expect(restoredOver(before, reel, eq).cells['in.3/eq']).toEqual([1]);
    const [one, ...others] = Object.entries(eq);
    expect(restoredOver(before, reel, Object.fromEntries(others)).cells['in.3/eq']).toEqual([0, 1]);
    expect(restoredOver(before, reel, Object.fromEntries([one!])).cells['in.3/eq']).toEqual([0, 1]);
    expect(restoredOver(before, reel, eq).cells['in.4/eq']).toEqual([0]);
  });

  test('a restore of nothing leaves what was, to the letter', () => {
    expect(restoredOver(before, reel, {})).toBe(before);
  });

  test('a restore to which nothing was known before stands on its own', () => {
    expect(restoredOver(undefined, reel, { 'in.3/mute/on': true })).toEqual({
      state: { 'in.3': { 'mute/on': true } },
      sources: [reel],
      cells: { 'in.3/mute': [0] },
    });
  });

  test('what is no address is given back nowhere', () => {
    const odd = { sources: [], cells: {}, settings: { fader: -3 } };
    expect(givenBack(before, odd, { 'in.3/mute/on': true }).state).toEqual(before.state);
  });

  test('a strip that all came back of, to the letter, is kept as it came', () => {
    const strip = { ...plain['in.3'] };
    expect(replacedByState(before, { 'in.3': plain['in.3']! }).settings).toEqual({});
    expect(restoredOverState(before, reel, { 'in.3': strip }).state).toEqual(plain);
  });

  test('of what is replaced only what is to be another is kept, with nothing where nothing was known', () => {
    expect(replacedBy(before, { 'in.3/mute/on': false, 'in.3/fader/level': -3 }).settings).toEqual({
      'in.3/fader/level': plain['in.3']?.['fader/level'],
    });
    expect(replacedBy(undefined, { 'in.3/mute/on': false })).toEqual({
      sources: [],
      cells: { 'in.3/mute': [] },
      settings: { 'in.3/mute/on': null },
    });
  });

  test('back to where nothing was known, nothing is known again', () => {
    const restored = { 'in.3/mute/on': true };
    const back = givenBack(restoredOver(undefined, reel, restored), replacedBy(undefined, restored), restored);
    expect([back.cells, back.sources, back.state['in.3']]).toEqual([{}, [], {}]);
  });

  test.each([
    ['number', { ...ferry, number: 9 }],
    ['name', { ...ferry, name: 'Night ferry, late' }],
    ['id', { ...ferry, sceneId: 'id-9' }],
  ])('a source with another %s is another source', (_, other) => {
    expect(restoredOver(before, other, { 'in.3/mute/on': true }).sources).toEqual([ferry, other]);
    expect(restoredOver(before, ferry, { 'in.3/mute/on': true }).sources).toEqual([ferry]);
  });

  test('shares count cells that are of one source alone, and none of the globals; of equal ones the newest is first', () => {
    const sources = [source(1, 'One'), source(2, 'Two'), source(3, 'Three')];
    const order = (cells: Baseline['cells']) => scenesOfBaseline({ sources, cells });
    expect(order({ 'in.1/eq': [0], 'in.2/eq': [1], 'in.3/eq': [1], 'in.4/eq': [2] })).toEqual(['id-2', 'id-3', 'id-1']);
    expect(order({ 'in.1/eq': [0, 1], 'in.2/eq': [0, 2], 'in.3/eq': [1] })).toEqual(['id-2', 'id-3', 'id-1']);
    expect(order({ 'desk.1/monitor': [0], 'desk.1/oscillator': [0], 'in.3/eq': [1] })).toEqual([
      'id-2',
      'id-3',
      'id-1',
    ]);
    expect(order({ 'in.1/eq': [] })).toEqual(['id-3', 'id-2', 'id-1']);
    expect(scenesOfBaseline({ sources: [{ sceneId: null, number: 0, name: 'Preset' }], cells: {} })).toEqual([]);
  });
});
