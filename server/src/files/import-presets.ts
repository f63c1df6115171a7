import type { NewPreset } from '@old-echo/core/contracts/preset';
import { fingerprint } from '@old-echo/core/desk/fingerprint';
import type { LibraryFile } from '@old-echo/core/formats/file-shapes';
import { plural } from '@old-echo/core/phrases/format-value';

import type { Database } from '../database/connect';
import { readStoredProfile } from '../desk/profile-store';
import { insertPreset, presetDetail, validateContent } from '../library/preset-store';
import type { ImportResult, Tools } from './import-context';
import { findOrAddProfile } from './import-target';

export async function importPresets(
  { tx, report }: Tools,
  { profiles, presets: list }: Pick<LibraryFile, 'profiles' | 'presets'>,
  include: ReadonlySet<string>,
  replace: boolean,
): Promise<ImportResult> {
  const chosen = list.filter((_, i) => include.has(`presets/${i}`));
  const landed: string[] = [];
  let known = 0;
  for (const profile of profiles) await findOrAddProfile(tx, profile);
  for (const [done, preset] of chosen.entries()) {
    await report(done, chosen.length);
    const { id, isNew } = await importPreset(tx, preset, replace);
    landed.push(id);
    if (!isNew) known++;
  }
  return { resultPath: `/library/${landed.at(-1) ?? ''}`, note: alreadyHere(known, chosen.length) };
}

/** "2 of 3 presets were here already, just so, and stay as they are." */
const alreadyHere = (known: number, of: number): string =>
  known === 0
    ? ''
    : known === of
      ? `${of === 1 ? 'It was' : 'All of them were'} already here, unchanged. Nothing had to be imported.`
      : `${known} of ${plural(of, 'preset')} ${known === 1 ? 'was' : 'were'} already here, unchanged, and ${known === 1 ? 'stays' : 'stay'} once.`;

/** One preset; one that is here already as it is, is left alone. */
export async function importPreset(
  tx: Database,
  preset: LibraryFile['presets'][number],
  replace: boolean,
): Promise<{ readonly id: string; readonly isNew: boolean }> {
  const { kind, name } = preset;
  const same = await tx('presets').where({ kind, name }).whereNull('binned_at').first('id');
  const profile = await readStoredProfile(tx, preset.profileId);
  const content = validateContent(profile, preset.content);
  if (same && fingerprint((await presetDetail(tx, same.id)).content) === fingerprint(content))
    return { id: same.id, isNew: false };
  const made: NewPreset = { ...preset, content, taken: replace ? 'replace' : 'keep both' };
  return { id: (await insertPreset(tx, made)).id, isNew: true };
}
