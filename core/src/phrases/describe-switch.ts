import type { Comparison } from '../compare/compare';
import type { Profile } from '../desk/profile';
import { displayName, type State } from '../desk/state';
import { differenceWords } from './describe-comparison';
import { joinWithAnd } from './format-value';

/** So much is named of what was heard to change. */
const MAX_NAMED = 3;

/**
 * What one would have heard change as the desk went from one state (A) to another (B), what one hears most first: "Fiddle −9.5 to
 * −5.5 dB, Upright bass muted and 4 more". Empty where nothing changed.
 */
export function describeSwitch(profile: Profile, names: State, { cells }: Comparison): string {
  if (cells.length === 0) return '';
  const heard = cells.filter(({ audible }) => audible);
  const said = heard
    .slice(0, MAX_NAMED)
    .map((cell) => `${displayName(profile, names, cell.strip)} ${differenceWords(profile, names, cell, '')}`);
  const more = heard.length > MAX_NAMED ? [`${heard.length - MAX_NAMED} more`] : [];
  return said.length > 0 ? joinWithAnd([...said, ...more]) : 'Nothing that one would hear';
}
