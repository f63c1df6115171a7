import { sectionOf } from '../desk/address';
import { GLOBAL_FAMILY, type Family, type Profile } from '../desk/profile';
import { EVERY, type Safes, type Scope } from './rules';

/** Why something stays as it is. */
export type StayReason = 'out of scope' | 'safe' | 'global' | 'not on this desk';

/** What happens to a cell: it comes back, or it stays for a reason. */
export type CellFate = 'comes back' | Exclude<StayReason, 'not on this desk'>;

export interface CompiledScope {
  /** Strip → section → fate, for every cell of the profile. */
  readonly cells: Readonly<Record<string, Readonly<Record<string, CellFate>>>>;
  /** Addresses of single settings held safe inside cells that come back. */
  readonly safeSettings: ReadonlySet<string>;
}

/**
 * Works out the fate of every cell. The last matching rule decides; safes win over every rule; a cell of the globals
 * comes back only where a rule names the globals themselves.
 */
export function compileScope(profile: Profile, scope: Scope, safes: Safes = []): CompiledScope {
  const rules = scope.map((rule) => ({ ...matcher(rule.strips, rule.sections), take: rule.take })).reverse();
  const safeCells = safes.filter((s) => !s.settings).map((s) => matcher(s.strips, s.sections));
  const cells: Record<string, Record<string, CellFate>> = {};
  for (const family of profile.families) {
    for (const strip of family.strips) {
      const fates: Record<string, CellFate> = {};
      for (const section of family.sections) {
        const rule = rules.find((r) => r.strip(family, strip) && r.section(section));
        const safe = safeCells.some((s) => s.strip(family, strip) && s.section(section));
        if (safe) fates[section] = 'safe';
        else if (rule?.take) fates[section] = 'comes back';
        else fates[section] = family.id === GLOBAL_FAMILY && !rule ? 'global' : 'out of scope';
      }
      cells[strip] = fates;
    }
  }
  return { cells, safeSettings: safeSettingsOf(profile, safes) };
}

function matcher(strips: readonly string[], sections: readonly string[]) {
  const [named, parts] = [new Set(strips), new Set(sections)];
  return {
    strip: (family: Family, strip: string): boolean =>
      named.has(strip) || named.has(family.id) || (named.has(EVERY) && family.id !== GLOBAL_FAMILY),
    section: (section: string): boolean => parts.has(section) || parts.has(EVERY),
  };
}

function safeSettingsOf(profile: Profile, safes: Safes): Set<string> {
  const held = new Set<string>();
  for (const safe of safes) {
    if (!safe.settings) continue;
    const { strip: matches, section } = matcher(safe.strips, safe.sections);
    for (const family of profile.families)
      for (const key of safe.settings)
        if (family.settings[key] && section(sectionOf(key)))
          for (const strip of family.strips) if (matches(family, strip)) held.add(`${strip}/${key}`);
  }
  return held;
}

/** Strips that are held safe in every section. */
export const safeStrips = (compiled: CompiledScope): string[] =>
  Object.entries(compiled.cells)
    .filter(([, fates]) => Object.values(fates).every((fate) => fate === 'safe'))
    .map(([strip]) => strip);
