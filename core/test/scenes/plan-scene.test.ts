import fc from 'fast-check';

import { boathouse, quay } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { stripFingerprint } from '../../src/desk/fingerprint';
import { defaultState, type State, withSettings } from '../../src/desk/state';
import { planScene, type StripBefore } from '../../src/scenes/plan-scene';

/** What a store tells of a state whose strips it holds whole, each under a number of its own. */
const stored = (state: State): Map<string, StripBefore> =>
  new Map(Object.entries(state).map(([strip, settings], i) => [strip, { settings, base: { id: i + 1, settings } }]));
const plain = defaultState(quay);
const planned = (settings: Parameters<typeof withSettings>[1], before = plain) =>
  planScene(quay, withSettings(plain, settings), stored(before));
const encodedOf = (plan: ReturnType<typeof planScene>, strip: string) =>
  plan.encoded.get(plan.fingerprints.get(strip) ?? '');

describe('what a new scene writes', () => {
  test('whatever moved, what is written with its base is the state again', () => {
    fc.assert(
      fc.property(anyState(boathouse), anyState(boathouse), (was, now) => {
        const before = stored(was);
        const plan = planScene(boathouse, now, before);
        const bases = new Map([...before.values()].map(({ base }) => [base.id, base.settings]));
        for (const [strip, settings] of Object.entries(now)) {
          const { base, settings: written } = encodedOf(plan, strip) ?? { base: null, settings: {} };
          const again = base === null ? written : { ...bases.get(base), ...written };
          expect(stripFingerprint(again)).toBe(stripFingerprint(settings));
          expect(plan.fingerprints.get(strip)).toBe(stripFingerprint(settings));
        }
      }),
      { numRuns: runs(200) },
    );
  });

  test('a strip of which one setting moved is written as that setting', () => {
    const plan = planned({ 'in.7/fader/level': -12 });
    expect(encodedOf(plan, 'in.7')?.settings).toEqual({ 'fader/level': -12 });
    expect(encodedOf(plan, 'in.7')?.base).toBe(stored(plain).get('in.7')?.base.id);
    expect(plan.changed).toEqual({ settings: 1, strips: ['in.7'], names: ['Input 7'] });
  });

  test.each([
    [24, false],
    [25, true],
  ])('of %i settings that moved on a strip: written whole is %s', (count, whole) => {
    const faders = Object.keys(plain['in.1'] ?? {}).filter((key) =>
      /^sends\/.*\/level$|^eq\/.*\/(gain|freq)$/.test(key),
    );
    expect(faders.length).toBeGreaterThan(25);
    const moved = Object.fromEntries(faders.slice(0, count).map((key) => [`in.1/${key}`, 7.5]));
    expect(encodedOf(planned(moved), 'in.1')?.base === null).toBe(whole);
  });

  test('strips that hold the same are written once', () => {
    const plan = planScene(quay, { 'in.3': plain['in.3'] ?? {}, 'in.4': { ...plain['in.3'] } }, new Map());
    expect([...plan.fingerprints.keys()]).toEqual(['in.3', 'in.4']);
    expect(plan.encoded.size).toBe(1);
  });

  test('a scene that comes from none is written whole and changed nothing', () => {
    const plan = planScene(quay, plain, new Map());
    expect([...plan.encoded.values()].every(({ base }) => base === null)).toBe(true);
    expect(plan.changed).toEqual({ settings: 0, strips: [], names: [] });
  });

  test('what moved by less than half a step is written, and counts as no change', () => {
    const was = { ...plain, 'in.2': { ...plain['in.2'], 'fader/level': -10.0001 } };
    const plan = planned({ 'in.2/fader/level': -10 }, was);
    expect(encodedOf(plan, 'in.2')?.settings).toEqual({ 'fader/level': -10 });
    expect(plan.changed.settings).toBe(0);
  });

  test('a strip that has another set of settings than before is written whole', () => {
    const { 'fader/level': _, ...less } = plain['in.2'] ?? {};
    expect(encodedOf(planned({ 'in.2/mute/on': true }, { ...plain, 'in.2': less }), 'in.2')?.base).toBeNull();
  });

  test('a strip that has as many settings, but others, is written whole', () => {
    const { 'fader/level': _, ...less } = plain['in.2'] ?? {};
    const other = { ...plain, 'in.2': { ...less, 'fader/other': -3 } };
    expect(encodedOf(planned({ 'in.2/mute/on': true }, other), 'in.2')?.base).toBeNull();
  });

  test('a lane that holds the same points is no difference, whichever list they stand in', () => {
    const lane = (): [number, number][] => [[0, -6]];
    const start = defaultState(boathouse);
    const [was, now] = [lane(), lane()].map((points) => withSettings(start, { 'in.1/automation/fader': points }));
    const moved = withSettings(now!, { 'in.1/mute/on': true });
    const plan = planScene(boathouse, moved, stored(was!));
    expect(encodedOf(plan, 'in.1')?.settings).toEqual({ 'mute/on': true });
    expect(plan.changed.settings).toBe(1);
  });

  test('changed strips come in the order of the desk, by the names they have now', () => {
    const { changed } = planned({ 'in.9/label/name': 'Viola', 'in.2/fader/level': -3, 'in.2/mute/on': true });
    expect(changed.strips).toEqual(['in.2', 'in.9']);
    expect(changed.names).toEqual([expect.any(String), 'Viola']);
    expect(changed.settings).toBe(3);
  });
});
