import { sectionOf } from '../desk/address';
import { type Family, type Profile } from '../desk/profile';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import { SECTIONS } from '../desk/sections';
import type { State, StripState } from '../desk/state';
import { type Safes, type Scope, WILDCARD } from './scope-rules';

/** Why something stays as it is. */
export type SkipReason =
  | 'out of scope'
  | 'safe'
  | 'global'
  | 'not on this desk'
  /** Nothing was ever heard of it. */
  | 'not known'
  /** It is the lane of something that stays. */
  | 'automation of what stays'
  /** It moves a processor that is not there. */
  | 'processor not there';

/** What happens to a cell or a setting: it comes back, or it stays for a reason. */
type ScopeDecision = 'comes back' | 'out of scope' | 'safe' | 'global';

export interface CompiledScope {
  /** Strip → section → fate, for every cell of the profile that what comes back has. */
  readonly cells: Readonly<Record<string, Readonly<Record<string, ScopeDecision>>>>;
  /** Single settings whose fate is not that of their cell, by address. */
  readonly settings: ReadonlyMap<string, ScopeDecision>;
}

/**
 * Works out the fate of every cell, and of single settings that rules name. The last matching rule decides; safes win
 * over every rule; a cell of the globals comes back only where a rule names the globals themselves.
 * @param among what there is to come back, where that may be a part of a desk: cells it lacks have no fate
 */
export function compileScope(profile: Profile, scope: Scope, safes: Safes = [], among?: State): CompiledScope {
  const rules = scope.map(matcher);
  const held = safes.map((safe) => ({ ...matcher(safe), include: false }));
  const wholes = rules.filter((rule) => !rule.keys).reverse();
  const safeCells = held.filter((safe) => !safe.keys);
  const cells: Record<string, Record<string, ScopeDecision>> = {};
  for (const family of profile.families) {
    for (const strip of family.strips) {
      const fates: Record<string, ScopeDecision> = {};
      const own = among && sectionsIn(among[strip] ?? {});
      for (const section of family.sections) {
        if (own && !own.has(section)) continue;
        const rule = wholes.find((r) => r.cell(family, strip, section));
        if (safeCells.some((safe) => safe.cell(family, strip, section))) fates[section] = 'safe';
        else if (rule?.include) fates[section] = 'comes back';
        else fates[section] = family.id === GLOBAL_FAMILY && !rule ? 'global' : 'out of scope';
      }
      cells[strip] = fates;
    }
  }
  const settings = new Map<string, ScopeDecision>();
  const except = (
    list: readonly Matcher[],
    fateOf: (rule: Matcher, i: number, at: CellRef) => ScopeDecision | undefined,
  ): void => {
    list.forEach((rule, i) => {
      if (!rule.keys) return;
      for (const family of profile.families)
        for (const key of rule.keys) {
          const section = sectionOf(key);
          if (!family.settings[key]) continue;
          for (const strip of family.strips) {
            if (!rule.cell(family, strip, section) || cells[strip]?.[section] === undefined) continue;
            const fate = fateOf(rule, i, { family, strip, section, key });
            if (fate === undefined) continue;
            if (fate === cells[strip][section]) settings.delete(`${strip}/${key}`);
            else settings.set(`${strip}/${key}`, fate);
          }
        }
    });
  };
  except(rules, (rule, i, { family, strip, section }) => {
    if (cells[strip]?.[section] === 'safe') return undefined;
    // A later rule for the whole cell wins; later rules for the setting are reached in this loop.
    const later = rules.slice(i + 1).some((other) => !other.keys && other.cell(family, strip, section));
    return later ? undefined : rule.include ? 'comes back' : 'out of scope';
  });
  except(held, () => 'safe');
  return { cells, settings };
}

/** The sections that a strip's settings are of. */
const known = new WeakMap<StripState, ReadonlySet<string>>();
export function sectionsIn(strip: StripState): ReadonlySet<string> {
  const sections = known.get(strip) ?? new Set(Object.keys(strip).map(sectionOf));
  known.set(strip, sections);
  return sections;
}

/** What happens to one setting; undefined where the profile has no such cell. */
export const decisionFor = (
  { cells, settings }: CompiledScope,
  strip: string,
  key: string,
): ScopeDecision | undefined => settings.get(`${strip}/${key}`) ?? cells[strip]?.[sectionOf(key)];

interface CellRef {
  readonly family: Family;
  readonly strip: string;
  readonly section: string;
  readonly key: string;
}

interface Matcher {
  readonly cell: (family: Family, strip: string, section: string) => boolean;
  readonly keys: readonly string[] | undefined;
  readonly include: boolean;
}

function matcher(rule: Safes[number] & { readonly include?: boolean }): Matcher {
  const [named, parts] = [new Set(rule.strips), new Set(rule.sections)];
  return {
    cell: (family, strip, section) =>
      (named.has(strip) || named.has(family.id) || (named.has(WILDCARD) && family.id !== GLOBAL_FAMILY)) &&
      (parts.has(section) || parts.has(WILDCARD)),
    keys: rule.settings,
    include: rule.include ?? false,
  };
}

/** Strips that are held safe in every section. */
export const safeStrips = (compiled: CompiledScope): string[] =>
  Object.entries(compiled.cells)
    .filter(([, fates]) => Object.values(fates).every((fate) => fate === 'safe'))
    .map(([strip]) => strip);

/** Sections that are held safe on every strip that has them, in reading order; not where a whole desk is. */
export function safeSections({ cells }: CompiledScope): string[] {
  const strips = Object.entries(cells).flatMap(([strip, fates]) =>
    strip.startsWith(`${GLOBAL_FAMILY}.`) ? [] : [fates],
  );
  const whole = (section: string) => {
    const fates = strips.flatMap((all) => all[section] ?? []);
    return fates.length > 0 && fates.every((fate) => fate === 'safe');
  };
  const safe = SECTIONS.filter(whole);
  const isDesk = strips.every((fates) => Object.values(fates).every((fate) => fate === 'safe'));
  return isDesk ? [] : safe;
}
