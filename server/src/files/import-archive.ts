import { parseProfile } from '@old-echo/core/desk/profile';
import { uniqueName } from '@old-echo/core/fault/text-shapes';
import { type ArchiveHead, photoEntry, soundEntry } from '@old-echo/core/formats/file-shapes';

import { addMixNote } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import { setFirstSafes, setFirstScenesAtHand } from '../desk/desk-store';
import { productionMustBeUnlocked } from '../desk/show-lock';
import { addOutboard } from '../library/outboard-store';
import { addParts } from '../library/part-store';
import { addVenue } from '../library/venue-store';
import { addScope } from '../recall/saved-scope-store';
import { addProduction, assertUnprotected, binProduction } from '../scenes/production-store';
import { addVersion, linkVersion } from '../scenes/version-store';
import { addStems } from '../sound/stem-store';
import { invalidFile } from './document';
import { importScenes, readStripStates } from './import-archive-scenes';
import type { ImportResult, Tools } from './import-context';
import { importMedia, isPicture, isWav } from './import-media';
import { importPreset, importPresets } from './import-presets';
import { chosenSections, findOrAddDesk, findOrAddProfile } from './import-target';
import type { OpenArchive } from './open-file';

/** What comes in only with the song or show that it belongs to. */
const WITH_A_VERSION = ['mixNotes', 'parts', 'venues', 'outboard', 'sound'];

export async function importArchive(
  tools: Tools,
  archive: OpenArchive,
  include: ReadonlySet<string>,
  replace: boolean,
): Promise<ImportResult> {
  const { tx, making, files, report } = tools;
  const { head } = archive;
  const versions = head.versions.filter(({ id }) => include.has(`versions/${id}`));
  if (versions.length === 0) {
    if (WITH_A_VERSION.some((what) => include.has(what)))
      throw invalidFile(
        'Mix notes, parts, venues, outboard gear and stems belong to a version.',
        'include',
        'Choose a version as well.',
      );
    return importPresets(tools, head, include, replace);
  }
  // Files are named by their content: one that is left behind by a failure harms nothing, and is found again.
  if (include.has('sound') && head.sound)
    for (const { hash } of head.stems)
      await importMedia(archive, soundEntry(hash), files.stem(hash), hash, files, isWav);
  if (include.has('outboard'))
    for (const { photo } of head.outboard)
      if (photo !== null && archive.entries.has(photoEntry(photo)))
        await importMedia(archive, photoEntry(photo), files.photo(photo), photo, files, isPicture);
  const total = versions.reduce((sum, { scenes }) => sum + scenes.length, 0);
  let production = head.production.id;
  const profile = await findOrAddProfile(tx, head.profile);
  const sections = chosenSections(profile, include);
  const desk = await findOrAddDesk(tx, profile, head.desk);
  const deskId = desk.id;
  const known = await tx('productions').where({ id: production }).first('id', 'binned_at');
  const replaced = replace && known?.binned_at === null ? known.id : undefined;
  if (replaced !== undefined) {
    await productionMustBeUnlocked(tx, replaced);
    await assertUnprotected(tx, replaced);
  }
  if (known) production = newId();
  const ids = await newIds(tx, known !== undefined, head, versions);
  const here = (id: string) => ids.get(id) ?? id;
  const { name, kind, note } = head.production;
  const taken = await tx('productions')
    .whereNull('binned_at')
    .whereNot('id', replaced ?? '')
    .pluck('name');
  const called = taken.includes(name) ? uniqueName(`${name} (imported)`, taken) : name;
  const row = { id: production, deskId, name: called, kind, note };
  // On a desk that is there nobody is to wait for this.
  await (desk.isNew ? addProduction(tx, row) : making.begin(row));
  for (const { id, name: version, note: words, status } of versions)
    await addVersion(tx, { id: here(id), production_id: production, name: version, note: words, status });
  const prints = await readStripStates(archive);
  await importScenes(tx, archive, { profile, production, versions, here, sections, prints, total, report });
  await importAttachments(tx, head, { production, deskId, versions, here, include, replace });
  if (replaced !== undefined) await binProduction(tx, replaced, true);
  if (!desk.isNew) await making.show(production);
  return {
    resultPath: `/mixes/${production}`,
    note:
      production === head.production.id || replace
        ? ''
        : `${head.production.name} was already here: this is a copy of it.`,
  };
}

/** Ids for what has one here already; everything of a copy gets new ones. */
async function newIds(
  tx: Database,
  copy: boolean,
  head: ArchiveHead,
  versions: ArchiveHead['versions'],
): Promise<Map<string, string>> {
  const ids = new Map<string, string>();
  const fresh = async (table: 'versions' | 'scenes' | 'productions', all: readonly string[]) => {
    for (let i = 0; i < all.length; i += 1000) {
      const some = all.slice(i, i + 1000);
      const taken = copy ? some : await tx(table).whereIn('id', some).pluck('id');
      for (const id of taken) ids.set(id, newId());
    }
  };
  await fresh(
    'versions',
    head.versions.map(({ id }) => id),
  );
  await fresh(
    'scenes',
    versions.flatMap(({ scenes }) => scenes),
  );
  return ids;
}

interface ImportScope {
  readonly production: string;
  readonly deskId: string;
  readonly versions: ArchiveHead['versions'];
  readonly here: (id: string) => string;
  readonly include: ReadonlySet<string>;
}

async function importAttachments(
  tx: Database,
  head: ArchiveHead,
  { production, deskId, versions, here, include, replace }: ImportScope & { replace: boolean },
): Promise<void> {
  const chosen = new Set(versions.map(({ id }) => id));
  const scenes = new Set(versions.flatMap((version) => version.scenes));
  for (const { id, fromSceneId, followsId } of versions)
    await linkVersion(tx, here(id), {
      fromSceneId: fromSceneId !== null && scenes.has(fromSceneId) ? here(fromSceneId) : null,
      followsId: followsId !== null && chosen.has(followsId) ? here(followsId) : null,
    });
  if (include.has('mixNotes'))
    for (const { versionId, sceneId, ...mixNote } of head.mixNotes)
      if (chosen.has(versionId))
        await addMixNote(tx, {
          ...mixNote,
          versionId: here(versionId),
          sceneId: sceneId !== null && scenes.has(sceneId) ? here(sceneId) : null,
        });
  if (include.has('parts')) await addParts(tx, production, head.parts);
  if (include.has('venues')) for (const venue of head.venues) await addVenue(tx, production, venue);
  if (include.has('outboard')) for (const device of head.outboard) await addOutboard(tx, production, device);
  if (include.has('scopes'))
    for (const { name, scope } of head.scopes)
      await addScope(tx, { profileId: parseProfile(head.profile).id, name, scope });
  if (include.has('safes')) await setFirstSafes(tx, deskId, head.desk.safes);
  if (include.has('atHand'))
    await setFirstScenesAtHand(tx, deskId, head.atHand.filter((id) => scenes.has(id)).map(here));
  if (include.has('sound') && head.sound) await addStems(tx, production, head.stems);
  for (const profile of head.profiles) await findOrAddProfile(tx, profile);
  for (const [i, preset] of head.presets.entries())
    if (include.has(`presets/${i}`)) await importPreset(tx, preset, replace);
}
