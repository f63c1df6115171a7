import { familyOf, readAddress, sectionOf } from '../desk/address';
import type { Profile } from '../desk/profile';
import type { FamilySetting, ProfileChangeView } from '../desk/profile-change';
import { isNumberSpec, type SettingSpec } from '../desk/setting';
import { formatCount, formatValue, fullSettingName, isOne, joinWithAnd, plural, sectionName } from './format-value';

/** One thing that a change of a model means: something goes or narrows, something comes, or something has to be done first. */
export interface ChangeLine {
  readonly kind: 'goes' | 'comes' | 'first';
  readonly text: string;
}

/** How many are named of what is alike. */
const NAMED = 5;

/** What it would mean if a model of desk were another, in sentences; the first of them says what it does to scenes. */
export function describeProfileChange(before: Profile, after: Profile, view: ProfileChangeView): ChangeLine[] {
  const { goneStrips, newStrips, goneSettings, newSettings, otherRanges, aside, beyond, presets, desks } = view;
  const goes = (text: string): ChangeLine => ({ kind: 'goes', text });
  const comes = (text: string): ChangeLine => ({ kind: 'comes', text });
  const lines: ChangeLine[] = [
    ...byFamily(before, goneStrips, (name, strips) => goes(`${name}: ${strips} gone.`)),
    ...bySection(before, after, goneSettings, (name, what) => goes(`${name}: ${what} gone.`)),
    ...ranges(before, after, otherRanges, aside).map(goes),
    ...byFamily(after, newStrips, (name, strips) => comes(`${name}: ${strips} new.`)),
    ...bySection(after, before, newSettings, (name, what) => comes(`${name}: ${what} new.`)),
  ];
  if (lines.length === 0) return [comes('Nothing that scenes hold is different.')];
  const wired = (family: string) => after.families.some(({ id, manual }) => id === family && !manual);
  const unread = desks.length > 0 && [...newStrips.map(familyOf), ...newSettings.map((one) => one.family)].some(wired);
  return [
    lossLine(view),
    ...lines,
    ...(presets.length > 0
      ? [goes(`${plural(presets.length, 'preset loses', 'presets lose')} something: ${firstOf(presets)}.`)]
      : []),
    ...(unread
      ? [
          comes(
            `${joinWithAnd(desks)} must have what is new: else it is not read. Scenes made so far say nothing of it.`,
          ),
        ]
      : []),
    ...beyondLines(after, beyond),
  ];
}

function lossLine({ losing, scenes }: ProfileChangeView): ChangeLine {
  if (losing === 0)
    return { kind: 'comes', text: scenes === 0 ? 'No scene is made of it yet.' : 'No scene loses anything.' };
  return {
    kind: 'goes',
    text: `${formatCount(losing)} of ${plural(scenes, 'scene')} ${isOne(losing) ? 'holds' : 'hold'} something that is neither shown nor restored from then on. It stays stored, and comes back with the model.`,
  };
}

function byFamily<T>(profile: Profile, strips: readonly string[], say: (family: string, strips: string) => T): T[] {
  return profile.families.flatMap(({ id, name }) => {
    const own = strips.filter((strip) => familyOf(strip) === id).map((strip) => profile.plainNames[strip] ?? strip);
    if (own.length === 0) return [];
    const [first, last] = [own[0], own.at(-1)];
    return [say(name, own.length === 1 ? `${first} is` : `${plural(own.length, 'strip')}, ${first} to ${last}, are`)];
  });
}

/** Settings by family, whole sections by their names. */
function bySection<T>(
  profile: Profile,
  other: Profile,
  settings: readonly FamilySetting[],
  say: (family: string, what: string) => T,
): T[] {
  return profile.families.flatMap(({ id, name, sections }) => {
    const keys = settings.filter(({ family }) => family === id).map(({ key }) => key);
    return sections.flatMap((section) => {
      const own = keys.filter((key) => sectionOf(key) === section);
      if (own.length === 0) return [];
      const there = other.families.find((family) => family.id === id)?.sections.includes(section);
      const names = own.map((key) => fullSettingName(profile, `${id}.1/${key}`));
      const what = there ? firstOf(names) : sectionName(section);
      return [say(name, `${what} ${there && own.length > 1 ? 'are' : 'is'}`)];
    });
  });
}

/** What settings take after and before, and where scenes go beyond that. */
function ranges(
  before: Profile,
  after: Profile,
  settings: readonly FamilySetting[],
  aside: ProfileChangeView['aside'],
): string[] {
  return settings.map(({ family, key }) => {
    const [was, now] = [before, after].map((profile) => profile.families.find(({ id }) => id === family));
    const name = `${now?.name}: ${fullSettingName(after, `${family}.1/${key}`)}`;
    const strips = aside.find((one) => one.family === family && one.key === key)?.strips ?? 0;
    const beyond = strips > 0 ? ` Scenes go beyond that on ${plural(strips, 'strip')}.` : '';
    return `${name} takes ${rangeOf(now?.settings[key])}, before ${rangeOf(was?.settings[key])}.${beyond}`;
  });
}

function rangeOf(spec: SettingSpec | undefined): string {
  if (!spec) return 'nothing';
  if (isNumberSpec(spec)) return `${formatValue(spec, spec.min, false)} to ${formatValue(spec, spec.max)}`;
  if ('options' in spec) return firstOf(spec.options);
  if (spec.kind === 'text') return plural(spec.longest, 'character');
  if (spec.kind === 'curve') return `${spec.min} to ${spec.max} ${spec.unit}`;
  return 'on and off';
}

function beyondLines(after: Profile, beyond: ProfileChangeView['beyond']): ChangeLine[] {
  return [...new Set(beyond.map(({ desk }) => desk))].map((desk) => {
    const names = beyond.flatMap(({ desk: of, address }) => {
      const strip = readAddress(address)?.strip ?? '';
      return of === desk ? [`${fullSettingName(after, address)} of ${after.plainNames[strip] ?? strip}`] : [];
    });
    return { kind: 'first', text: `Move this on ${desk} first, or it cannot be read: ${firstOf(names)}.` };
  });
}

const firstOf = (names: readonly string[]): string =>
  names.length > NAMED
    ? `${names.slice(0, NAMED).join(', ')} and ${formatCount(names.length - NAMED)} more`
    : joinWithAnd(names);
