import { isList, isRecord } from '../fault/is-record';
import { compileSettingPattern } from './link-map/template';
import { parseProfile } from './profile';
import { type FamilySource, MAX_PROFILE_ID, type ProfileSource } from './profile-source';
import { addressesOf } from './state';

/** "Weir at the pier" as an id that no model has. */
export function freeProfileId(name: string, taken: readonly string[]): string {
  const base =
    name
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, '-')
      .slice(0, MAX_PROFILE_ID - 4)
      .replaceAll(/^-|-$/g, '') || 'model';
  for (let n = 1; ; n++) {
    const id = n === 1 ? base : `${base}-${n}`;
    if (!taken.includes(id)) return id;
  }
}

/** A family of a profile with other fields. Names of strips beyond its count stay for when there are as many again. */
export const withFamily = (source: ProfileSource, id: string, change: Partial<FamilySource>): ProfileSource => ({
  ...source,
  families: source.families.map((family) => (family.id === id ? { ...family, ...change } : family)),
});

/** One more family, where a desk is read: after those of the same kind, in the order given. */
export const withNewFamily = (
  source: ProfileSource,
  family: FamilySource,
  order: readonly string[],
): ProfileSource => ({
  ...source,
  families: [...source.families, family].toSorted((a, b) => order.indexOf(a.id) - order.indexOf(b.id)),
});

export const withoutFamily = (source: ProfileSource, id: string): ProfileSource => ({
  ...source,
  families: source.families.filter((family) => family.id !== id),
});

/** Settings of a section, by what each is called in the file; undefined takes the section out. */
export function withSection(
  source: ProfileSource,
  family: FamilySource,
  section: string,
  settings: Readonly<Record<string, unknown>> | undefined,
): ProfileSource {
  const { [section]: old, ...others } = family.sections;
  if (!settings) return withFamily(source, family.id, { sections: others });
  const sections = old ? { ...family.sections, [section]: settings } : { ...others, [section]: settings };
  return withFamily(source, family.id, { sections });
}

/** A field of a setting, such as its `max`, set to another value. */
export const withField = (
  source: ProfileSource,
  family: FamilySource,
  [section, pattern, field]: readonly [section: string, pattern: string, field: string],
  value: unknown,
): ProfileSource => {
  const settings = family.sections[section] ?? {};
  const spec = settings[pattern];
  return withSection(source, family, section, {
    ...settings,
    [pattern]: { ...(isRecord(spec) ? spec : {}), [field]: value },
  });
};

/** A profile whose map has no rules for what it does not have any more. */
export function withoutDeadRules(source: ProfileSource): ProfileSource {
  const { link, ...rest } = source;
  if (!isRecord(link) || !isList(link['settings'])) return source;
  const settings = addressesOf(parseProfile(rest));
  const rules = link['settings'].filter((rule) => {
    const matches = isRecord(rule) ? compileSettingPattern(String(rule['setting'])) : undefined;
    // What cannot be read is left to whoever reads the whole.
    return !matches || settings.some((setting) => matches(setting) !== undefined);
  });
  return rules.length === link['settings'].length ? source : { ...rest, link: { ...link, settings: rules } };
}
