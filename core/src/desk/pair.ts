import { stripFamily, type Profile } from './profile';
import type { State } from './state';

/** The other half of a linked pair, or undefined for a strip that is not linked. */
export function otherHalf(profile: Profile, state: State, strip: string): string | undefined {
  const strips = stripFamily(profile, strip)?.strips ?? [];
  const at = strips.indexOf(strip);
  if (state[strip]?.['source/link'] === true) return strips[at + 1];
  return at > 0 && state[strips[at - 1] as string]?.['source/link'] === true ? strips[at - 1] : undefined;
}
