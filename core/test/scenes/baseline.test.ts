import fc from 'fast-check';

import { boathouse, quay, skiff } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { diffStates } from '../../src/desk/diff-states';
import { addressesOf, defaultState, type SettingsByAddress, valueAt, withSettings } from '../../src/desk/state';
import { baselineLine } from '../../src/phrases/describe-baseline';
import {
  type Baseline,
  capturedBaseline,
  givenBack,
  replacedBy,
  restoredOver,
  scenesOfBaseline,
  withSceneReplaced,
} from '../../src/scenes/baseline';

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
});
