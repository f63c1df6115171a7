import { readAddress } from './address';
import { type Profile, stripFamily } from './profile';

/** Whether a strip's controls are turned by hand. */
export const isManual = (profile: Profile, strip: string): boolean => stripFamily(profile, strip)?.manual === true;

/** Whether the setting at an address is turned by hand. */
export const isManualAt = (profile: Profile, address: string): boolean =>
  isManual(profile, readAddress(address)?.strip ?? '');

/** Whether no wire leads to any of a desk. */
export const isManualDesk = (profile: Profile): boolean => profile.families.every(({ manual }) => manual);

/** The strips of a desk that are turned by hand, in desk order. */
export const manualStrips = (profile: Profile): string[] =>
  profile.families.flatMap(({ manual, strips }) => (manual ? strips : []));

/** A desk without what is turned by hand: all that is ever sent to it, or asked for. */
export const wiredPart = (profile: Profile): Profile => partOf(profile, false);

/** Of a desk what is turned by hand. */
export const manualPart = (profile: Profile): Profile => partOf(profile, true);

function partOf(profile: Profile, manual: boolean): Profile {
  const families = profile.families.filter((family) => family.manual === manual);
  // A profile is known by itself in many places, so it stays the one it is where it is all of one kind.
  if (families.length === profile.families.length) return profile;
  return { ...profile, families, strips: families.flatMap(({ strips }) => strips) };
}
