import type { Profile } from '../desk/profile';
import { displayName, type State } from '../desk/state';
import type { Counterpart } from '../library/counterpart';
import { joinWithAnd, plural } from './format-value';

/** A mix with what is needed to name its strips. */
interface NamedMix {
  readonly profile: Profile;
  readonly state: State;
}

/** How two mixes of different desk models are compared, and which strips are not. A is the one they are seen from. */
export function describeCounterpart(a: NamedMix, b: NamedMix, { matched, here, there }: Counterpart): string {
  const names = ({ profile, state }: NamedMix, strips: readonly string[]) =>
    joinWithAnd(strips.map((strip) => displayName(profile, state, strip)));
  const alone = [
    there.length > 0 ? `only in B: ${names(b, there)}` : '',
    here.length > 0 ? `only in A: ${names(a, here)}` : '',
  ].filter(Boolean);
  const first = `B is from a ${b.profile.name}. By part and name, ${plural(matched, 'strip has', 'strips have')} a counterpart in A.`;
  return alone.length === 0 ? first : `${first} Not compared, ${alone.join('; ')}.`;
}
