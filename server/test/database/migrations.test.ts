import { deflateSync } from 'node:zlib';

import { ulid } from 'ulid';

import { stripFingerprint } from '@old-echo/core/desk/fingerprint';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { DEFAULT_THRESHOLDS } from '@old-echo/core/signal/thresholds';
import { boathouse, profileJson } from '@old-echo/testing/profiles';

import { connect } from '../../src/database/connect';
import { found } from '../../src/database/found';
import { up as firstMigration } from '../../src/database/migrations/001-first';
import { deskRow, thresholdsOf } from '../../src/desk/desk-store';
import { insertProfile } from '../../src/desk/profile-store';
import { loadState } from '../../src/desk/scene-states';
import { restoreLog } from '../../src/recall/restore-store';
import { removeScenes } from '../../src/scenes/delete-scenes';
import { verifyStorage } from '../../src/scenes/verify-storage';
import { beside, ownDatabase } from '../own-database';

jest.setTimeout(120_000);

test('the migrations carry over what the first version had stored', async () => {
  const address = ownDatabase('old');
  const { database } = address;
  const admin = beside(address);
  await admin.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [database]);
  await admin.destroy();
  const old = beside(address, { database, charset: 'utf8mb4', timezone: 'Z' });
  const first = { getMigrations: () => Promise.resolve(['001-first']), getMigrationName: (n: string) => n };
  await old.migrate.latest({
    migrationSource: { ...first, getMigration: () => Promise.resolve({ up: firstMigration, down: firstMigration }) },
  });
  await insertProfile(old, profileJson('boathouse'));
  const id = {
    desk: ulid(),
    production: ulid(),
    version: ulid(),
    one: ulid(),
    two: ulid(),
    back: ulid(),
    restore: ulid(),
  };
  const [before, after] = [
    defaultState(boathouse),
    withSettings(defaultState(boathouse), { 'in.1/fader/level': -3, 'in.1/label/name': 'Fiddle' }),
  ];
  await old<object>('desks').insert({
    id: id.desk,
    name: 'D',
    profile_id: 'boathouse',
    host: 'h',
    port: 9,
    mode: 'live',
    safes: '[]',
    place: 0,
  });
  await old<object>('productions').insert({
    id: id.production,
    desk_id: id.desk,
    name: 'P',
    kind: 'song',
    note: 'n',
    place: 0,
    next_number: 4,
  });
  await old<object>('versions').insert({ id: id.version, production_id: id.production, name: 'V', place: 0 });
  const scenes = [
    { id: id.one, name: 'One', number: 1, kind: 'scene', state: before },
    { id: id.two, name: 'Two', number: 2, kind: 'scene', state: after },
    { id: id.back, name: 'Way back', number: 3, kind: 'way back', state: after },
  ];
  for (const { state, ...scene } of scenes) {
    await old<object>('scenes').insert({
      ...scene,
      version_id: id.version,
      note: '',
      milestone: '',
      changed_settings: 0,
      changed_strips: 0,
      made_at: new Date(),
    });
    for (const [strip, settings] of Object.entries(state)) {
      const fingerprint = Buffer.from(stripFingerprint(settings), 'hex');
      await old<object>('strip_states')
        .insert({ fingerprint, content: deflateSync(JSON.stringify(settings)) })
        .onConflict()
        .ignore();
      const state = found(await old('strip_states').where({ fingerprint }).first('id'));
      await old<object>('scene_strips').insert({ scene_id: scene.id, strip, strip_state_id: state.id });
    }
  }
  await old<object>('scene_parents').insert({ scene_id: id.two, parent_id: id.one, place: 0 });
  await old<object>('desks').update({ scene_id: id.two });
  await old<object>('restores').insert({
    ...{ id: id.restore, desk_id: id.desk, scene_id: id.one, way_back_id: id.back, scope: '[]', way_back_scope: '[]' },
    ...{ journal: '{}', changes: 0, status: 'confirmed', started_at: new Date() },
  });
  await old.destroy();

  const db = await connect(address);
  expect(await loadState(db, id.one)).toEqual(before);
  expect(await loadState(db, id.two)).toEqual(after);
  expect(await db('scene_changed_strips').pluck('strip')).toEqual(['in.1']);
  expect(await db('scenes').where({ id: id.two }).first('changed_strip_names', 'production_id', 'protected')).toEqual({
    changed_strip_names: 'Fiddle',
    production_id: id.production,
    protected: 0,
  });
  expect(await verifyStorage(db)).toMatchObject({ scenes: 3, orphans: 0, incomplete: [], spoiled: 0 });
  const log = async () => (await restoreLog(db, id.desk)).restores[0];
  expect(await log()).toMatchObject({ recall: { sceneId: id.one, scope: [], onto: [] }, fade: 0, answered: [] });
  expect(await db('desks').first('show_lock')).toEqual({ show_lock: 0 });
  expect(thresholdsOf(await deskRow(db, id.desk))).toEqual(DEFAULT_THRESHOLDS);
  // The log outlives the scenes it speaks of.
  await removeScenes(db, boathouse, [id.one, id.back]);
  expect(await db('restores').first('scene_id', 'way_back_id', 'scene_name', 'scene_number')).toEqual({
    scene_id: null,
    way_back_id: null,
    scene_name: 'One',
    scene_number: 1,
  });
  expect(await log()).toMatchObject({ sceneId: null, wayBack: null, sceneName: 'One' });
  await db.raw('DROP DATABASE ??', [database]);
  await db.destroy();
});
