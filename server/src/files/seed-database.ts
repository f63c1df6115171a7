import { readFile } from 'node:fs/promises';

import { array, boolean, date, type InferType, lazy, mixed, number, object, string } from 'yup';

import { modeShape } from '@old-echo/core/contracts/desk';
import { newMixNoteShape } from '@old-echo/core/contracts/mix-note';
import { newPresetShape } from '@old-echo/core/contracts/preset';
import { VERSION_STATUSES } from '@old-echo/core/contracts/production';
import { SCENE_KINDS } from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { idShape } from '@old-echo/core/fault/text-shapes';
import { safesShape } from '@old-echo/core/recall/scope-rules';
import { DEPTHS } from '@old-echo/core/signal/wav';

import { addMixNote } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import { toJson } from '../database/json-column';
import { insertProfile, readStoredProfile } from '../desk/profile-store';
import { insertPreset } from '../library/preset-store';
import { insertScene } from '../scenes/insert-scene';

const sceneShape = object({
  id: idShape.required(),
  name: string().required(),
  note: string().default(''),
  milestone: string().default(''),
  kind: string().oneOf(SCENE_KINDS).default('scene'),
  tags: array(string().required()).default([]),
  protected: boolean().default(false),
  isAtHand: boolean().default(false),
  madeAt: date().required(),
  parents: array(idShape.required()).required(),
  state: lazy(() => mixed<State>().required()),
  /** Whether it stands on the desk at first. */
  stands: boolean().default(false),
});

const versionShape = object({
  id: idShape.required(),
  name: string().required(),
  note: string().default(''),
  status: string().oneOf(VERSION_STATUSES).default('working'),
  fromSceneId: idShape.nullable().default(null),
  followsId: idShape.nullable().default(null),
  mixNotes: array(newMixNoteShape.omit(['versionId'])).default([]),
  scenes: array(sceneShape).required(),
});

const stemShape = object({
  strip: string().required(),
  name: string().required(),
  hash: string().length(64).required(),
  rate: number().integer().required(),
  channels: number().integer().required(),
  depth: string().oneOf(DEPTHS).required(),
  frames: number().integer().required(),
  peak: number().nullable().default(null),
});

/** What an empty database can be filled from: profiles, desks, and productions with their versions and scenes. */
const seedShape = object({
  profiles: array(mixed<object>().required()).required(),
  desks: array(
    object({
      id: idShape.required(),
      name: string().required(),
      profileId: string().required(),
      host: string().required(),
      port: number().integer().required(),
      mode: modeShape.required(),
      safes: safesShape,
    }),
  ).required(),
  presets: array(
    newPresetShape.shape({ id: idShape.required(), favourite: boolean().default(false) }).required(),
  ).default([]),
  productions: array(
    object({
      id: idShape.required(),
      deskId: idShape.required(),
      name: string().required(),
      kind: string()
        .oneOf(['song', 'show'] as const)
        .required(),
      note: string().default(''),
      versions: array(versionShape).required(),
      stems: array(stemShape).default([]),
    }),
  ).required(),
});

/** Fills a database that has no desks yet from a file; leaves any other as it is. */
export async function seedIfEmpty(db: Database, file: string): Promise<void> {
  if (await db('desks').first('id')) return;
  const seed = parseShape(seedShape, JSON.parse(await readFile(file, 'utf8')));
  for (const profile of seed.profiles) await insertProfile(db, profile);
  const profileOf = new Map<string, string>();
  for (const [place, { safes, profileId, ...desk }] of seed.desks.entries()) {
    profileOf.set(desk.id, profileId);
    await db('desks').insert({ ...desk, profile_id: profileId, safes: toJson(safes), place });
  }
  for (const { favourite, ...preset } of seed.presets) {
    await insertPreset(db, preset);
    if (favourite) await db('presets').where({ id: preset.id }).update({ favourite });
  }
  for (const [place, production] of seed.productions.entries()) {
    const { id, deskId, name, kind, note } = production;
    await db('productions').insert({ id, desk_id: deskId, name, kind, note, place });
    const rows = production.stems.map((stem) => ({ ...stem, production_id: id, gain: 0, made_at: new Date() }));
    if (rows.length > 0) await db('stems').insert(rows);
    await seedVersions(db, production, await readStoredProfile(db, profileOf.get(deskId) ?? ''));
  }
}

type Production = InferType<typeof seedShape>['productions'][number];

async function seedVersions(
  db: Database,
  production: Production,
  profile: Parameters<typeof insertScene>[1],
): Promise<void> {
  for (const [place, version] of production.versions.entries())
    await db('versions').insert({
      id: version.id,
      production_id: production.id,
      name: version.name,
      note: version.note,
      status: version.status,
      place,
    });
  // In order of time, so that numbers count up and parents exist before their children.
  const scenes = production.versions.flatMap((version) =>
    version.scenes.map((scene) => ({ ...scene, versionId: version.id })),
  );
  scenes.sort((a, b) => a.madeAt.getTime() - b.madeAt.getTime());
  let atHand = 0;
  for (const { stands, isAtHand, protected: safe, ...scene } of scenes) {
    await insertScene(db, profile, scene);
    if (safe) await db('scenes').where({ id: scene.id }).update({ protected: true });
    if (isAtHand)
      await db('scenes_at_hand').insert({ desk_id: production.deskId, scene_id: scene.id, place: atHand++ });
    if (stands) await db('desks').where({ id: production.deskId }).update({ scene_id: scene.id });
  }
  for (const version of production.versions) {
    const { id, fromSceneId, followsId } = version;
    await db('versions').where({ id }).update({ from_scene_id: fromSceneId, follows_id: followsId });
    for (const mixNote of version.mixNotes) await addMixNote(db, { ...mixNote, versionId: id });
  }
}
