import { existsSync } from 'node:fs';
import { Readable } from 'node:stream';

import type { ZipFile } from 'yazl';

import type { ExportRequest } from '@old-echo/core/contracts/file-transfer';
import {
  ARCHIVE,
  type ArchiveHead,
  ENTRIES,
  LIBRARY,
  type LibraryFile,
  photoEntry,
  SCENE,
  type SceneFile,
  type SceneLine,
  soundEntry,
} from '@old-echo/core/formats/file-shapes';

import { mixNotes } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { found } from '../database/found';
import { fromJson } from '../database/json-column';
import { deskRow, safesOf } from '../desk/desk-store';
import { profileSource } from '../desk/profile-store';
import { loadState, loadVerified } from '../desk/strip-states';
import { addPart, openZip } from '../http/zip-download';
import { outboard } from '../library/outboard-store';
import { loadParts } from '../library/part-store';
import { presetDetail } from '../library/preset-store';
import { venues } from '../library/venue-store';
import { savedScopes } from '../recall/saved-scope-store';
import { presetOrigins } from '../recall/staged-settings-store';
import { profileOfProduction } from '../scenes/production-store';
import { outboardOfScene } from '../scenes/scene-outboard';
import { sceneView, sceneViews } from '../scenes/scene-store';
import { stemRows } from '../sound/stem-store';

/** Rows read with one statement. */
const BATCH = 500;

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

interface Chosen {
  readonly id: string;
  readonly seq: number;
  readonly version_id: string;
  readonly ordinal: number;
  readonly kind: string;
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
  const rows = await db('scenes')
    .join('versions', 'versions.id', 'scenes.version_id')
    .where('scenes.production_id', productionId)
    .whereNull('scenes.binned_at')
    .whereNull('versions.binned_at')
    .where((q) => {
      if (!request.autosaves) void q.where({ kind: 'scene' });
      if (request.versions) void q.whereIn('version_id', request.versions);
    })
    .orderBy('scenes.ordinal')
    .select('scenes.id', 'seq', 'version_id', 'scenes.ordinal', 'kind');
  const head = await buildManifest(db, files, productionId, request, rows);
  const zip = openZip();
  zip.addBuffer(Buffer.from(JSON.stringify(head)), ENTRIES.head);
  // In this order: strips are told once the scenes have said which there are.
  const needed = new Set<number>();
  addPart(zip, ENTRIES.scenes, {}, () => Readable.from(sceneLines(db, rows, needed)));
  addPart(zip, ENTRIES.strips, {}, () => Readable.from(stripLines(db, needed)));
  if (head.sound)
    for (const hash of new Set(head.stems.map((stem) => stem.hash)))
      zip.addFile(files.stem(hash), soundEntry(hash), { compress: false });
  for (const hash of new Set(head.outboard.flatMap(({ photo }) => photo ?? [])))
    if (existsSync(files.photo(hash))) zip.addFile(files.photo(hash), photoEntry(hash), { compress: false });
  zip.end();
  return zip;
}

async function buildManifest(
  db: Database,
  files: FileStore,
  productionId: string,
  { versions: wanted, without, sound }: ExportRequest,
  rows: readonly Chosen[],
): Promise<ArchiveHead> {
  const profile = await profileOfProduction(db, productionId);
  const production = found(await db('productions').where({ id: productionId }).first());
  const desk = await deskRow(db, production.desk_id);
  const versions = await db('versions')
    .where({ production_id: productionId })
    .whereNull('binned_at')
    .where((q) => wanted && void q.whereIn('id', wanted))
    .orderBy('place');
  const takes = (what: string) => !without.includes(what);
  const origins = takes('presets') ? await presetOrigins(db, desk.id) : [];
  const { profiles, presets } = await libraryFile(db, [...new Set(origins.map(({ presetId }) => presetId))]);
  const stems = await stemRows(db, productionId);
  const atHand = await db('scenes_at_hand').where({ desk_id: desk.id }).orderBy('place').pluck('scene_id');
  const asked = takes('mixNotes') ? (await Promise.all(versions.map(({ id }) => mixNotes(db, id)))).flat() : [];
  return {
    format: ARCHIVE,
    version: 2,
    madeAt: new Date().toISOString(),
    profile: await source(db, profile.id),
    desk: { name: desk.name, mode: desk.mode, safes: safesOf(desk) },
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
      ? (await venues(db, productionId)).map(({ name, note, settings, capturedAt }) => ({
          name,
          note,
          settings,
          capturedAt,
        }))
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
    stems: stems.map(({ strip, name, hash, rate, channels, depth, frames, recorded_gain_db, silent, peak_db }) => ({
      strip,
      name,
      hash,
      rate,
      channels,
      depth,
      frames,
      gain: recorded_gain_db,
      silent: silent === 1,
      peak: peak_db,
    })),
    sound: sound && stems.every(({ hash }) => existsSync(files.stem(hash))),
  };
}

async function* sceneLines(db: Database, rows: readonly Chosen[], needed: Set<number>): AsyncGenerator<string> {
  let before = new Map<string, number>();
  for (let i = 0; i < rows.length; i += BATCH) {
    const batch = rows.slice(i, i + BATCH);
    const seqs = batch.map(({ seq }) => seq);
    const ids = batch.map(({ id }) => id);
    const words = await sceneViews(db, await db('scenes').whereIn('id', ids).orderBy('ordinal'));
    const strips = await db('scene_strips').whereIn('scene_seq', seqs);
    const moves = await db('scene_changed_strips').whereIn('scene_seq', seqs);
    const kept = new Set(await db('scene_outboard').whereIn('scene_id', ids).pluck('scene_id'));
    const [stateOf, movesOf] = [new Map<number, Map<string, number>>(), new Map<number, string[]>()];
    for (const { scene_seq, strip, strip_state_id } of strips)
      stateOf.set(scene_seq, (stateOf.get(scene_seq) ?? new Map<string, number>()).set(strip, strip_state_id));
    for (const { scene_seq, strip } of moves) movesOf.set(scene_seq, [...(movesOf.get(scene_seq) ?? []), strip]);
    const prints = await printsById(db, new Set(strips.map((row) => row.strip_state_id)));
    for (const [at, view] of words.entries()) {
      const seq = batch[at]?.seq ?? 0;
      const now = stateOf.get(seq) ?? new Map<string, number>();
      for (const id of now.values()) needed.add(id);
      const changed = [...now].filter(([strip, id]) => view.partial || before.get(strip) !== id);
      const line: SceneLine = {
        id: view.id,
        versionId: view.versionId,
        number: view.number,
        name: view.name,
        note: view.note,
        milestone: view.milestone,
        tags: [...view.tags],
        protected: view.protected,
        kind: view.kind,
        parents: [...view.parents],
        scope: view.scope && [...view.scope],
        madeAt: view.madeAt,
        moved: { settings: view.changed.settings, strips: movesOf.get(seq) ?? [] },
        outboard: kept.has(view.id)
          ? (await outboardOfScene(db, view.id)).map(({ name, controls, note, photo }) => ({
              name,
              controls,
              note,
              photo,
            }))
          : [],
        partial: view.partial,
        strips: Object.fromEntries(changed.map(([strip, id]) => [strip, prints.get(id) ?? ''])),
      };
      before = now;
      yield `${JSON.stringify(line)}\n`;
    }
  }
}

async function* stripLines(db: Database, needed: ReadonlySet<number>): AsyncGenerator<string> {
  const all = [...needed];
  for (let i = 0; i < all.length; i += BATCH) {
    const prints = await printsById(db, new Set(all.slice(i, i + BATCH)));
    const rows = [...prints].map(([id, print]) => ({ id, print }));
    for (const [id, settings] of await loadVerified(db, rows))
      yield `${JSON.stringify({ fingerprint: prints.get(id), settings })}\n`;
  }
}

async function printsById(db: Database, ids: ReadonlySet<number>): Promise<Map<number, string>> {
  const found = new Map<number, string>();
  const all = [...ids];
  for (let i = 0; i < all.length; i += BATCH) {
    const rows = await db('strip_states')
      .whereIn('id', all.slice(i, i + BATCH))
      .select('id', 'fingerprint');
    for (const { id, fingerprint } of rows) found.set(id, fingerprint.toString('hex'));
  }
  return found;
}
