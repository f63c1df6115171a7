import { familyOf } from '../desk/address';
import { GLOBAL_FAMILY, type Profile } from '../desk/profile';
import type { State } from '../desk/state';
import { isFree } from './kit';

/** Strips that someone uses: named, or open, or fed. */
export const inUse = (profile: Profile, state: State): string[] =>
  profile.strips.filter(
    (strip) => familyOf(strip) !== GLOBAL_FAMILY && (familyOf(strip) === 'main' || !isFree(profile, state, strip)),
  );
