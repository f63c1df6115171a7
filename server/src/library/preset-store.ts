import type { NewEdition, NewPreset, PresetDetail, PresetEdit, PresetView } from '@old-echo/core/contracts/preset';
import type { Profile } from '@old-echo/core/desk/profile';
import { validateSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { uniqueName } from '@old-echo/core/fault/text-shapes';
import { settingsOfStrip, toAddresses } from '@old-echo/core/library/convert-strip';
import type { PresetContent } from '@old-echo/core/library/preset';
import { presetLabel } from '@old-echo/core/phrases/preset-label';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson, toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import type { PresetEditionRow, PresetRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import type { DeskConnections } from '../desk/desk-connections';
import { fittingToday, readStoredProfile } from '../desk/profile-store';
import { updatePresetOrigin } from '../recall/staged-settings-store';
import { editConflict } from '../scenes/scene-store';
import { withUniqueName } from '../scenes/unique-names';

/** A preset with who made its newest edition, and when. */
type Row = PresetRow & Pick<PresetEditionRow, 'made_by' | 'made_at'>;

const rows = (db: Database) =>
  db('presets')
    .join('preset_editions', (on) =>
      on.on('preset_editions.preset_id', 'presets.id').andOn('preset_editions.edition', 'presets.edition'),
    )
    .select<Row[]>('presets.*', 'made_by', 'made_at');

const viewOf = (row: Row): PresetView => ({
  id: row.id,
  kind: row.kind,
  name: row.name,
  folder: row.folder,
  tags: fromJson(row.tags),
  note: row.note,
  favourite: row.favourite === 1,
  starts: row.starts === 1,
  profileId: row.profile_id,
  madeOn: row.made_on,
  by: row.made_by,
  madeAt: row.made_at.toISOString(),
  edition: row.edition,
  gist: row.gist,
  binnedAt: row.binned_at?.toISOString() ?? null,
  revision: row.revision,
});

/** The whole library, without what is in it; what is in the bin too. */
export const presets = async (db: Database): Promise<PresetView[]> =>
  (await rows(db).orderBy('folder').orderBy('name')).map(viewOf);

/** @throws Fault `not-found` */
export async function preset(db: Database, id: string): Promise<PresetView> {
  const row = await rows(db).where('presets.id', id).first();
  if (!row) throw new Fault('not-found', 'This is no longer in the library.', 'Go back to the library.');
  return viewOf(row);
}

/** A preset with what it holds and held. @throws Fault `not-found` */
export async function presetDetail(db: Database, id: string): Promise<PresetDetail> {
  const view = await preset(db, id);
  const editions = await db('preset_editions')
    .where({ preset_id: id })
    .orderBy('edition', 'desc')
    .select('edition', 'made_by', 'made_at');
  return {
    ...view,
    content: await contentOfEdition(db, view, view.edition),
    earlier: editions
      .filter(({ edition }) => edition !== view.edition)
      .map(({ edition, made_by, made_at }) => ({ edition, by: made_by, madeAt: made_at.toISOString() })),
  };
}

/** What an edition of a preset holds, as far as its model of desk has and takes it today. */
async function contentOfEdition(
  db: Database,
  { id, profileId }: Pick<PresetView, 'id' | 'profileId'>,
  edition: number,
): Promise<PresetContent> {
  const row = await db('preset_editions').where({ preset_id: id, edition }).first('content');
  if (!row) throw new Fault('not-found', 'This edition no longer exists.', 'Choose one from the list.');
  return fittingToday(db, profileId, fromJson(row.content));
}

const LIBRARY = 'The library';

/**
 * Saves a preset. Where one of its kind has the name already: refuses, puts the old one into the bin, or finds another name.
 * @throws Fault `refused-input` with the first address that its profile does not have, `conflict` where the name is taken
 */
export async function insertPreset(db: Database, made: NewPreset & { readonly id?: string }): Promise<PresetView> {
  const { kind, folder, tags, note, profileId, madeOn, by, taken } = made;
  const profile = await readStoredProfile(db, profileId);
  const content = validateContent(profile, made.content);
  const id = made.id ?? newId();
  let name = made.name;
  if (taken === 'keep both')
    name = uniqueName(name, await db('presets').where({ kind }).whereNull('binned_at').pluck('name'));
  await withUniqueName(
    name,
    () =>
      inTransaction(db, async (tx) => {
        if (taken === 'replace')
          await tx('presets')
            .where({ kind, name })
            .whereNull('binned_at')
            .update({ binned_at: new Date(), revision: tx.raw('revision + 1') });
        await tx('presets').insert({
          id,
          kind,
          name,
          folder,
          tags: toJson(tags),
          note,
          profile_id: profileId,
          made_on: madeOn,
          gist: presetLabel(kind, profile, content),
        });
        await writeEdition(tx, id, 1, content, by);
      }),
    LIBRARY,
  );
  return preset(db, id);
}

const writeEdition = (tx: Database, id: string, edition: number, content: PresetContent, by: string) =>
  tx('preset_editions').insert({
    preset_id: id,
    edition,
    content: toJson(content),
    made_by: by,
    made_at: new Date(),
  });

/** @throws Fault `refused-input` naming the first setting that the profile does not have or whose value it would refuse */
export function validateContent(profile: Profile, content: PresetContent): PresetContent {
  return Object.fromEntries(
    Object.entries(content).map(([strip, settings]) => {
      return [strip, settingsOfStrip(validateSettings(profile, toAddresses(strip, settings)), strip)];
    }),
  );
}

/** @throws Fault `not-found`, `conflict` where someone else changed it since, or its new name is taken */
export async function editPreset(
  db: Database,
  id: string,
  { revision, tags, ...words }: PresetEdit,
): Promise<PresetView> {
  const { kind, gist } = await preset(db, id);
  const edit = { ...words, ...(tags === undefined ? {} : { tags: toJson(tags) }) };
  await withUniqueName(
    words.name ?? '',
    () =>
      inTransaction(db, async (tx) => {
        // Only one of a kind is the one to start from.
        if (words.starts) await tx('presets').where({ kind, gist }).update({ starts: false });
        const changed = await tx('presets')
          .where({ id, revision })
          .update({ ...edit, revision: revision + 1 });
        if (changed === 0) throw editConflict('This preset');
      }),
    LIBRARY,
  );
  return preset(db, id);
}

/** Writes other settings into a preset, or an earlier edition of it. @throws Fault as {@link insertPreset} and `conflict` */
export async function newEdition(
  db: Database,
  sessions: DeskConnections,
  id: string,
  { content, from, edition, by, revision }: NewEdition,
): Promise<PresetView> {
  const view = await preset(db, id);
  const now = from && sessions.of(from.deskId).state;
  const profile = await readStoredProfile(db, view.profileId);
  const next = content ? validateContent(profile, content) : await contentOfEdition(db, view, edition ?? view.edition);
  await inTransaction(db, async (tx) => {
    const last = found(
      await tx('preset_editions').where({ preset_id: id }).orderBy('edition', 'desc').first('edition'),
    );
    const changed = await tx('presets')
      .where({ id, revision })
      .update({ edition: last.edition + 1, gist: presetLabel(view.kind, profile, next), revision: revision + 1 });
    if (changed === 0) throw editConflict(view.name);
    await writeEdition(tx, id, last.edition + 1, next, by);
    if (from) await updatePresetOrigin(tx, { ...from, presetId: id, edition: last.edition + 1 }, now ?? {});
  });
  return preset(db, id);
}

/** Puts a preset into the bin, or brings it back, under another name where its own is taken by now. */
export async function binPreset(db: Database, id: string, bin: boolean): Promise<PresetView> {
  const { kind, name } = await preset(db, id);
  const taken = await db('presets').where({ kind }).whereNull('binned_at').pluck('name');
  await db('presets')
    .where({ id })
    .update({
      binned_at: bin ? new Date() : null,
      ...(bin ? { starts: false } : { name: uniqueName(name, taken) }),
      revision: db.raw('revision + 1'),
    });
  return preset(db, id);
}

/** Removes a preset that is in the bin, for good. @throws Fault `not-found`, `conflict` */
export async function removePreset(db: Database, id: string): Promise<void> {
  const { name, binnedAt } = await preset(db, id);
  if (binnedAt === null) throw new Fault('conflict', `${name} is not in the bin.`, 'Move it to the bin first.');
  await db('presets').where({ id }).delete();
}
