import { type Profile, stripFamily } from '../desk/profile';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import { displayName } from '../desk/state';
import { type Baseline, type BaselineSource, byShare } from '../scenes/baseline';
import { joinWithAnd, plural, sectionNameInText } from './format-value';

/** What a source is called: "5 Saltmarsh reel". */
export const sourceName = ({ number, name }: Pick<BaselineSource, 'number' | 'name'>): string =>
  number > 0 ? `${number} ${name}` : name;

/** At most so many strips or sections are named. */
const MAX_NAMED = 3;

/** One true line that names what a desk is meant to hold: "5 Saltmarsh reel, without label". Globals go without saying. */
export function baselineLine(profile: Profile, { state, sources, cells }: Baseline): string {
  const [main, ...others] = byShare({ sources, cells });
  const first = main === undefined ? undefined : sources[main];
  if (!first) return '';
  const all = profile.strips.flatMap((strip) => {
    const family = stripFamily(profile, strip);
    return family && family.id !== GLOBAL_FAMILY ? family.sections.map((section) => [strip, section] as const) : [];
  });
  const isMains = ([strip, section]: Cell): boolean => {
    const from = cells[`${strip}/${section}`];
    return from?.length === 1 && from[0] === main;
  };
  const own = all.filter(isMains);
  if (own.length === all.length) return sourceName(first);
  const names = (strip: string) => displayName(profile, state, strip);
  const rest = all.filter((cell) => !isMains(cell));
  const unknown = rest.filter(([strip, section]) => !cells[`${strip}/${section}`]?.length).length;
  const last = main === sources.length - 1;
  if (last && own.length >= rest.length) return `${sourceName(first)}, without ${cellsInWords(rest, all, names)}`;
  if (unknown > 0 && others.length === 0) return `Only ${cellsInWords(own, all, names)} of ${sourceName(first)}`;
  const more = others.flatMap((other) => {
    const source = sources[other];
    const taken = all.filter(([strip, section]) => cells[`${strip}/${section}`]?.includes(other));
    return source && taken.length > 0 ? [`${cellsInWords(taken, all, names)} from ${sourceName(source)}`] : [];
  });
  return more.length === 0 ? sourceName(first) : `${sourceName(first)}, with ${joinWithAnd(more)}`;
}

type Cell = readonly [strip: string, section: string];

/** "labels and views", "EQ on Fiddle", "Fiddle", "12 cells": some cells among all of a desk, in few words. */
function cellsInWords(some: readonly Cell[], all: readonly Cell[], nameOf: (strip: string) => string): string {
  const chosen = new Set(some.map(String));
  const [strips, sections] = [[...new Set(some.map(([strip]) => strip))], [...new Set(some.map(([, s]) => s))]];
  const wholeSections = all.every((cell) => !sections.includes(cell[1]) || chosen.has(String(cell)));
  if (wholeSections && sections.length <= MAX_NAMED) return joinWithAnd(sections.map(sectionNameInText));
  const wholeStrips = all.every((cell) => !strips.includes(cell[0]) || chosen.has(String(cell)));
  if (wholeStrips) return strips.length <= MAX_NAMED ? joinWithAnd(strips.map(nameOf)) : plural(strips.length, 'strip');
  if (strips.length <= MAX_NAMED && sections.length === 1)
    return `${sections.map(sectionNameInText).join('')} on ${joinWithAnd(strips.map(nameOf))}`;
  if (sections.length === 1) return `${sections.map(sectionNameInText).join('')} on ${plural(strips.length, 'strip')}`;
  if (strips.length === 1) return `parts of ${nameOf(strips[0] ?? '')}`;
  return `parts of ${plural(strips.length, 'strip')}`;
}
