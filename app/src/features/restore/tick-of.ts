import { stripFamily, type Profile } from '@old-echo/core/desk/profile';
import type { Choice } from '@old-echo/core/scope/choice';

import type { Tick } from './tick-row';

/** How many of its chosen sections stay on a strip. */
export const cellsLeft = (choice: Choice, strip: string): number =>
  [...choice.left].filter((cell) => cell.startsWith(`${strip}/`)).length;
/** Whether the single settings of a strip that do otherwise than their cells come back. */
export const settingsOf = (choice: Choice, strip: string): boolean[] =>
  [...choice.settings].filter(([address]) => address.startsWith(`${strip}/`)).map(([, comes]) => comes);

/** Whether all of the chosen sections come back on a strip, some, or none. */
export function tickOf(profile: Profile, choice: Choice, strip: string): Exclude<Tick, 'safe'> {
  const single = settingsOf(choice, strip);
  if (!choice.strips.has(strip)) return single.includes(true) ? 'some' : 'none';
  const sections = stripFamily(profile, strip)?.sections.filter((section) => choice.sections.has(section)) ?? [];
  const left = cellsLeft(choice, strip);
  if (left > 0 && left >= sections.length) return single.includes(true) ? 'some' : 'none';
  return left === 0 && single.length === 0 ? 'all' : 'some';
}
