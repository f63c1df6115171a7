import type { Profile } from '../desk/profile';
import { type Safe, type Safes, WILDCARD } from './scope-rules';

const wholeFamily = (family: string) => ({ strips: [family], sections: [WILDCARD] });

const isWholeFamily = (safe: Safe, family: string): boolean =>
  !safe.settings && safe.strips.length === 1 && safe.strips[0] === family && safe.sections.includes(WILDCARD);

/** Whether a family is held safe as a whole, by a rule of its own. */
export const isFamilySafe = (safes: Safes, family: string): boolean =>
  safes.some((safe) => isWholeFamily(safe, family));

/** The safes with a whole family held, or that rule let go of; what is held of its strips besides stays held. */
export const holdFamily = (safes: Safes, family: string, held: boolean): Safes => [
  ...safes.filter((safe) => !isWholeFamily(safe, family)),
  ...(held ? [wholeFamily(family)] : []),
];

const isWholeSection = ({ strips, sections, settings }: Safe, section: string): boolean =>
  !settings && strips.join() === WILDCARD && sections.join() === section;

/** Whether a section is held safe on every strip, by a rule of its own: it never comes back on this desk. */
export const isSectionSafe = (safes: Safes, section: string): boolean =>
  safes.some((safe) => isWholeSection(safe, section));

/** The safes with a section held on every strip, or that rule let go of; what is held of it besides stays held. */
export const holdSection = (safes: Safes, section: string, held: boolean): Safes => [
  ...safes.filter((safe) => !isWholeSection(safe, section)),
  ...(held ? [{ strips: [WILDCARD], sections: [section] }] : []),
];

/** The keys of all sends into a strip, of any family: `sends/mix.3/level`. */
export const sendsInto = (profile: Profile, strip: string): string[] => [
  ...new Set(profile.families.flatMap(({ keys }) => keys.filter((key) => key.startsWith(`sends/${strip}/`)))),
];

/** The rules that hold an output: its strip, and all that is sent to it. */
function outputRules(profile: Profile, output: string): Safe[] {
  const settings = sendsInto(profile, output);
  const sends = { strips: [WILDCARD], sections: ['sends'], settings };
  return [{ strips: [output], sections: [WILDCARD] }, ...(settings.length > 0 ? [sends] : [])];
}

const sameRule = (one: Safe, other: Safe): boolean => JSON.stringify(one) === JSON.stringify(other);

/** Whether an output is held safe with all that is sent to it. */
export const isOutputSafe = (profile: Profile, safes: Safes, output: string): boolean =>
  outputRules(profile, output).every((rule) => safes.some((safe) => sameRule(safe, rule)));

/** The safes with an output and all sends into it held, or let go of. */
export function holdOutput(profile: Profile, safes: Safes, output: string, held: boolean): Safes {
  const rules = outputRules(profile, output);
  return [...safes.filter((safe) => !rules.some((rule) => sameRule(safe, rule))), ...(held ? rules : [])];
}
