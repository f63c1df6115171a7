import { readFile } from 'node:fs/promises';

import { array, boolean, date, type InferType, lazy, mixed, number, object, string } from 'yup';

import { modeShape } from '@old-echo/core/contracts/desk';
import { newMixNoteShape } from '@old-echo/core/contracts/mix-note';
import { outboardShape } from '@old-echo/core/contracts/outboard';
import { type Parts, venueShape, type VenueView } from '@old-echo/core/contracts/part';
import { newPresetShape } from '@old-echo/core/contracts/preset';
import { VERSION_STATUSES } from '@old-echo/core/contracts/production';
import { SCENE_KINDS } from '@old-echo/core/contracts/scene';
import { manualPart } from '@old-echo/core/desk/manual';
import { addressesOf, settingsAt, type State } from '@old-echo/core/desk/state';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { idShape } from '@old-echo/core/fault/text-shapes';
import { safesShape } from '@old-echo/core/recall/scope-rules';
import { STORED_DEPTHS } from '@old-echo/core/signal/wav-header';

import { addMixNote } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import { setStanding } from '../desk/baseline';
import { addDesk, setFirstScenesAtHand } from '../desk/desk-store';
import { enterManualSettings } from '../desk/manual-settings';
import { insertProfile, readStoredProfile } from '../desk/profile-store';
import { addOutboard } from '../library/outboard-store';
import { addParts } from '../library/part-store';
import { editPreset, insertPreset } from '../library/preset-store';
import { addVenue } from '../library/venue-store';
import { insertScene } from '../scenes/insert-scene';
import { addProduction } from '../scenes/production-store';
import { addVersion, linkVersion } from '../scenes/version-store';
import { addStems } from '../sound/stem-store';

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
  depth: string().oneOf(STORED_DEPTHS).required(),
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
      parts: mixed<Parts>().default({}),
      venues: array(
        venueShape.shape({
          note: string().default(''),
          settings: mixed<VenueView['settings']>().required(),
          capturedAt: string().required(),
        }),
      ).default([]),
      outboard: array(outboardShape.shape({ photo: string().length(64).nullable().default(null) })).default([]),
    }),
  ).required(),
});

/** Fills a database that has no desks yet from a file; leaves any other as it is. */
export async function seedIfEmpty(db: Database, file: string): Promise<void> {
  if (await db('desks').first('id')) return;
  const seed = parseShape(seedShape, JSON.parse(await readFile(file, 'utf8')));
  for (const profile of seed.profiles) await insertProfile(db, profile);
  const profileOf = new Map<string, string>();
  for (const { safes, profileId, ...desk } of seed.desks) {
    profileOf.set(desk.id, profileId);
    await addDesk(db, { ...desk, profile_id: profileId }, safes);
  }
  for (const { favourite, ...preset } of seed.presets) {
    const { revision } = await insertPreset(db, preset);
    if (favourite) await editPreset(db, preset.id, { favourite, revision });
  }
  for (const production of seed.productions) {
    const { id, deskId, name, kind, note } = production;
    await addProduction(db, { id, deskId, name, kind, note });
    await addStems(
      db,
      id,
      production.stems.map((stem) => ({ ...stem, gain: 0, timeReference: null })),
    );
    await addParts(db, id, production.parts);
    for (const venue of production.venues) await addVenue(db, id, venue);
    for (const unit of production.outboard) await addOutboard(db, id, unit);
    await seedVersions(db, production, await readStoredProfile(db, profileOf.get(deskId) ?? ''));
  }
}

type Production = InferType<typeof seedShape>['productions'][number];

async function seedVersions(
  db: Database,
  production: Production,
  profile: Parameters<typeof insertScene>[1],
): Promise<void> {
  for (const { id, name, note, status } of production.versions)
    await addVersion(db, { id, production_id: production.id, name, note, status });
  // In order of time, so that numbers count up and parents exist before their children.
  const scenes = production.versions.flatMap((version) =>
    version.scenes.map((scene) => ({ ...scene, versionId: version.id })),
  );
  scenes.sort((a, b) => a.madeAt.getTime() - b.madeAt.getTime());
  for (const { stands, isAtHand: _, protected: isProtected, ...scene } of scenes) {
    await insertScene(db, profile, { ...scene, isProtected });
    if (stands) {
      await setStanding(db, production.deskId, scene.id);
      await enterManualSettings(db, production.deskId, settingsAt(scene.state, addressesOf(manualPart(profile))));
    }
  }
  await setFirstScenesAtHand(
    db,
    production.deskId,
    scenes.filter(({ isAtHand }) => isAtHand).map(({ id }) => id),
  );
  for (const version of production.versions) {
    const { id, fromSceneId, followsId } = version;
    await linkVersion(db, id, { fromSceneId, followsId });
    for (const mixNote of version.mixNotes) await addMixNote(db, { ...mixNote, versionId: id });
  }
}
