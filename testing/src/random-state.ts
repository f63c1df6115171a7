import fc from 'fast-check';

import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, quantise, type SettingSpec, type Value } from '@old-echo/core/desk/setting';
import { addressesOf, defaultState, type SettingsByAddress, type State, withSettings } from '@old-echo/core/desk/state';

import { between } from './between';

/** Of one, two, three and four bytes on the wire. */
const LETTERS = ['a', 'B', ' ', '7', '-', 'é', 'Æ', 'ß', '漢', '🎻'];

/** Any value that a setting can hold. */
export function anyValue(spec: SettingSpec): fc.Arbitrary<Value> {
  if (isNumberSpec(spec)) return between(spec.min, spec.max).map((value) => quantise(spec, value));
  switch (spec.kind) {
    case 'switch':
      return fc.boolean();
    case 'choice':
    case 'reference':
      return fc.constantFrom(...spec.options);
    case 'text':
      return fc
        .array(fc.constantFrom(...LETTERS), { maxLength: Math.floor(spec.longest / 2) })
        .map((letters) => letters.join(''));
    case 'curve':
      return fc
        .array(fc.tuple(fc.integer({ min: 0, max: 600_000 }), between(spec.min, spec.max)), { maxLength: 8 })
        .map((points) =>
          points.sort(([a], [b]) => a - b).map(([ms, value]) => [ms / 1000, quantise(spec, value)] as const),
        );
  }
}

/** Some settings of a desk, of all or of those named, with any values they can hold. */
export function anySettings(
  profile: Profile,
  most = 40,
  addresses: readonly string[] = addressesOf(profile),
): fc.Arbitrary<SettingsByAddress> {
  return fc
    .uniqueArray(fc.constantFrom(...addresses), { maxLength: most })
    .chain((some) =>
      fc.record(
        Object.fromEntries(some.map((address) => [address, anyValue(specOf(profile, address) as SettingSpec)])),
      ),
    );
}

/** A desk on which anything may have been moved. */
export const anyState = (profile: Profile, most = 40): fc.Arbitrary<State> =>
  anySettings(profile, most).map((settings) => withSettings(defaultState(profile), settings));
