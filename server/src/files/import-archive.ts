import type { ImportRequest } from '@old-echo/core/contracts/file-transfer';
import { parseProfile } from '@old-echo/core/desk/profile';
import { uniqueName } from '@old-echo/core/fault/text-shapes';
import { type ArchiveHead, photoEntry, soundEntry } from '@old-echo/core/formats/file-shapes';
import { plural } from '@old-echo/core/phrases/format-value';

import { addMixNote } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import { found } from '../database/found';
import { newId } from '../database/new-id';
import { setFirstSafes, setFirstScenesAtHand } from '../desk/desk-store';
import { productionMustBeUnlocked } from '../desk/show-lock';
import { addOutboard } from '../library/outboard-store';
import { addParts } from '../library/part-store';
import { addVenue } from '../library/venue-store';
import { addScope } from '../recall/saved-scope-store';
import { mergeProduction } from '../scenes/merge-production';
import { addProduction, assertUnprotected, binProduction } from '../scenes/production-store';
import { addVersion, linkVersion } from '../scenes/version-store';
import { addStems } from '../sound/stem-store';
import { invalidFile } from './document';
import { importScenes, readStripStates, type Scenes } from './import-archive-scenes';
import type { ImportResult, Tools } from './import-context';
import { importMedia, isPicture, isWav } from './import-media';
import { importPreset, importPresets } from './import-presets';
import { chosenSections, findOrAddDesk, findOrAddProfile, productionFor } from './import-target';
import type { OpenArchive } from './open-file';

/** What comes in only with a song or show, chosen or new. */
const WITH_A_PRODUCTION = ['parts', 'venues', 'outboard', 'sound'];

export async function importArchive(
  tools: Tools,
  archive: OpenArchive,
  include: ReadonlySet<string>,
  { replace, intoId }: ImportRequest,
): Promise<ImportResult> {
  const { head } = archive;
  const versions = head.versions.filter(({ id }) => include.has(`versions/${id}`));
  if (versions.length === 0) {
    const takes = (what: string) => [...include].some((id) => id.split('/')[0] === what);
    if (takes('mixNotes') || (intoId === null && WITH_A_PRODUCTION.some(takes)))
      throw invalidFile(
        'Mix notes belong to a version; parts, venues, outboard gear and stems to a song or show.',
        'include',
        'Choose a version as well, or the song or show they go into.',
      );
    if (!WITH_A_PRODUCTION.some(takes)) return importPresets(tools, head, include, replace);
  }
  return intoId === null
    ? importAsProduction(tools, archive, versions, include, replace)
    : importInto(tools, archive, versions, include, replace, intoId);
}

/** Files are named by their content: one that is left behind by a failure harms nothing, and is found again. */
async function importFiles({ files }: Tools, archive: OpenArchive, include: ReadonlySet<string>): Promise<void> {
  const { head } = archive;
  if (include.has('sound') && head.sound)
    for (const { hash } of head.stems)
      await importMedia(archive, soundEntry(hash), files.stem(hash), hash, files, isWav);
  if (include.has('outboard'))
    for (const { photo } of head.outboard)
      if (photo !== null && archive.entries.has(photoEntry(photo)))
        await importMedia(archive, photoEntry(photo), files.photo(photo), photo, files, isPicture);
}

async function importAsProduction(
  tools: Tools,
  archive: OpenArchive,
  versions: ArchiveHead['versions'],
  include: ReadonlySet<string>,
  replace: boolean,
): Promise<ImportResult> {
  const { tx, making } = tools;
  const { head } = archive;
  await importFiles(tools, archive, include);
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
  await importVersions(tools, archive, {
    profile,
    production,
    versions,
    here,
    sections,
    there: new Set(),
    renumber: false,
  });
  await importAttachments(tx, head, { production, deskId, versions, here, include, replace, known: NOTHING });
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

/**
 * Imports into a song or show that is here: what it has already, by the same id or under the same name, stays as it is and comes in no
 * second time. Its scenes come in as versions of their own, which are joined to it at the very end, so that its desk is not held.
 */
async function importInto(
  tools: Tools,
  archive: OpenArchive,
  chosen: ArchiveHead['versions'],
  include: ReadonlySet<string>,
  replace: boolean,
  intoId: string,
): Promise<ImportResult> {
  const { tx, making } = tools;
  const profile = await findOrAddProfile(tx, archive.head.profile);
  const into = await productionFor(tx, profile, intoId);
  const head = await withoutKnown(tx, archive.head, into);
  await importFiles(tools, { ...archive, head }, include);
  const there = new Set(await tx('scenes').where({ production_id: into }).whereNull('binned_at').pluck('id'));
  const versions = chosen.flatMap((version) => {
    const scenes = version.scenes.filter((id) => !there.has(id));
    // What comes in goes on from the last of its version that is here.
    const fromSceneId = version.scenes.findLast((id) => there.has(id)) ?? version.fromSceneId;
    return scenes.length > 0 ? [{ ...version, scenes, fromSceneId }] : [];
  });
  const ids = await newIds(tx, false, head, versions);
  const here = (id: string) => ids.get(id) ?? id;
  const { name, desk_id: deskId } = found(await tx('productions').where({ id: into }).first('name', 'desk_id'));
  const production = newId();
  if (versions.length > 0) {
    const sections = chosenSections(profile, include);
    const { kind } = head.production;
    await making.begin({ id: production, deskId, name: production, kind, note: '' });
    await importVersions(tools, archive, { profile, production, versions, here, sections, there, renumber: true });
  }
  const own = await tx('versions').where({ production_id: into }).whereNull('binned_at').pluck('id');
  const known = { scenes: there, versions: new Set(own.filter((id) => include.has(`versions/${id}`))) };
  await importAttachments(tx, head, { production: into, deskId, versions, here, include, replace, known });
  if (versions.length > 0) {
    await making.show(production);
    await mergeProduction(tx, production, into);
  }
  const [asked, made] = [chosen, versions].map((all) => all.reduce((sum, { scenes }) => sum + scenes.length, 0));
  const stayed = (asked ?? 0) - (made ?? 0);
  return {
    resultPath: `/mixes/${into}`,
    note:
      stayed > 0
        ? `${plural(made ?? 0, 'scene')} came in; ${stayed} ${stayed === 1 ? 'was' : 'were'} already in ${name}, and ${stayed === 1 ? 'stays' : 'stay'} once.`
        : '',
  };
}

/** What of an archive a song or show does not have yet; scenes aside. */
async function withoutKnown(tx: Database, head: ArchiveHead, production: string): Promise<ArchiveHead> {
  const own = { production_id: production };
  const strips = await tx('parts').where(own).pluck('strip');
  const venues = await tx('venues').where(own).pluck('name');
  const outboard = await tx('outboard').where(own).pluck('name');
  const stems = await tx('stems').where(own).pluck('strip');
  const notes = await tx('mix_notes').join('versions', 'versions.id', 'version_id').where(own).pluck('text');
  const isNew = (name: string, taken: readonly string[]) => uniqueName(name, taken) === name;
  return {
    ...head,
    parts: Object.fromEntries(Object.entries(head.parts).filter(([strip]) => !strips.includes(strip))),
    venues: head.venues.filter(({ name }) => isNew(name, venues)),
    outboard: head.outboard.filter(({ name }) => isNew(name, outboard)),
    stems: head.stems.filter(({ strip }) => !stems.includes(strip)),
    mixNotes: head.mixNotes.filter(({ text }) => !notes.includes(text)),
  };
}

/** Makes versions with their scenes. */
async function importVersions(
  { tx, report }: Tools,
  archive: OpenArchive,
  into: Omit<Scenes, 'prints' | 'total' | 'report'>,
): Promise<void> {
  const { versions, production, here } = into;
  for (const { id, name, note, status } of versions)
    await addVersion(tx, { id: here(id), production_id: production, name, note, status });
  const prints = await readStripStates(archive);
  const total = versions.reduce((sum, { scenes }) => sum + scenes.length, 0);
  await importScenes(tx, archive, { ...into, prints, total, report });
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
  readonly replace: boolean;
  /** What is in that song or show already, under the ids it has in the archive. */
  readonly known: { readonly scenes: ReadonlySet<string>; readonly versions: ReadonlySet<string> };
}

const NOTHING: ImportScope['known'] = { scenes: new Set(), versions: new Set() };

async function importAttachments(
  tx: Database,
  head: ArchiveHead,
  { production, deskId, versions, here, include, replace, known }: ImportScope,
): Promise<void> {
  const chosen = new Set(versions.map(({ id }) => id));
  const scenes = new Set(versions.flatMap((version) => version.scenes));
  const sceneHere = (id: string | null) =>
    id !== null && scenes.has(id) ? here(id) : id !== null && known.scenes.has(id) ? id : null;
  const versionHere = (id: string) => (known.versions.has(id) ? id : chosen.has(id) ? here(id) : null);
  for (const { id, fromSceneId, followsId } of versions)
    await linkVersion(tx, here(id), {
      fromSceneId: sceneHere(fromSceneId),
      followsId: followsId !== null && chosen.has(followsId) ? here(followsId) : null,
    });
  if (include.has('mixNotes'))
    for (const { versionId: of, sceneId, ...mixNote } of head.mixNotes) {
      const versionId = versionHere(of);
      if (versionId !== null) await addMixNote(tx, { ...mixNote, versionId, sceneId: sceneHere(sceneId) });
    }
  if (include.has('parts')) await addParts(tx, production, head.parts);
  for (const venue of head.venues)
    if (include.has('venues') || include.has(`venues/${venue.name}`)) await addVenue(tx, production, venue);
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
