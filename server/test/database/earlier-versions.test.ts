import type { Knex } from 'knex';
import { ulid } from 'ulid';

import type { MixNoteView } from '@old-echo/core/contracts/mix-note';
import type { OutboardView } from '@old-echo/core/contracts/outboard';
import type { VenueView } from '@old-echo/core/contracts/part';
import type { PresetView } from '@old-echo/core/contracts/preset';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { ScenePage } from '@old-echo/core/contracts/scene';
import { stripFingerprints } from '@old-echo/core/desk/fingerprint';

import { connect } from '../../src/database/connect';
import { migrations } from '../../src/database/migrations';
import { loadState } from '../../src/desk/scene-states';
import { people } from '../../src/people/person-store';
import { undoRemoval } from '../../src/removed/removed-store';
import { verifyStorage } from '../../src/scenes/verify-storage';
import { bring, upload } from '../files/file-steps';
import { beside, ownDatabase } from '../own-database';
import { Rig } from '../server-rig';
import { fingerprintsIn, fixture, makeOldDatabase } from './old-database';

jest.setTimeout(120_000);

test('a database of before opens with all that is in it: every state has its fingerprint, and what has other names is there', async () => {
  const address = ownDatabase('before');
  const old = await makeOldDatabase(address);
  const before = {
    states: await fingerprintsIn(old),
    venues: await count(old, 'halls'),
    mixNotes: await count(old, 'wishes'),
    atHand: await count(old, 'pins'),
    changed: await count(old, 'scene_moves'),
  };
  await old.destroy();

  const db = await connect(address);
  expect(await fingerprintsIn(db)).toEqual(before.states);
  expect({
    venues: await count(db, 'venues'),
    mixNotes: await count(db, 'mix_notes'),
    atHand: await count(db, 'scenes_at_hand'),
    changed: await count(db, 'scene_changed_strips'),
  }).toEqual({ venues: before.venues, mixNotes: before.mixNotes, atHand: before.atHand, changed: before.changed });
  expect(await verifyStorage(db)).toMatchObject({ incomplete: [], spoiled: 0, orphans: 0 });
  const scenes = await db('scenes').pluck('id');
  expect(scenes.length).toBeGreaterThan(10);
  for (const id of scenes) expect(Object.keys(await loadState(db, id)).length).toBeGreaterThan(0);
  expect(
    await db('mix_notes').where({ text: 'More fiddle' }).first('song_seconds', 'requested_by', 'status'),
  ).toMatchObject({
    requested_by: 'Tam',
    status: 'open',
  });
  expect(await db('presets').where('kind', 'kit')).toEqual([]);
  expect((await db('presets').where({ kind: 'strip set' })).length).toBeGreaterThan(0);
  await db.destroy();
});

test('a device that was let in before belongs to somebody of its name, who may do what it could; one that was shut out stays out', async () => {
  const address = ownDatabase('devices');
  const admin = beside(address);
  await admin.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [address.database]);
  await admin.destroy();
  const old = beside(address, { database: address.database, charset: 'utf8mb4', timezone: 'Z' });
  const upTo = async () => (await migrations.getMigrations([])).filter((name) => name < '027');
  await old.migrate.latest({ migrationSource: { ...migrations, getMigrations: upTo } });
  const [now, longest] = [new Date(), 'W'.repeat(40)];
  const device = (name: string, shut_out_at: Date | null = null) => ({
    ...{ id: ulid(), name, token_hash: `of ${ulid()}`, made_at: now, seen_at: now, shut_out_at },
  });
  await old<object>('devices').insert([device('Phone'), device('Phone'), device(longest), device('Lost', now)]);
  await old<object>('entry_codes').insert({ code_hash: 'a code', ends_at: now });
  await old.destroy();

  const db = await connect(address);
  const everybody = await people(db);
  expect(everybody.map(({ role, devices }) => [role, devices.map(({ name }) => name)])).toEqual([
    ['engineer', ['Phone']],
    ['engineer', ['Phone']],
    ['engineer', [longest]],
  ]);
  expect(everybody[0]?.name).toMatch(/^Phone \w{5}$/);
  expect(new Set(everybody.map(({ name }) => name)).size).toBe(3);
  expect(await count(db, 'entry_codes')).toBe(0);
  await db.destroy();
});

const count = async (db: Knex, table: string): Promise<number> =>
  ((await db(table).count({ n: '*' })) as [{ n: number }])[0].n;

test('what was removed before the columns had their names can still be given back', async () => {
  const address = ownDatabase('removed');
  const old = await makeOldDatabase(address);
  const [production] = await old<{ id: string }>('productions').select('id');
  const stem = { strip: 'in.30', name: 'hum.wav', hash: '0'.repeat(64), rate: 48_000, channels: 1, depth: '24' };
  const row = { ...stem, production_id: production!.id, frames: 9, gain: 31.5, peak: -6, silent: 0 };
  const id = ulid();
  await old('taken_off').insert({
    id,
    from: 'stems',
    row: JSON.stringify({ ...row, made_at: '2026-01-02T03:04:05.000Z' }),
    taken_at: new Date(),
  });
  await old.destroy();

  const db = await connect(address);
  await undoRemoval(db, id);
  expect(await db('stems').where(stem).first('recorded_gain_db', 'peak_db')).toEqual({
    recorded_gain_db: 31.5,
    peak_db: -6,
  });
  await db.destroy();
});

test('an archive and a library of version 1 are imported whole', async () => {
  const rig = await Rig.open({}, { bare: true });
  try {
    expect(await bring(rig, (await upload(rig, fixture('archive-1.zip'))).body)).toMatchObject({ status: 'done' });
    const [production] = (await rig.get<ProductionView[]>('/productions')).body;
    expect(production?.name).toBe('Lanterns on the Quay');
    const { id, versions } = production!;
    const { scenes } = (await rig.get<ScenePage>(`/productions/${id}/scenes?limit=200`)).body;
    expect(scenes.length).toBeGreaterThan(5);
    for (const scene of scenes)
      expect(Object.keys(stripFingerprints(await rig.stateOf(scene.id))).length).toBeGreaterThan(0);
    expect((await rig.get<VenueView[]>(`/productions/${id}/venues`)).body.map(({ name }) => name)).toEqual([
      'Harbour Hall',
    ]);
    expect((await rig.get<OutboardView[]>(`/productions/${id}/outboard`)).body[0]).toMatchObject({
      name: 'Copper compressor',
      controls: [{ name: 'Threshold', value: '-12' }],
    });
    const notes = (await rig.get<MixNoteView[]>(`/mix-notes?version=${versions[0]!.id}`)).body;
    expect(notes.find(({ text }) => text === 'More fiddle')).toMatchObject({
      songSeconds: 65,
      requestedBy: 'Tam',
      status: 'open',
    });

    expect(await bring(rig, (await upload(rig, fixture('library-1.json'))).body)).toMatchObject({ status: 'done' });
    const presets = (await rig.get<PresetView[]>('/presets')).body;
    expect(presets.filter(({ kind }) => kind === 'strip set').length).toBeGreaterThan(0);
  } finally {
    await rig.close();
  }
});
