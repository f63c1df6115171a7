import { sectionOf } from '../address';
import { compileSettingPattern } from '../link-map/template';
import type { Family, Profile } from '../profile';
import type { SettingSpec } from '../setting';
import type { LearnedQuestion } from './learn-question';
import type { LearnedRule } from './learn-rule';

/** How a desk is kept talking, as the file of a map has it. */
export interface LearnedTalk {
  readonly transport: 'udp' | 'tcp';
  readonly alive: LearnedQuestion & { readonly answer: string };
  readonly pace: number;
  /** How long answers may take, in ms. */
  readonly wait?: number;
  readonly changes: Readonly<Record<string, unknown>>;
}

/**
 * The JSON of a profile with the map that was learned: of the one it was learned with, all that was, under an id and a name of its own.
 * Settings of which only some strips of a family were learned are left out.
 */
export function learnedProfile(
  profile: Profile,
  { id, name }: { readonly id: string; readonly name: string },
  talk: LearnedTalk,
  rules: readonly LearnedRule[],
): object {
  const patterns = rules.flatMap(({ setting }) => compileSettingPattern(setting) ?? []);
  const isLearned = (setting: string): boolean => patterns.some((matches) => matches(setting) !== undefined);
  const families = profile.families.flatMap((family) => {
    const keys = family.keys.filter((key) => family.strips.every((strip) => isLearned(`${strip}/${key}`)));
    return keys.length > 0 ? [familySource(profile, family, keys)] : [];
  });
  const { use, pace } = profile;
  return { id, name, use, ...(pace === undefined ? {} : { pace }), families, link: { ...talk, settings: rules } };
}

function familySource(profile: Profile, { id, name, strips, settings }: Family, keys: readonly string[]): object {
  const sections: Record<string, Record<string, SettingSpec>> = {};
  for (const key of keys) {
    const [section, spec] = [sectionOf(key), settings[key]];
    if (spec) (sections[section] ??= {})[key.slice(section.length + 1)] = spec;
  }
  const names = strips.map((strip) => profile.plainNames[strip] ?? strip);
  return { id, name, one: names[0], count: strips.length, names, sections };
}
