import {
  freeProfileId,
  withFamily,
  withField,
  withNewFamily,
  withoutDeadRules,
  withoutFamily,
  withSection,
} from '@old-echo/core/desk/edit-profile';
import { parseProfile } from '@old-echo/core/desk/profile';
import { FAMILY_IDS, MAX_PROFILE_ID, readProfileSource } from '@old-echo/core/desk/profile-source';
import { profileJson, weirSource } from '@old-echo/testing/profiles';

const skiff = readProfileSource(profileJson('skiff-16'));
const weir = readProfileSource(weirSource);
const familyOf = (source: typeof skiff, id: string) => source.families.find((family) => family.id === id)!;

test('a family is renamed, counted anew, taken out and brought in where a desk is read', () => {
  const fewer = parseProfile(withFamily(skiff, 'in', { count: 4, name: 'Channels' }));
  expect(fewer.families[0]).toMatchObject({ name: 'Channels', strips: ['in.1', 'in.2', 'in.3', 'in.4'] });
  const without = withoutFamily(skiff, 'in');
  expect(without.families.map(({ id }) => id)).not.toContain('in');
  expect(withNewFamily(without, familyOf(skiff, 'in'), FAMILY_IDS).families).toEqual(skiff.families);
});

test('names of its own are kept for the strips that stay', () => {
  const named = withFamily(skiff, 'main', { count: 2, names: ['Main L', 'Main R'] });
  const one = withFamily(named, 'main', { count: 1 });
  expect(parseProfile(one).plainNames['main.1']).toBe('Main L');
  // Typed digit by digit, a number is a smaller one on its way.
  expect(parseProfile(withFamily(one, 'main', { count: 2 })).plainNames['main.2']).toBe('Main R');
});

test('a section is taken out, brought in from another model, and a range of it changed', () => {
  const [inputs, theirs] = [familyOf(skiff, 'in'), familyOf(weir, 'in')];
  const section = Object.keys(inputs.sections)[0]!;
  const out = withSection(skiff, inputs, section, undefined);
  expect(parseProfile(out).families[0]?.sections).not.toContain(section);
  const eq = withSection(skiff, inputs, 'eq', theirs.sections['eq']);
  expect(parseProfile(eq).families[0]?.settings['eq/1/freq']).toMatchObject({ min: 40, max: 400 });
  // It stays where it stood among the sections.
  expect(Object.keys(familyOf(eq, 'in').sections)).toEqual(Object.keys(inputs.sections));
  const level = withField(skiff, inputs, ['fader', 'level', 'max'], 6);
  expect(parseProfile(level).families[0]?.settings['fader/level']).toMatchObject({ max: 6, min: -90 });
  expect(skiff).toEqual(readProfileSource(profileJson('skiff-16')));
});

test('the map of a model has rules for what it has: the others go with what they were for', () => {
  const fewer = withFamily(withoutFamily(weir, 'mix'), 'in', {
    count: 2,
    sections: { fader: familyOf(weir, 'in').sections['fader']! },
  });
  expect(() => parseProfile(fewer)).toThrow('the desk has nothing called');
  const { link } = parseProfile(withoutDeadRules(fewer));
  expect([...link!.settings.keys()].filter((setting) => !setting.startsWith('main.'))).toEqual([
    'in.1/fader/level',
    'in.2/fader/level',
  ]);
  expect(withoutDeadRules(weir)).toBe(weir);
});

test.each([
  ['Weir at the pier', ['weir-16'], 'weir-at-the-pier'],
  ['Weir 16', ['weir-16', 'weir-16-2'], 'weir-16-3'],
  ['  Øst & Vest  ', [], 'st-vest'],
  ['水', [], 'model'],
])('the name %p makes an id that no model has', (name, taken, id) => {
  expect(freeProfileId(name, taken)).toBe(id);
});

test('the longest name makes an id that is short enough', () => {
  const long = freeProfileId('Long name '.repeat(20), []);
  expect(freeProfileId('Long name '.repeat(20), [long]).length).toBeLessThanOrEqual(MAX_PROFILE_ID);
});
