import { familyOf } from './address';
import { GLOBAL_FAMILY, type Profile } from './profile';
import type { State } from './state';
import { isFree } from '../library/kit';

/** Strips that someone uses: named, or open, or fed. */
export const inUse = (profile: Profile, state: State): string[] =>
  profile.strips.filter(
    (strip) => familyOf(strip) !== GLOBAL_FAMILY && (familyOf(strip) === 'main' || !isFree(profile, state, strip)),
  );
