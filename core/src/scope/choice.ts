import { GLOBAL_FAMILY, type Profile } from '../desk/profile';
import { SECTIONS } from '../desk/wording';
import { compileScope } from './compile';
import { EVERY, type Scope, type ScopeRule } from './rules';

/** What a person picks on a screen: some sections, on some strips, with or without the globals. */
export interface Choice {
  readonly sections: ReadonlySet<string>;
  readonly strips: ReadonlySet<string>;
  readonly globals: boolean;
}

/** Sections that some strip other than the globals has, in reading order. */
export const choosableSections = (profile: Profile): string[] => {
  const all = new Set(profile.families.filter((f) => f.id !== GLOBAL_FAMILY).flatMap((f) => f.sections));
  return SECTIONS.filter((section) => all.has(section));
};

/** Strips that can be picked one by one: all but the globals. */
export const choosableStrips = (profile: Profile): string[] =>
  profile.families.filter((f) => f.id !== GLOBAL_FAMILY).flatMap((f) => f.strips);

/** The rules of a choice, as short as they can be: `*` for all, a family where all of it is meant. */
export function scopeOf(profile: Profile, choice: Choice): Scope {
  const sections = choosableSections(profile);
  const all = sections.every((section) => choice.sections.has(section));
  const families = profile.families.filter((f) => f.id !== GLOBAL_FAMILY);
  const strips = families.flatMap((f) =>
    f.strips.every((strip) => choice.strips.has(strip)) ? [f.id] : f.strips.filter((strip) => choice.strips.has(strip)),
  );
  const everyStrip = families.every((f) => strips.includes(f.id));
  const rules: ScopeRule[] = [];
  if (choice.sections.size > 0 && strips.length > 0)
    rules.push({
      strips: everyStrip ? [EVERY] : strips,
      sections: all ? [EVERY] : sections.filter((section) => choice.sections.has(section)),
      take: true,
    });
  if (choice.globals) rules.push({ strips: [GLOBAL_FAMILY], sections: [EVERY], take: true });
  return rules;
}

/** The choice that shows a scope on the screen: every strip and every section that it takes anything from. */
export function choiceOf(profile: Profile, scope: Scope): Choice {
  const { cells } = compileScope(profile, scope);
  const [sections, strips] = [new Set<string>(), new Set<string>()];
  let globals = false;
  for (const family of profile.families)
    for (const strip of family.strips)
      for (const [section, fate] of Object.entries(cells[strip] ?? {})) {
        if (fate !== 'comes back') continue;
        if (family.id === GLOBAL_FAMILY) globals = true;
        else {
          strips.add(strip);
          sections.add(section);
        }
      }
  return { sections, strips, globals };
}
