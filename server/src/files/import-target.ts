import { NOWHERE } from '@old-echo/core/contracts/desk';
import { sectionOf } from '@old-echo/core/desk/address';
import { hasAllOf, parseProfile, type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { type State, type StripState, validateSettings } from '@old-echo/core/desk/state';
import { toAddresses } from '@old-echo/core/library/convert-strip';

import type { Database } from '../database/connect';
import { fromJson } from '../database/json-column';
import { newId } from '../database/new-id';
import type { DeskRow } from '../database/tables';
import { addDesk } from '../desk/desk-store';
import { insertProfile } from '../desk/profile-store';
import { invalidFile } from './document';

/** The kind of desk of a file, here. @throws Fault `refused-input` where another kind has its name */
export async function findOrAddProfile(tx: Database, source: unknown): Promise<Profile> {
  const profile = parseProfile(source);
  const row = await tx('profiles').where({ id: profile.id }).first('source');
  if (!row) await insertProfile(tx, source);
  else if (!hasAllOf(parseProfile(fromJson(row.source)), profile))
    throw invalidFile(
      `The file’s ${profile.name} differs from the one here.`,
      'profile',
      'Nothing was imported. Its desk has other settings, or other ranges.',
    );
  return profile;
}

/** The desk here that something of its kind belongs to; one that nobody knows is entered without a link. */
export async function findOrAddDesk(
  tx: Database,
  profile: Profile,
  like: Pick<DeskRow, 'name' | 'mode'>,
): Promise<{ readonly id: string; readonly isNew: boolean }> {
  const known = await tx('desks')
    .where({ profile_id: profile.id })
    .orderByRaw('removed_at IS NOT NULL')
    .orderBy('place')
    .first('id');
  if (known) return { id: known.id, isNew: false };
  const id = newId();
  await addDesk(tx, { id, name: like.name, profile_id: profile.id, ...NOWHERE, mode: like.mode });
  return { id, isNew: true };
}

/** The song or show that someone chose, of this kind of desk. @throws Fault `refused-input` where it is gone, or of another */
export async function productionFor(tx: Database, profile: Profile, id: string): Promise<string> {
  const known = await tx('productions')
    .join('desks', 'desks.id', 'productions.desk_id')
    .where('productions.id', id)
    .where('profile_id', profile.id)
    .whereNull('binned_at')
    .first<{ id: string } | undefined>('productions.id');
  if (!known)
    throw invalidFile(
      `The song or show it was to go into is gone, or is not of a ${profile.name}.`,
      'intoId',
      'Nothing was imported. Choose another.',
    );
  return known.id;
}

/**
 * Imported settings of a strip: validated, without the sections that were not chosen.
 * @param before settings of the same strip that were validated already
 */
export function importStrip(
  profile: Profile,
  strip: string,
  settings: StripState,
  sections: ReadonlySet<string> | null,
  before: StripState = {},
): StripState {
  const family = stripFamily(profile, strip);
  const moved = Object.fromEntries(Object.entries(settings).filter(([key, value]) => before[key] !== value));
  // Checked, and kept as they are: what is written a little off a step is the same to the desk, but has another fingerprint.
  validateSettings(profile, toAddresses(strip, moved));
  if (!family) return {};
  return Object.fromEntries(
    family.keys.flatMap((key) => {
      const value = settings[key];
      return value === undefined || (sections !== null && !sections.has(sectionOf(key))) ? [] : [[key, value]];
    }),
  );
}

/** The sections that come in, or null for all of them. */
export function chosenSections(profile: Profile, include: ReadonlySet<string>): ReadonlySet<string> | null {
  const all = new Set(profile.families.flatMap(({ sections }) => sections));
  const chosen = [...all].filter((section) => include.has(`sections/${section}`));
  if (chosen.length === 0)
    throw invalidFile('No section of its scenes was chosen.', 'include', 'Choose at least one, or no version.');
  return chosen.length === all.size ? null : new Set(chosen);
}

/** Strips as they came in, without those of which nothing did. */
export const partOf = (strips: Iterable<readonly [strip: string, settings: StripState]>): State =>
  Object.fromEntries([...strips].filter(([, settings]) => Object.keys(settings).length > 0));
