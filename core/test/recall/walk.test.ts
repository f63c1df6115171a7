import fc from 'fast-check';

import { withFamily, withSection } from '@old-echo/core/desk/edit-profile';
import { manualPart, manualStrips, wiredPart } from '@old-echo/core/desk/manual';
import { parseProfile } from '@old-echo/core/desk/profile';
import { readProfileSource } from '@old-echo/core/desk/profile-source';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { preview } from '@old-echo/core/recall/preview';
import { stepsOf } from '@old-echo/core/recall/restore-steps';
import { ALL_WITH_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { nextOpenStop, walkStops } from '@old-echo/core/recall/walk';
import { hybridSource, netloft, profileJson } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';

const planOf = (now: ReturnType<typeof defaultState>, target: typeof now, profile = netloft) =>
  preview({ profile, now, target, scope: ALL_WITH_GLOBALS, safes: [], mode: 'studio' });

test('what falls and closes comes first, the rest strip by strip, what opens at the end', () => {
  const now = withSettings(defaultState(netloft), {
    'in.1/fader/level': -10,
    'in.2/fader/level': -20,
    'in.3/mute/on': true,
  });
  const target = withSettings(now, {
    'in.1/fader/level': -5,
    'in.2/fader/level': -40,
    'in.3/mute/on': false,
    'in.3/eq/low/gain': 3,
    'in.1/preamp/pad': true,
    'in.4/mute/on': true,
  });
  const stops = walkStops(netloft, planOf(now, target));
  expect(stops.map(({ round, strip, items }) => [round, strip, items.map(({ change }) => change.key)])).toEqual([
    // The pad of an open strip thumps: it is closed for that, and opened again.
    ['close', 'in.1', ['mute/on']],
    ['close', 'in.2', ['fader/level']],
    ['close', 'in.4', ['mute/on']],
    ['set', 'in.1', ['preamp/pad', 'fader/level']],
    ['set', 'in.3', ['eq/low/gain']],
    ['open', 'in.1', ['mute/on']],
    ['open', 'in.3', ['mute/on']],
  ]);
  expect(nextOpenStop(stops, {})?.strip).toBe('in.1');
  expect(nextOpenStop(stops, { 'close/in.1/mute/on': 'set', 'close/in.2/fader/level': 'could not' })?.strip).toBe(
    'in.4',
  );
  const all = Object.fromEntries(stops.flatMap(({ items }) => items.map(({ id }) => [id, 'set' as const])));
  expect(nextOpenStop(stops, all)).toBeUndefined();
});

test('any walk holds every change once, and is at every moment as closed as it can be', () => {
  fc.assert(
    fc.property(anyState(netloft), anyState(netloft), (now, target) => {
      const plan = planOf(now, target);
      const items = walkStops(netloft, plan).flatMap((stop) => stop.items);
      expect(new Set(items.map(({ id }) => id)).size).toBe(items.length);
      // Gone through in order, the desk ends where it was to.
      const after = items.reduce((state, { change }) => withSettings(state, { [change.address]: change.to }), now);
      const planned = withSettings(now, Object.fromEntries(plan.changes.map(({ address, to }) => [address, to])));
      expect(after).toEqual(planned);
      // A level that rises finds every one that falls fallen; a mute that opens finds everything else done.
      const at = (test: (change: (typeof items)[number]['change']) => boolean) =>
        items.flatMap(({ change }, i) => (test(change) ? [i] : []));
      const isLevel = (key: string) => key.endsWith('/level');
      const falls = at(({ key, from, to }) => isLevel(key) && Number(to) < Number(from));
      const rises = at(({ key, from, to }) => isLevel(key) && Number(to) > Number(from));
      const opens = at(({ key, to }) => key === 'mute/on' && to === false);
      const others = at(({ key, to }) => !(key === 'mute/on' && to === false));
      expect(Math.max(-1, ...falls)).toBeLessThan(Math.min(Infinity, ...rises));
      expect(Math.max(-1, ...others)).toBeLessThan(Math.min(Infinity, ...opens));
    }),
    { numRuns: 40 },
  );
});

test('what its model does not have any more, since somebody changed it, is not walked to', () => {
  const now = defaultState(netloft);
  const target = withSettings(now, { 'in.1/eq/low/gain': 3, 'in.2/fader/level': -40, 'in.24/fader/level': -10 });
  const source = readProfileSource(profileJson('netloft-24'));
  const inputs = source.families[0]!;
  const changed = parseProfile(withFamily(withSection(source, inputs, 'eq', undefined), 'in', { count: 23 }));
  const stops = walkStops(changed, planOf(now, target));
  expect(stops.flatMap(({ items }) => items.map(({ change }) => change.address))).toEqual(['in.2/fader/level']);
});

test('of a desk with a rack only the rack is walked to, and only the rest is wired', () => {
  const hybrid = parseProfile(hybridSource);
  expect(manualStrips(hybrid)).toEqual(['rack.1', 'rack.2']);
  expect(wiredPart(hybrid).strips).toHaveLength(hybrid.strips.length - 2);
  expect(manualPart(hybrid).strips).toEqual(['rack.1', 'rack.2']);
  const now = defaultState(hybrid);
  const target = withSettings(now, { 'rack.2/compressor/makeup': 6, 'in.1/fader/level': -6 });
  expect(walkStops(hybrid, planOf(now, target, hybrid)).map(({ strip }) => strip)).toEqual(['rack.2']);
});

test('nothing that is turned by hand is ever sent, at once or in a fade; and no fade answers for it', () => {
  const hybrid = parseProfile(hybridSource);
  fc.assert(
    fc.property(anyState(hybrid), anyState(hybrid), fc.constantFrom(0, 3), (now, target, fade) => {
      const steps = stepsOf({ profile: hybrid, now, plan: planOf(now, target, hybrid), safes: [], fade });
      expect(steps.flatMap(({ changes }) => changes).filter(({ strip }) => strip.startsWith('rack.'))).toEqual([]);
    }),
    { numRuns: 40 },
  );
  const quiet = withSettings(defaultState(netloft), { 'in.1/fader/level': -40, 'main.1/fader/level': 0 });
  const { cautions } = planOf(quiet, withSettings(quiet, { 'in.1/fader/level': 0 }));
  expect(cautions.map(({ kind, waysOut }) => [kind, waysOut.includes('fade')])).toContainEqual(['louder', false]);
});

test('a desk that no wire leads to has no map of one', () => {
  expect(() => parseProfile({ ...(profileJson('netloft-24') as object), link: {} })).toThrow(/nothing to speak to/);
});
