import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import type { ScopeSelection } from '@old-echo/core/recall/scope-selection';

import type { CheckState } from '../components/check-row';

/** What of a strip does otherwise than what was chosen. */
export interface Exceptions {
  /** How many of its chosen sections stay. */
  readonly left: number;
  /** Whether each single setting that does otherwise than its cell comes back. */
  readonly settings: readonly boolean[];
}

export const NO_EXCEPTIONS: Exceptions = { left: 0, settings: [] };

/** The exceptions of every strip that has some. */
export function exceptionsOf(choice: ScopeSelection): ReadonlyMap<string, Exceptions> {
  const of = new Map<string, Exceptions>();
  const note = (address: string, more: (before: Exceptions) => Partial<Exceptions>) => {
    const strip = address.slice(0, address.indexOf('/'));
    const before = of.get(strip) ?? NO_EXCEPTIONS;
    of.set(strip, { ...before, ...more(before) });
  };
  for (const cell of choice.left) note(cell, ({ left }) => ({ left: left + 1 }));
  for (const [address, comes] of choice.settings) note(address, ({ settings }) => ({ settings: [...settings, comes] }));
  return of;
}

/** Whether all of the chosen sections come back on a strip, some, or none. */
export function checkState(
  profile: Profile,
  choice: ScopeSelection,
  strip: string,
  exceptions: ReadonlyMap<string, Exceptions> = exceptionsOf(choice),
): Exclude<CheckState, 'safe'> {
  const { left, settings } = exceptions.get(strip) ?? NO_EXCEPTIONS;
  if (!choice.strips.has(strip)) return settings.includes(true) ? 'some' : 'none';
  const sections = stripFamily(profile, strip)?.sections.filter((section) => choice.sections.has(section)) ?? [];
  if (left > 0 && left >= sections.length) return settings.includes(true) ? 'some' : 'none';
  return left === 0 && settings.length === 0 ? 'all' : 'some';
}
