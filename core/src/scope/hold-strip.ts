import type { Profile } from '../desk/profile';
import { choosableStrips } from './choice';
import { EVERY, type Safe, type Safes } from './rules';

/**
 * The safes with one strip held in all of its sections, or let go of. Letting go takes the strip out of every rule that
 * holds whole strips, spelling families out where it has to; rules for single cells and settings stay as they are.
 */
export function holdStrip(profile: Profile, safes: Safes, strip: string, hold: boolean): Safes {
  const without = safes.flatMap((safe): Safe[] => {
    if (safe.settings || !safe.sections.includes(EVERY)) return [safe];
    const strips = safe.strips.flatMap((name) => stripsNamed(profile, name, strip)).filter((name) => name !== strip);
    return strips.length > 0 ? [{ ...safe, strips }] : [];
  });
  return hold ? [...without, { strips: [strip], sections: [EVERY] }] : without;
}

/** A name as it is, unless it is a family or `*` with the strip in it: then all of its strips. */
function stripsNamed(profile: Profile, name: string, strip: string): readonly string[] {
  const all = name === EVERY ? choosableStrips(profile) : profile.families.find((f) => f.id === name)?.strips;
  return all?.includes(strip) ? all : [name];
}
