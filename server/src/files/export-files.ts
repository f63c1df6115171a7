import { existsSync } from 'node:fs';
import { Readable } from 'node:stream';

import type { ZipFile } from 'yazl';

import type { ExportRequest, FileNode } from '@old-echo/core/contracts/file-transfer';
import {
  ARCHIVE,
  type ArchiveHead,
  ENTRIES,
  LIBRARY,
  type LibraryFile,
  photoEntry,
  SCENE,
  type SceneFile,
  soundEntry,
} from '@old-echo/core/formats/file-shapes';

import { mixNotes } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { found } from '../database/found';
import { fromJson } from '../database/json-column';
import { deskRow, safesOf } from '../desk/desk-store';
import { isChanged, profileSource } from '../desk/profile-store';
import { loadState } from '../desk/scene-states';
import { addPart, openZip } from '../http/zip-download';
import { outboard } from '../library/outboard-store';
import { loadParts } from '../library/part-store';
import { presetDetail } from '../library/preset-store';
import { venues } from '../library/venue-store';
import { savedScopes } from '../recall/saved-scope-store';
import { presetOrigins } from '../recall/staged-settings-store';
import { profileOfProduction } from '../scenes/production-store';
import { sceneView } from '../scenes/scene-store';
import { stemRows } from '../sound/stem-store';
import { archiveBranches, leaf } from './archive-contents';
import { type Chosen, type Needed, sceneLines, stripLines, takeOf } from './export-archive-scenes';

const source = async (db: Database, id: string): Promise<object> =>
  // It was read as a profile when it was stored.
  fromJson(await profileSource(db, id)) as object;

/** Presets as a file, with the kinds of desk they were made on. @throws Fault `not-found` */
export async function libraryFile(db: Database, ids: readonly string[]): Promise<LibraryFile> {
  const presets = await Promise.all(ids.map((id) => presetOf(db, id)));
  const profiles = [...new Set(presets.map(({ profileId }) => profileId))];
  return {
    format: LIBRARY,
    version: 2,
    profiles: await Promise.all(profiles.map((id) => source(db, id))),
    presets,
  };
}

async function presetOf(db: Database, id: string): Promise<LibraryFile['presets'][number]> {
  const { kind, name, folder, tags, note, profileId, madeOn, by, content } = await presetDetail(db, id);
  return { kind, name, folder, tags: [...tags], note, profileId, madeOn, by, content };
}

/** One scene as a file. @throws Fault `not-found` */
export async function sceneFile(db: Database, id: string): Promise<SceneFile> {
  const { name, note, milestone, tags, scope, madeAt, productionId } = await sceneView(db, id);
  const profile = await profileOfProduction(db, productionId);
  return {
    format: SCENE,
    version: 1,
    profile: await source(db, profile.id),
    scene: {
      name,
      note,
      milestone,
      tags: [...tags],
      scope: scope && [...scope],
      madeAt,
      state: await loadState(db, id),
    },
  };
}

/**
 * A production as one archive: what belongs to it, its scenes, and each strip state they are made of, once. Nothing of it is
 * in memory as a whole, however many scenes there are.
 * @throws Fault `not-found`
 */
export async function buildArchive(
  db: Database,
  files: FileStore,
  productionId: string,
  request: ExportRequest,
): Promise<ZipFile> {
  const rows = await chosenScenes(db, productionId, request);
  const profile = await profileOfProduction(db, productionId);
  const takes = takeOf(request.without, (await isChanged(db, profile.id)) ? profile : undefined);
  const head = await buildManifest(db, files, productionId, request, rows);
  const zip = openZip();
  zip.addBuffer(Buffer.from(JSON.stringify(head)), ENTRIES.head);
  // In this order: strips are told once the scenes have said which there are.
  const needed: Needed = new Map();
  addPart(zip, ENTRIES.scenes, {}, () => Readable.from(sceneLines(db, rows, needed, takes, profile)));
  addPart(zip, ENTRIES.strips, {}, () => Readable.from(stripLines(db, needed, takes)));
  if (head.sound)
    for (const hash of new Set(head.stems.map((stem) => stem.hash)))
      zip.addFile(files.stem(hash), soundEntry(hash), { compress: false });
  for (const hash of new Set(head.outboard.flatMap(({ photo }) => photo ?? [])))
    if (existsSync(files.photo(hash))) zip.addFile(files.photo(hash), photoEntry(hash), { compress: false });
  zip.end();
  return zip;
}

/** Versions that go in; undefined for all. */
const wantedVersions = ({ versions, without }: ExportRequest): readonly string[] | undefined =>
  without.includes('versions') ? [] : versions;

const chosenScenes = (db: Database, productionId: string, request: ExportRequest): Promise<Chosen[]> =>
  db('scenes')
    .join('versions', 'versions.id', 'scenes.version_id')
    .where('scenes.production_id', productionId)
    .whereNull('scenes.binned_at')
    .whereNull('versions.binned_at')
    .where((q) => {
      if (!request.autosaves) void q.where({ kind: 'scene' });
      const wanted = wantedVersions(request);
      if (wanted) void q.whereIn('version_id', wanted);
    })
    .orderBy('scenes.ordinal')
    .select('scenes.id', 'seq', 'version_id', 'scenes.ordinal', 'kind');

/** What the archive of a production holds at most, as a tree; its presets by their ids. @throws Fault `not-found` */
export async function archiveContents(db: Database, files: FileStore, productionId: string): Promise<FileNode[]> {
  const everything: ExportRequest = { versions: undefined, autosaves: true, sound: true, without: [] };
  const profile = await profileOfProduction(db, productionId);
  const rows = await chosenScenes(db, productionId, everything);
  const head = await buildManifest(db, files, productionId, everything, rows);
  const own = await presetsInUse(db, productionId);
  const presets = head.presets.map(({ name, folder }, i) => leaf(`presets/${own[i]}`, name, folder));
  return archiveBranches(profile, head, presets);
}

/** The presets that strips of a production's desk came from. */
async function presetsInUse(db: Database, productionId: string): Promise<string[]> {
  const { desk_id } = found(await db('productions').where({ id: productionId }).first('desk_id'));
  return [...new Set((await presetOrigins(db, desk_id)).map(({ presetId }) => presetId))];
}

async function buildManifest(
  db: Database,
  files: FileStore,
  productionId: string,
  request: ExportRequest,
  rows: readonly Chosen[],
): Promise<ArchiveHead> {
  const { without, sound } = request;
  const wanted = wantedVersions(request);
  const profile = await profileOfProduction(db, productionId);
  const production = found(await db('productions').where({ id: productionId }).first());
  const desk = await deskRow(db, production.desk_id);
  const versions = await db('versions')
    .where({ production_id: productionId })
    .whereNull('binned_at')
    .where((q) => wanted && void q.whereIn('id', wanted))
    .orderBy('place');
  const takes = (what: string) => !without.includes(what);
  const inUse = takes('presets') ? await presetsInUse(db, productionId) : [];
  const { profiles, presets } = await libraryFile(
    db,
    inUse.filter((id) => takes(`presets/${id}`)),
  );
  const stems = await stemRows(db, productionId);
  const atHand = await db('scenes_at_hand').where({ desk_id: desk.id }).orderBy('place').pluck('scene_id');
  const asked = takes('mixNotes') ? (await Promise.all(versions.map(({ id }) => mixNotes(db, id)))).flat() : [];
  return {
    format: ARCHIVE,
    version: 2,
    madeAt: new Date().toISOString(),
    profile: await source(db, profile.id),
    desk: { name: desk.name, mode: desk.mode, safes: takes('safes') ? safesOf(desk) : [] },
    production: { id: productionId, name: production.name, kind: production.kind, note: production.note },
    versions: versions.map(({ id, name, note, status, from_scene_id, follows_id }) => {
      const own = rows.filter((row) => row.version_id === id);
      return {
        id,
        name,
        note,
        status,
        fromSceneId: from_scene_id,
        followsId: follows_id,
        scenes: own.map((row) => row.id),
        autosaves: own.filter(({ kind }) => kind !== 'scene').length,
      };
    }),
    parts: takes('parts') ? await loadParts(db, productionId) : {},
    venues: takes('venues')
      ? (await venues(db, productionId))
          .filter(({ name }) => takes(`venues/${name}`))
          .map(({ name, note, settings, capturedAt }) => ({ name, note, settings, capturedAt }))
      : [],
    outboard: takes('outboard')
      ? (await outboard(db, productionId)).map(({ name, controls, note, photo }) => ({ name, controls, note, photo }))
      : [],
    mixNotes: asked.map(({ versionId, text, songSeconds, strip, requestedBy, status, sceneId }) => ({
      versionId,
      text,
      songSeconds,
      strip,
      requestedBy,
      status,
      sceneId,
    })),
    scopes: takes('scopes')
      ? (await savedScopes(db, profile.id)).map(({ name, scope }) => ({ name, scope: [...scope] }))
      : [],
    profiles,
    presets,
    atHand: takes('atHand') ? atHand.filter((id) => rows.some((row) => row.id === id)) : [],
    stems: stems.map(({ strip, name, hash, rate, channels, depth, frames, recorded_gain_db, silent, ...stem }) => ({
      strip,
      name,
      hash,
      rate,
      channels,
      depth,
      frames,
      gain: recorded_gain_db,
      silent: silent === 1,
      peak: stem.peak_db,
      timeReference: stem.time_reference,
    })),
    sound: sound && stems.every(({ hash }) => existsSync(files.stem(hash))),
  };
}
