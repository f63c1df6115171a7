import { sectionOf } from '../desk/address';
import { type Profile, stripFamily } from '../desk/profile';
import { type Safe, type Safes, WILDCARD } from './scope-rules';
import { choosableStrips } from './scope-selection';

/** What is held safe: a strip, one section of it, or one setting. */
export interface SafeTarget {
  readonly strip: string;
  readonly section?: string;
  /** The setting's key: `sends/mix.3/level`. */
  readonly key?: string;
}

/**
 * Makes a strip, a cell or a setting safe or not; removing one splits the rules that cover it. Rules that cover only a part of
 * it stay as they are.
 */
export function setSafe(profile: Profile, safes: Safes, at: SafeTarget, held: boolean): Safes {
  const without = safes.flatMap((safe): Safe[] => {
    if (!coversTarget(safe, at)) return [safe];
    const strips = safe.strips.flatMap((name) => expandStripName(profile, name, at.strip));
    if (!strips.includes(at.strip)) return [safe];
    const others = strips.filter((name) => name !== at.strip);
    return [...(others.length > 0 ? [{ ...safe, strips: others }] : []), ...restOfRule(profile, safe, at)];
  });
  if (!held) return without;
  const { strip, section, key } = at;
  return [
    ...without,
    key === undefined
      ? { strips: [strip], sections: [section ?? WILDCARD] }
      : { strips: [strip], sections: [sectionOf(key)], settings: [key] },
  ];
}

const sectionAt = ({ section, key }: SafeTarget): string | undefined => (key === undefined ? section : sectionOf(key));

/** Whether a rule, on the strips it names, holds all of what is meant. */
function coversTarget(safe: Safe, at: SafeTarget): boolean {
  if (safe.settings) return at.key !== undefined && safe.settings.includes(at.key);
  if (safe.sections.includes(WILDCARD)) return true;
  const section = sectionAt(at);
  return section !== undefined && safe.sections.includes(section);
}

/** What a rule goes on to hold on a strip of which a part is let go. */
function restOfRule(profile: Profile, safe: Safe, at: SafeTarget): Safe[] {
  const family = stripFamily(profile, at.strip);
  const section = sectionAt(at);
  if (!family || section === undefined) return [];
  const strips = [at.strip];
  if (safe.settings) {
    const settings = safe.settings.filter((key) => key !== at.key);
    return settings.length > 0 ? [{ ...safe, strips, settings }] : [];
  }
  const sections = (safe.sections.includes(WILDCARD) ? family.sections : safe.sections).filter(
    (name) => name !== section,
  );
  const keys = at.key === undefined ? [] : family.keys.filter((key) => sectionOf(key) === section && key !== at.key);
  return [
    ...(sections.length > 0 ? [{ strips, sections: [...sections] }] : []),
    ...(keys.length > 0 ? [{ strips, sections: [section], settings: keys }] : []),
  ];
}

/** A name as it is, unless it is a family or `*` with the strip in it: then all of its strips. */
function expandStripName(profile: Profile, name: string, strip: string): readonly string[] {
  const all = name === WILDCARD ? choosableStrips(profile) : profile.families.find((f) => f.id === name)?.strips;
  return all?.includes(strip) ? all : [name];
}
