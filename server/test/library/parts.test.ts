import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import express from 'express';
import fc from 'fast-check';
import pino from 'pino';
import { ulid } from 'ulid';

import { fromProblem } from '@old-echo/core/contracts/problem';
import { stripFingerprint } from '@old-echo/core/desk/fingerprint';
import type { Profile } from '@old-echo/core/desk/profile';
import { defaultState, type State, withSettings } from '@old-echo/core/desk/state';
import { Fault, type FaultCode } from '@old-echo/core/fault/fault';
import { OscLink } from '@old-echo/desk-link/osc-link';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { DeskServer } from '@old-echo/stand-in/front';
import { boathouse, profileJson, PROFILES, skiff } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';

import { connect, type Database } from '../../src/database/connect';
import { toJson } from '../../src/database/json-column';
import { DeskMirror } from '../../src/desk/desk-mirror';
import { acquireLease, deskRow, releaseLease, renewLease } from '../../src/desk/desk-store';
import { moveSettings } from '../../src/desk/move-settings';
import { extendProfiles, insertProfile, readStoredProfile } from '../../src/desk/profile-store';
import { loadState } from '../../src/desk/scene-states';
import { seedIfEmpty } from '../../src/files/seed-database';
import { readConfig } from '../../src/http/config';
import { problemDetails } from '../../src/http/problem-details';
import { webBuildDir } from '../../src/http/static-files';
import { insertScene } from '../../src/scenes/insert-scene';
import { bareDatabase } from '../bare-database';
import { ownDatabase } from '../own-database';
import { until } from '../server-rig';

jest.setTimeout(60_000);

describe('in the database', () => {
  const address = ownDatabase('parts');
  let db: Database;
  let ids: Awaited<ReturnType<typeof bareDatabase>>['ids'] & { otherVersion: string };

  beforeAll(async () => {
    const bare = await bareDatabase(address.database);
    db = bare.db;
    for (const id of ['quay-48', 'skiff-16']) await insertProfile(db, profileJson(id));
    const [otherProduction, otherVersion] = [ulid(), ulid()];
    ids = { ...bare.ids, otherVersion };
    const other = { id: otherProduction, name: 'Q', kind: 'song' as const, note: '', place: 1 };
    await db('productions').insert({ ...other, desk_id: ids.desk });
    await db('versions').insert({ id: otherVersion, production_id: otherProduction, name: 'V', place: 0 });
  });
  afterAll(async () => {
    await db.raw('DROP DATABASE ??', [address.database]);
    await db.destroy();
  });

  let made = 0;
  const store = (
    profile: Profile,
    state: State,
    parents: string[] = [],
    name = `Scene ${++made}`,
    versionId = ids.version,
  ) =>
    insertScene(db, profile, {
      versionId,
      name,
      note: '',
      milestone: '',
      kind: 'scene',
      parents,
      state,
      madeAt: new Date(),
    });
  const stripStates = async () => Number((await db('strip_states').count({ n: '*' }))[0]?.n);

  test.each(PROFILES)('any state of %s comes out as it went in, automation and all', async (_, profile) => {
    await fc.assert(
      fc.asyncProperty(anyState(profile), async (state) => {
        const { id } = await store(profile, state);
        const loaded = await loadState(db, id);
        expect(loaded).toEqual(state);
        for (const [strip, settings] of Object.entries(loaded))
          expect(stripFingerprint(settings)).toBe(stripFingerprint(state[strip]!));
      }),
      { numRuns: 4 },
    );
  });

  test('the same strips captured by two people at the same moment are stored once', async () => {
    for (let round = 0; round < 5; round++) {
      const settings = Object.fromEntries(
        boathouse.families[0]!.strips.map((strip) => [`${strip}/label/name`, `Round ${round}`]),
      );
      const state = withSettings(defaultState(boathouse), settings);
      const before = await stripStates();
      const scenes = await Promise.all(
        [1, 2, 3, 4].map((n) =>
          store(boathouse, state, [], `Together ${round} ${n}`, n % 2 ? ids.version : ids.otherVersion),
        ),
      );
      // Forty inputs are new in every round; the other strips are known after the first.
      if (round > 0) expect((await stripStates()) - before).toBe(40);
      for (const { id } of scenes) expect(await loadState(db, id)).toEqual(state);
    }
  });

  test('a scene whose name is taken leaves nothing behind, not even its number', async () => {
    const first = await store(boathouse, defaultState(boathouse), [], 'Taken');
    const count = async (table: string) => Number((await db(table).count({ n: '*' }))[0]?.n);
    const before = [await count('scenes'), await count('scene_strips')];
    await expect(store(boathouse, defaultState(boathouse), [], 'Taken')).rejects.toMatchObject({
      code: 'conflict',
      where: 'name',
    });
    expect([await count('scenes'), await count('scene_strips')]).toEqual(before);
    expect((await store(boathouse, defaultState(boathouse))).number).toBe(first.number + 1);
  });

  test('a scene says how far it is from the one it came from', async () => {
    const first = await store(boathouse, defaultState(boathouse));
    const moved = withSettings(defaultState(boathouse), {
      'in.1/fader/level': -5,
      'in.1/mute/on': true,
      'fx.1/inserts/time': 3,
    });
    expect((await store(boathouse, moved, [first.id])).changed).toEqual({ settings: 3, strips: 2 });
  });

  const LEASE = 1000;
  test('a desk is held by one at a time as long as they renew it, by nobody else, and is free once the lease has run out', async () => {
    const [mine, other] = [ulid(), ulid()];
    const renewals: Promise<unknown>[] = [];
    const renewal = setInterval(() => renewals.push(renewLease(db, ids.desk, mine, LEASE).then()), LEASE / 5);
    await acquireLease(db, ids.desk, mine, LEASE);
    const refused = await acquireLease(db, ids.desk, other, LEASE).catch((error: unknown) => error);
    expect(refused).toMatchObject({ code: 'desk-busy' });
    expect([await renewLease(db, ids.desk, other, LEASE), await releaseLease(db, ids.desk, other)]).toEqual([0, 0]);
    clearInterval(renewal);
    await Promise.all(renewals);
    // Whoever had it ended without a word: waited for, and it is free.
    await acquireLease(db, ids.desk, other, LEASE);
    expect((await deskRow(db, ids.desk)).lease_holder_id).toBe(other);
    await releaseLease(db, ids.desk, other);
    const both = [acquireLease(db, ids.desk, mine, LEASE), acquireLease(db, ids.desk, other, LEASE)];
    const first = await Promise.race(both.map((taken, i) => taken.then(() => [mine, other][i]!)));
    expect((await deskRow(db, ids.desk)).lease_holder_id).toBe(first);
    await releaseLease(db, ids.desk, first);
    await Promise.all(both);
    await db('desks').where({ id: ids.desk }).update({ lease_holder_id: null, lease_until: null });
  });

  test('a kind of desk that got more learns it when the server starts; one that would lose something stays as it was', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'old-echo-profiles-'));
    const now = profileJson('skiff-16') as { families: { id: string }[] };
    const before = { ...now, families: now.families.filter(({ id }) => id !== 'mutegroup') };
    const has = async () => (await readStoredProfile(db, 'skiff-16')).strips.includes('mutegroup.1');
    const startWith = async (profile: object) => {
      writeFileSync(join(folder, 'skiff-16.json'), JSON.stringify(profile));
      await extendProfiles(db, folder);
    };
    await db('profiles')
      .where({ id: 'skiff-16' })
      .update({ source: toJson(before) });
    await startWith(before);
    expect(await has()).toBe(false);
    await startWith(now);
    expect(await has()).toBe(true);
    await startWith(before);
    expect(await has()).toBe(true);
    rmSync(folder, { recursive: true });
  });

  test('a seed is only for an empty database, and a broken one leaves no desk', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'old-echo-seed-'));
    const file = join(folder, 'seed.json');
    writeFileSync(file, '{"profiles": "none", "desks": [], "productions": []}');
    await seedIfEmpty(db, file);
    const bare = ownDatabase('bare');
    const empty = await connect(bare);
    await expect(seedIfEmpty(empty, file)).rejects.toMatchObject({ code: 'refused-input', where: 'profiles' });
    expect(await empty('desks')).toEqual([]);
    await empty.raw('DROP DATABASE ??', [bare.database]);
    await empty.destroy();
    rmSync(folder, { recursive: true });
  });
});

describe('a session with a desk', () => {
  let front: DeskServer;
  let session: DeskMirror;
  beforeEach(async () => {
    front = new DeskServer(new SimulatedDesk(skiff));
    const port = await front.open(0);
    session = new DeskMirror('desk', new OscLink({ profile: skiff, host: '127.0.0.1', port, beat: 50, patience: 500 }));
    await until(() => session.linkStatus.state === 'linked');
  });
  afterEach(async () => {
    await session.close();
    await front.close();
  });

  test('mirrors the desk, and keeps the same object for every strip that does not move', async () => {
    const before = session.state;
    front.hands({ 'in.2/fader/level': -7 });
    await until(() => session.state['in.2']?.['fader/level'] === -7);
    expect(session.state['in.1']).toBe(before['in.1']);
    expect(session.state['in.2']).not.toBe(before['in.2']);
  });

  test('tells of a move once, and not at all of what was only read', async () => {
    const told: string[] = [];
    session.listen((event) => event.type === 'settings-changed' && told.push(...Object.keys(event.settings)));
    await session.capture();
    expect(told).toEqual([]);
    front.hands({ 'in.2/fader/level': -7 });
    await until(() => told.length > 0);
    await session.capture();
    expect(told).toEqual(['in.2/fader/level']);
  });

  const STUDIO = {
    name: 'Boathouse',
    show_lock: 0 as const,
    mode: 'studio' as const,
    safes: toJson([]),
    thresholds: toJson({}),
  };

  test('of two moves of one fader the newer wins, although the older is still being confirmed', async () => {
    front.misbehave({ delay: 40, seed: 11 });
    for (let round = 0; round < 5; round++) {
      const moves = [-30, -20, -10, -5 - round].map((level) =>
        moveSettings(session, STUDIO, { 'in.1/fader/level': level }),
      );
      await Promise.all(moves);
      await until(() => front.desk.value('in.1/fader/level') === -5 - round, 2000);
    }
    await new Promise((resolve) => setTimeout(resolve, 150));
    expect(front.desk.value('in.1/fader/level')).toBe(-9);
  });

  test('a value between two steps is confirmed where the desk puts it; a refused one is named', async () => {
    front.refuse(['in.3/mute/on']);
    const failed = await moveSettings(session, STUDIO, { 'in.1/fader/level': -5.04, 'in.3/mute/on': true });
    expect(front.desk.value('in.1/fader/level')).toBe(-5);
    expect(failed.map((f) => [f.address, f.found])).toEqual([['in.3/mute/on', false]]);
  });

  test('does not pretend: captures and reads end in a fault while the desk is silent', async () => {
    front.freeze(true);
    const capture = session.capture().catch((error: unknown) => error);
    await until(() => session.linkStatus.state === 'unlinked');
    expect(await capture).toMatchObject({ code: 'link-lost' });
    expect(() => session.assertLinked()).toThrow('Skiff 16 stopped answering.');
    front.freeze(false);
    await until(() => session.linkStatus.state === 'linked');
    await session.capture();
  });

  test('a desk of another kind is not taken for this one, and the reason is told', async () => {
    const other = new DeskServer(new SimulatedDesk(boathouse));
    const port = await other.open(0);
    const wrong = new DeskMirror('desk', new OscLink({ profile: skiff, host: '127.0.0.1', port, beat: 50 }));
    await until(() => wrong.linkStatus.why.includes('is not a Skiff 16'));
    expect(wrong.linkStatus.state).toBe('unlinked');
    await wrong.close();
    await other.close();
  });
});

describe('answers over HTTP', () => {
  const ask = async (app: express.Express, path = '/', init?: RequestInit) => {
    const server = app.listen(0, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    const response = await fetch(`http://127.0.0.1:${(server.address() as { port: number }).port}${path}`, init);
    const text = await response.text();
    server.closeAllConnections();
    server.close();
    return {
      status: response.status,
      text,
      cache: response.headers.get('cache-control'),
      type: response.headers.get('content-type'),
    };
  };

  test.each<[FaultCode, number]>([
    ['not-found', 404],
    ['refused-input', 422],
    ['conflict', 409],
    ['desk-moved', 409],
    ['desk-busy', 423],
    ['link-lost', 503],
    ['unavailable', 500],
  ])('%s is %i, and reads as the same fault on the other side', async (code, status) => {
    const app = express().get('/', () => {
      throw new Fault(code, 'What happened.', 'What to do.', 'where[0].it');
    });
    app.use(problemDetails(pino({ level: 'silent' })));
    const answer = await ask(app);
    expect([answer.status, JSON.parse(answer.text)]).toEqual([
      status,
      expect.objectContaining({ status, type: `urn:old-echo:${code}` }),
    ]);
    expect(fromProblem(JSON.parse(answer.text))).toMatchObject({
      code,
      message: 'What happened.',
      advice: 'What to do.',
      where: 'where[0].it',
    });
  });

  test('an error of our own is told without its insides', async () => {
    const app = express().get('/', () => {
      throw new TypeError('secret insides');
    });
    app.use(problemDetails(pino({ level: 'silent' })));
    const { status, text } = await ask(app);
    expect(status).toBe(500);
    expect(text).not.toContain('secret');
  });

  test('the web build: hashed files for a year, the page fresh, any address of the app is the page, files that are missing are not', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'old-echo-.web-'));
    writeFileSync(join(folder, 'index.html'), '<title>page</title>');
    writeFileSync(join(folder, 'favicon.ico'), 'icon');
    const app = express().use(webBuildDir(folder));
    expect(await ask(app, '/desk/some/strip/in.7')).toMatchObject({
      status: 200,
      text: '<title>page</title>',
      cache: 'no-cache',
    });
    expect(await ask(app, '/favicon.ico')).toMatchObject({ status: 200, text: 'icon', cache: 'no-cache' });
    expect((await ask(app, '/api/nothing')).status).toBe(404);
    rmSync(folder, { recursive: true });
    expect(() => webBuildDir(folder)).toThrow('There is no web build');
  });

  test('settings of the server that are wrong are named', () => {
    expect(() => readConfig({})).toThrow(/OLD_ECHO_(DB_PORT|DB_PASSWORD|FILES_DIR) must/);
    expect(() =>
      readConfig({
        OLD_ECHO_DB_PORT: '3306',
        OLD_ECHO_DB_PASSWORD: 'x',
        OLD_ECHO_FILES_DIR: 'f',
        OLD_ECHO_PORT: '99999',
      }),
    ).toThrow(/[Pp]ort/);
  });
});
