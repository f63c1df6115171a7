import fc from 'fast-check';

import { withFamily, withField, withSection } from '@old-echo/core/desk/edit-profile';
import { hasAllOf, parseProfile } from '@old-echo/core/desk/profile';
import { compareProfiles, fittingState, type ProfileChangeView, unfitting } from '@old-echo/core/desk/profile-change';
import { readProfileSource } from '@old-echo/core/desk/profile-source';
import { defaultState, validateSettings } from '@old-echo/core/desk/state';
import { toAddresses } from '@old-echo/core/library/convert-strip';
import { describeProfileChange } from '@old-echo/core/phrases/describe-profile-change';
import { profileJson, quay } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';

const source = readProfileSource(profileJson('quay-48'));
const inputs = source.families[0]!;
const max = (to: number) => parseProfile(withField(source, inputs, ['fader', 'level', 'max'], to));

/** Models that have less, more, or other things than the one that they are made of. */
const changes = fc
  .record({
    count: fc.integer({ min: 1, max: 48 }),
    section: fc.constantFrom(...Object.keys(inputs.sections)),
    max: fc.integer({ min: -60, max: 20 }),
  })
  .map((change) => {
    const fewer = withFamily(withField(source, inputs, ['fader', 'level', 'max'], change.max), 'in', {
      count: change.count,
    });
    return parseProfile(withSection(fewer, fewer.families[0]!, change.section, undefined));
  });

test('what is left of any state is what the changed model takes, and all that it takes', () => {
  fc.assert(
    fc.property(changes, anyState(quay, 400), (after, state) => {
      const left = fittingState(after, state);
      for (const [strip, settings] of Object.entries(left)) {
        expect(() => validateSettings(after, toAddresses(strip, settings))).not.toThrow();
        const without = unfitting(after, strip, state[strip]!);
        expect(Object.keys(settings).length + without.length).toBe(Object.keys(state[strip]!).length);
      }
      expect(Object.keys(left)).toEqual(Object.keys(state).filter((strip) => after.strips.includes(strip)));
    }),
    { numRuns: 25 },
  );
});

test('a state that fits is the same, strip by strip, so that nothing is compared anew', () => {
  const state = defaultState(quay);
  const left = fittingState(quay, state);
  for (const strip of quay.strips) expect(left[strip]).toBe(state[strip]);
  // And of what does not fit, the same is left each time.
  const [narrower, strips] = [max(-80), { 'in.1': { 'fader/level': 0, 'mute/on': true } }];
  expect(fittingState(narrower, strips)).toEqual({ 'in.1': { 'mute/on': true } });
  expect(fittingState(narrower, strips)['in.1']).toBe(fittingState(narrower, strips)['in.1']);
});

test('there and back is no change, and what one way is new is gone the other way', () => {
  fc.assert(
    fc.property(changes, (after) => {
      const [there, back] = [compareProfiles(quay, after), compareProfiles(after, quay)];
      expect([there.goneStrips, there.goneSettings]).toEqual([back.newStrips, back.newSettings]);
      expect(there.otherRanges).toEqual(back.otherRanges);
      const isSame = Object.values<readonly unknown[]>({ ...there }).every((list) => list.length === 0);
      expect(isSame).toBe(hasAllOf(after, quay) && hasAllOf(quay, after));
    }),
    { numRuns: 40 },
  );
  expect(Object.values(compareProfiles(quay, quay)).flat()).toEqual([]);
});

const NONE = { desks: [], scenes: 0, losing: 0, aside: [], beyond: [], presets: [] };
const said = (after: typeof quay, more: Partial<ProfileChangeView> = {}) =>
  describeProfileChange(quay, after, { ...NONE, ...compareProfiles(quay, after), ...more }).map(({ text }) => text);

test('what a change means is said in sentences', () => {
  expect(said(quay)).toEqual(['Nothing that scenes hold is different.']);
  expect(said(max(0), { scenes: 9, losing: 1, aside: [{ family: 'in', key: 'fader/level', strips: 2 }] })).toEqual([
    '1 of 9 scenes holds something that is neither shown nor restored from then on. It stays stored, and comes back with the model.',
    'Inputs: Fader takes −∞ to 0.0 dB, before −∞ to 10.0 dB. Scenes go beyond that on 2 strips.',
  ]);
  const fewer = parseProfile(withFamily(withSection(source, inputs, 'gate', undefined), 'in', { count: 46 }));
  expect(said(fewer, { scenes: 2, losing: 2, presets: ['Tight'] }).slice(1)).toEqual([
    'Inputs: 2 strips, Input 47 to Input 48, are gone.',
    'Inputs: Gate is gone.',
    '1 preset loses something: Tight.',
  ]);
  const gate = { ...inputs.sections['gate'], listen: { kind: 'switch', default: false } };
  expect(said(parseProfile(withSection(source, inputs, 'gate', gate)), { scenes: 9, desks: ['Quay 48'] })).toEqual([
    'No scene loses anything.',
    'Inputs: Gate listen is new.',
    'Quay 48 must have what is new: else it is not read. Scenes made so far say nothing of it.',
  ]);
  expect(said(max(0), { beyond: [{ desk: 'Quay 48', address: 'in.1/fader/level' }] }).at(-1)).toBe(
    'Move this on Quay 48 first, or it cannot be read: Fader of Input 1.',
  );
});
