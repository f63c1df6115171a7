import { sectionOf } from './address';
import { type Profile, stripFamily } from './profile';
import type { Value } from './setting';
import type { SettingsByAddress, State } from './state';

/** The other half of a linked pair, or undefined for a strip that is not linked. */
export function linkedPartner(profile: Profile, state: State, strip: string): string | undefined {
  const strips = stripFamily(profile, strip)?.strips ?? [];
  const at = strips.indexOf(strip);
  if (state[strip]?.['source/link'] === true) return strips[at + 1];
  const before = strips[at - 1];
  return before !== undefined && state[before]?.['source/link'] === true ? before : undefined;
}

/** What the halves of a pair do alike; where each comes from, stands and is called is its own. Common practice. */
const ALIKE: ReadonlySet<string> = new Set([
  'gate',
  'eq',
  'compressor',
  'inserts',
  'sends',
  'fader',
  'mute',
  'routing',
  'automation',
]);

/** Whether the halves of a linked pair have a setting in common, by its key. */
export const isAlike = (key: string): boolean =>
  (ALIKE.has(sectionOf(key)) && !key.endsWith('/pan') && key !== 'automation/pan') ||
  /^preamp\/(gain|trim|pad|phantom|lowcut\/.*)$/.test(key);

/** Some strips with the other halves of those that are linked, each once, a half right behind the one that brought it. */
export const withHalves = (profile: Profile, state: State, strips: readonly string[]): string[] => [
  ...new Set(strips.flatMap((strip) => [strip, linkedPartner(profile, state, strip) ?? strip])),
];

/** Moves of controls with those of the other halves of linked pairs, unless they are moved themselves. */
export function movedWithHalves(profile: Profile, state: State, settings: SettingsByAddress): SettingsByAddress {
  const moves: Record<string, Value> = { ...settings };
  for (const [address, value] of Object.entries(settings)) {
    const slash = address.indexOf('/');
    const [strip, key] = [address.slice(0, slash), address.slice(slash + 1)];
    const half = isAlike(key) ? linkedPartner(profile, state, strip) : undefined;
    if (half !== undefined && stripFamily(profile, half)?.settings[key]) moves[`${half}/${key}`] ??= value;
  }
  return moves;
}
