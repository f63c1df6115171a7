import type { NewPreset } from '@old-echo/core/contracts/preset';
import type { State } from '@old-echo/core/desk/state';
import type { LibraryFile } from '@old-echo/core/formats/files';
import { fingerprint } from '@old-echo/core/scene/fingerprint';

import type { Database } from '../database/connect';
import { inTransaction } from '../database/transaction';
import { acceptContent, insertPreset, presetWhole } from '../presets/store';
import { readStoredProfile } from '../profiles/store';
import type { Tools } from './bring-tools';
import { profileFor } from './landing';

export async function bringPresets(
  { db, beat }: Tools,
  { profiles, presets: list }: Pick<LibraryFile, 'profiles' | 'presets'>,
  take: ReadonlySet<string>,
  replace: boolean,
): Promise<string> {
  const chosen = list.filter((_, i) => take.has(`presets/${i}`));
  const landed: string[] = [];
  await inTransaction(db, async (tx) => {
    for (const profile of profiles) await profileFor(tx, profile);
    for (const [done, preset] of chosen.entries()) {
      await beat(done, chosen.length);
      landed.push(await bringPreset(tx, preset, replace));
    }
  });
  return `/library/${landed.at(-1) ?? ''}`;
}

/** One preset; one that is here already as it is, is left alone. */
export async function bringPreset(
  tx: Database,
  preset: LibraryFile['presets'][number],
  replace: boolean,
): Promise<string> {
  const { kind, name } = preset;
  const same = (await tx('presets').where({ kind, name }).whereNull('binned_at').first('id')) as
    { id: string } | undefined;
  const profile = await readStoredProfile(tx, preset.profileId);
  const content = acceptContent(profile, preset.content as State);
  if (same && fingerprint((await presetWhole(tx, same.id)).content) === fingerprint(content)) return same.id;
  const made: NewPreset = { ...preset, content, taken: replace ? 'replace' : 'keep both' };
  return (await insertPreset(tx, made)).id;
}
