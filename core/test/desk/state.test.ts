import fc from 'fast-check';

import { PROFILES } from '@old-echo/testing/profiles';

import { defaultState, isWhole, profileOfPart } from '../../src/desk/state';

describe.each(PROFILES)('a state of %s', (_, profile) => {
  const whole = defaultState(profile);
  const anyCell = fc
    .constantFrom(...profile.families.filter(({ strips, keys }) => strips.length > 0 && keys.length > 0))
    .chain(({ strips, keys }) => fc.record({ strip: fc.constantFrom(...strips), key: fc.constantFrom(...keys) }));

  test('is whole, and its profile is that of the desk', () => {
    expect(isWhole(profile, whole)).toBe(true);
    expect(profileOfPart(profile, whole)).toBe(profile);
  });

  test('without any one of its settings, or of its strips, it is a part, whatever was looked at before', () => {
    fc.assert(
      fc.property(anyCell, ({ strip, key }) => {
        const { [key]: _gone, ...rest } = whole[strip]!;
        const { [strip]: _strip, ...others } = whole;
        expect([isWhole(profile, { ...whole, [strip]: rest }), isWhole(profile, others)]).toEqual([false, false]);
        expect(isWhole(profile, whole)).toBe(true);
      }),
    );
  });

  test('the profile of a part has the strips and settings that it holds, and no others', () => {
    fc.assert(
      fc.property(anyCell, ({ strip, key }) => {
        const { strips, families } = profileOfPart(profile, { [strip]: { [key]: whole[strip]![key]! } });
        expect(strips).toEqual([strip]);
        expect(families.flatMap(({ keys, settings }) => [...keys, ...Object.keys(settings)])).toEqual([key, key]);
      }),
    );
  });
});
