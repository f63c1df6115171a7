import type { Picks } from '../combine/recipe';
import { type Profile, stripFamily } from '../desk/profile';
import { displayName, type State } from '../desk/state';
import { capitalise, joinWithAnd, plural, sectionNameInText } from './format-value';
import type { Phrase } from './phrase';

/** What comes from which scene, in one sentence: "Frame drum and Shaker from **9**, voice automation from **12**, the rest from **14**." */
export function describeOrigins(
  profile: Profile,
  names: State,
  origins: Picks,
  nameOf: (scene: string) => string,
  base: string,
): Phrase[] {
  const byScene = new Map<string, string[]>();
  for (const [cell, scene] of Object.entries(origins)) byScene.set(scene, [...(byScene.get(scene) ?? []), cell]);
  if (byScene.size === 0) return [{ text: 'Everything is from ' }, { text: nameOf(base), tone: 'bold' }, { text: '.' }];
  const parts = [...byScene].flatMap(([scene, cells], i): Phrase[] => {
    const what = describeCells(profile, names, cells);
    const text = `${i > 0 ? ', ' : ''}${i > 0 ? what : capitalise(what)} from `;
    return [{ text }, { text: nameOf(scene), tone: 'bold' }];
  });
  return [...parts, { text: ', the rest from ' }, { text: nameOf(base), tone: 'bold' }, { text: '.' }];
}

/** Cells in words: by strip where few strips are meant, by section where few sections are. */
function describeCells(profile: Profile, names: State, cells: readonly string[]): string {
  const strips = [...new Set(cells.map((cell) => cell.slice(0, cell.indexOf('/'))))];
  const sections = [...new Set(cells.map(sectionOfCell))];
  const named = strips.length <= 3 ? joinWithAnd(strips.map((strip) => displayName(profile, names, strip))) : '';
  const family = new Set(strips.map((strip) => stripFamily(profile, strip)?.id));
  if (sections.length === 1) {
    const section = sectionNameInText(sections[0] ?? '');
    return named ? `${section} on ${named}` : `${section} on ${plural(strips.length, 'strip')}`;
  }
  const all = family.size === 1 && strips.length === (stripFamily(profile, strips[0] ?? '')?.strips.length ?? 0);
  if (all) return `all ${stripFamily(profile, strips[0] ?? '')?.name.toLowerCase() ?? 'strips'}`;
  return named || `${plural(cells.length, 'section')} on ${plural(strips.length, 'strip')}`;
}

/** The section of a cell: `in.7/eq` → `eq`. */
export const sectionOfCell = (cell: string): string => cell.slice(cell.indexOf('/') + 1);
