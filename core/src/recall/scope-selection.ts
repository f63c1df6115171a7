import { readAddress, sectionOf } from '../desk/address';
import { type Profile, stripFamily } from '../desk/profile';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import { SECTIONS } from '../desk/sections';
import { compileScope } from './compile-scope';
import { type Scope, type ScopeRule, WILDCARD } from './scope-rules';

/** What a person picks on a screen: some sections on some strips, with exceptions, and some sections of the globals. */
export interface ScopeSelection {
  readonly sections: ReadonlySet<string>;
  readonly strips: ReadonlySet<string>;
  /** Cells of chosen strips and sections that stay all the same: `in.3/eq`. */
  readonly left: ReadonlySet<string>;
  /** Settings that override their cell, by address: true is recalled, false left out. */
  readonly settings: ReadonlyMap<string, boolean>;
  /** Sections of the settings of the whole desk, each asked for by itself. */
  readonly globals: ReadonlySet<string>;
}

export const EMPTY_SELECTION: ScopeSelection = {
  sections: new Set(),
  strips: new Set(),
  left: new Set(),
  settings: new Map(),
  globals: new Set(),
};

/** Sections that some strip other than the globals has, in reading order. */
export const choosableSections = (profile: Profile): string[] => {
  const all = new Set(profile.families.filter((f) => f.id !== GLOBAL_FAMILY).flatMap((f) => f.sections));
  return SECTIONS.filter((section) => all.has(section));
};

/** Sections of the settings of the whole desk. */
export const globalSections = (profile: Profile): readonly string[] =>
  profile.families.find((f) => f.id === GLOBAL_FAMILY)?.sections ?? [];

/** The choice with a section of the globals coming back, or staying. */
export const pickGlobals = (choice: ScopeSelection, sections: readonly string[], include: boolean): ScopeSelection => ({
  ...choice,
  globals: changed(choice.globals, sections, include),
});

/** Strips that can be picked one by one: all but the globals. */
export const choosableStrips = (profile: Profile): string[] =>
  profile.families.filter((f) => f.id !== GLOBAL_FAMILY).flatMap((f) => f.strips);

const hasCell = (profile: Profile, strip: string, section: string): boolean =>
  stripFamily(profile, strip)?.sections.includes(section) ?? false;

/** Whether a cell comes back. */
export const isSelected = ({ strips, sections, left }: ScopeSelection, strip: string, section: string): boolean =>
  strips.has(strip) && sections.has(section) && !left.has(`${strip}/${section}`);

/** The choice with every cell of these strips and sections coming back, or staying; their exceptions are forgotten. */
export function setCells(
  profile: Profile,
  choice: ScopeSelection,
  strips: readonly string[],
  sections: readonly string[],
  include: boolean,
): ScopeSelection {
  const touched = new Set(strips.flatMap((strip) => sections.map((section) => `${strip}/${section}`)));
  const comes = (strip: string, section: string) =>
    touched.has(`${strip}/${section}`) ? include : isSelected(choice, strip, section);
  const next = {
    strips: new Set([...choice.strips, ...(include ? strips : [])]),
    sections: new Set([...choice.sections, ...(include ? sections : [])]),
  };
  // What has lost its last cell is not chosen any more.
  const empty = (cells: (readonly [strip: string, section: string])[]) =>
    cells.every(([strip, section]) => !hasCell(profile, strip, section) || !comes(strip, section));
  if (!include) {
    for (const strip of strips)
      if (empty([...next.sections].map((section) => [strip, section]))) next.strips.delete(strip);
    for (const section of sections)
      if (empty([...next.strips].map((strip) => [strip, section]))) next.sections.delete(section);
  }
  const left = [...next.strips].flatMap((strip) =>
    [...next.sections]
      .filter((section) => hasCell(profile, strip, section) && !comes(strip, section))
      .map((section) => `${strip}/${section}`),
  );
  const { settings } = without(choice, (strip, section) => touched.has(`${strip}/${section}`));
  return { ...choice, ...next, left: new Set(left), settings };
}

/** The choice with sections picked or not, on whatever strips are; exceptions inside them are forgotten. */
export function pickSections(choice: ScopeSelection, sections: readonly string[], include: boolean): ScopeSelection {
  return {
    ...without(choice, (_, section) => sections.includes(section)),
    sections: changed(choice.sections, sections, include),
  };
}

/** The choice with strips picked or not, in whatever sections are; exceptions on them are forgotten. */
export function pickStrips(choice: ScopeSelection, strips: readonly string[], include: boolean): ScopeSelection {
  const named = new Set(strips);
  return { ...without(choice, (strip) => named.has(strip)), strips: changed(choice.strips, strips, include) };
}

function changed(all: ReadonlySet<string>, some: readonly string[], include: boolean): Set<string> {
  const next = new Set(all);
  for (const name of some)
    if (include) next.add(name);
    else next.delete(name);
  return next;
}

/** The choice without the exceptions in some cells. */
function without(choice: ScopeSelection, test: (strip: string, section: string) => boolean): ScopeSelection {
  const stays = (cell: string) => {
    const [strip = '', section = ''] = cell.split('/');
    return !test(strip, section);
  };
  return {
    ...choice,
    left: new Set([...choice.left].filter(stays)),
    settings: new Map([...choice.settings].filter(([address]) => stays(cellOf(address)))),
  };
}

const cellOf = (address: string): string => {
  const parts = readAddress(address);
  return parts ? `${parts.strip}/${parts.section}` : address;
};

/** The choice with single settings coming back, or staying, whatever their cells do. */
export function pickSettings(choice: ScopeSelection, addresses: readonly string[], include: boolean): ScopeSelection {
  const settings = new Map(choice.settings);
  for (const address of addresses) {
    const parts = readAddress(address);
    if (!parts) continue;
    if (isSelected(choice, parts.strip, parts.section) === include) settings.delete(address);
    else settings.set(address, include);
  }
  return { ...choice, settings };
}

/** The rules of a choice, as short as they can be: `*` for all, a family where all of it is meant. */
export function selectionToScope(profile: Profile, choice: ScopeSelection): Scope {
  const sections = choosableSections(profile);
  const all = sections.every((section) => choice.sections.has(section));
  const rules: ScopeRule[] = [];
  if (choice.sections.size > 0 && choice.strips.size > 0)
    rules.push({
      strips: shortestStripList(profile, choice.strips),
      sections: all ? [WILDCARD] : sections.filter((section) => choice.sections.has(section)),
      include: true,
    });
  const globals = globalSections(profile);
  if (choice.globals.size > 0)
    rules.push({
      strips: [GLOBAL_FAMILY],
      sections: globals.every((section) => choice.globals.has(section)) ? [WILDCARD] : [...choice.globals],
      include: true,
    });
  const left = [...choice.left].map((cell): [string, string] => {
    const [strip = '', section = ''] = cell.split('/');
    return [strip, section];
  });
  for (const { strips, names } of groupByStrips(left))
    rules.push({ strips: shortestStripList(profile, strips), sections: names, include: false });
  for (const include of [false, true]) {
    const single = [...choice.settings].flatMap(([address, comes]): [string, string][] => {
      const parts = readAddress(address);
      return parts && comes === include ? [[parts.strip, parts.key]] : [];
    });
    for (const { strips, names } of groupByStrips(single))
      rules.push({
        strips: shortestStripList(profile, strips),
        sections: [...new Set(names.map(sectionOf))],
        settings: names,
        include,
      });
  }
  return rules;
}

/** Names that belong to the same strips, together. */
function groupByStrips(
  pairs: readonly (readonly [strip: string, name: string])[],
): { strips: Set<string>; names: string[] }[] {
  const stripsOf = new Map<string, Set<string>>();
  for (const [strip, name] of pairs) stripsOf.set(name, (stripsOf.get(name) ?? new Set()).add(strip));
  const groups = new Map<string, { strips: Set<string>; names: string[] }>();
  for (const [name, strips] of stripsOf) {
    const id = [...strips].sort().join();
    const group = groups.get(id) ?? { strips, names: [] };
    group.names.push(name);
    groups.set(id, group);
  }
  return [...groups.values()];
}

function shortestStripList(profile: Profile, chosen: ReadonlySet<string>): string[] {
  const families = profile.families.filter((f) => f.id !== GLOBAL_FAMILY);
  const strips = families.flatMap((f) =>
    f.strips.every((strip) => chosen.has(strip)) ? [f.id] : f.strips.filter((strip) => chosen.has(strip)),
  );
  return families.every((f) => strips.includes(f.id)) ? [WILDCARD] : strips;
}

/** The choice that shows a scope on the screen. */
export function scopeToSelection(profile: Profile, scope: Scope): ScopeSelection {
  const { cells, settings } = compileScope(profile, scope);
  const [sections, strips] = [new Set<string>(), new Set<string>()];
  const globals = new Set<string>();
  for (const family of profile.families)
    for (const strip of family.strips)
      for (const [section, fate] of Object.entries(cells[strip] ?? {})) {
        if (fate !== 'comes back') continue;
        if (family.id === GLOBAL_FAMILY) globals.add(section);
        else {
          strips.add(strip);
          sections.add(section);
        }
      }
  const left = [...strips].flatMap((strip) =>
    [...sections]
      .filter((section) => hasCell(profile, strip, section) && cells[strip]?.[section] !== 'comes back')
      .map((section) => `${strip}/${section}`),
  );
  return {
    sections,
    strips,
    left: new Set(left),
    settings: new Map([...settings].map(([address, fate]) => [address, fate === 'comes back'])),
    globals,
  };
}
