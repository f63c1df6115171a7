import { deflateSync } from 'node:zlib';

import { ulid } from 'ulid';

import type { Profile } from '@old-echo/core/desk/profile';
import { defaultState, type State, withSettings } from '@old-echo/core/desk/state';
import { connect, type Database } from '@old-echo/server/database/connect';
import { insertProfile } from '@old-echo/server/desk/profile-store';
import { loadState } from '@old-echo/server/desk/scene-states';
import { removeScenes } from '@old-echo/server/scenes/delete-scenes';
import { insertScene } from '@old-echo/server/scenes/insert-scene';
import { scenePage } from '@old-echo/server/scenes/list-scenes';
import { loadStripHistory } from '@old-echo/server/scenes/strip-history';
import { tableBytes, verifyStorage } from '@old-echo/server/scenes/verify-storage';

import { toJson } from '../../server/src/database/json-column';
import { archiving } from './archiving';
import { print, time } from './figure';

/** Scenes of the production that is made. */
const SCENES = Number(process.env['OLD_ECHO_BENCH_SCENES'] ?? 10_000);
const MB = 1e6;

const ids = { desk: ulid(), production: ulid(), version: ulid() };

async function emptyProduction(db: Database, profileJson: unknown, profileId: string): Promise<void> {
  await insertProfile(db, profileJson);
  const desk = { id: ids.desk, name: 'D', profile_id: profileId, host: '127.0.0.1', port: 9, mode: 'live' as const };
  await db('desks').insert({ ...desk, safes: toJson([]), place: 0 });
  const production = { id: ids.production, desk_id: ids.desk, name: 'P', kind: 'show' as const, note: '', place: 0 };
  await db('productions').insert(production);
  await db('versions').insert({ id: ids.version, production_id: ids.production, name: 'V', place: 0 });
}

/** Three strips move, each in four settings: the first one every time, the others in turn. */
function next(profile: Profile, state: State, n: number): State {
  const inputs = profile.strips.filter((strip) => strip.startsWith('in.'));
  const moves = [0, 1 + (n % 23), 24 + ((n * 7) % 24)].flatMap((at, i) => {
    const [strip, by] = [inputs[at] ?? 'in.1', (n * 31 + i * 17) % 700];
    return [
      [`${strip}/fader/level`, -60 + by / 10],
      [`${strip}/eq/2/gain`, ((n * 13 + i) % 240) / 10 - 12],
      [`${strip}/sends/mix.1/level`, -60 + ((n * 7 + i) % 600) / 10],
      [`${strip}/pan/position`, (n % 199) - 99],
    ] as const;
  });
  return withSettings(state, Object.fromEntries(moves));
}

/** What this machine's MariaDB does with rows of the same size without any of our work: for one scene, in ms. */
async function plainRows(db: Database): Promise<number> {
  await db.raw('CREATE TABLE plain (a INT UNSIGNED, b VARCHAR(12), c INT UNSIGNED, d BLOB, PRIMARY KEY (a, b))');
  let n = 0;
  const ms = await time(async () => {
    n++;
    await db.transaction(async (tx) => {
      await tx('plain').insert(Array.from({ length: 99 }, (_, i) => ({ a: n, b: `in.${i}`, c: i, d: null })));
      await tx('plain').insert(
        Array.from({ length: 4 }, (_, i) => ({ a: n, b: `scene.${i}`, c: i, d: Buffer.alloc(1200, n) })),
      );
    });
  }, 100);
  await db.raw('DROP TABLE plain');
  return ms;
}

/** A production of ten thousand scenes on the Quay, beside what plain statements take on the same MariaDB. */
export async function history(profile: Profile, profileJson: unknown): Promise<void> {
  const db = await connect({
    databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
    databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
    database: 'bench',
  });
  try {
    await emptyProduction(db, profileJson, profile.id);
    const plain = await plainRows(db);
    let state = defaultState(profile);
    let parents: string[] = [];
    const times: number[] = [];
    for (let n = 1; n <= SCENES; n++) {
      state = next(profile, state, n);
      const start = performance.now();
      const scene = await insertScene(db, profile, {
        versionId: ids.version,
        name: `Scene ${n}`,
        note: n % 977 === 0 ? 'the brass answers late here' : 'as the night before, a little warmer',
        milestone: n % 500 === 0 ? 'rehearsed' : '',
        tags: n % 50 === 0 ? ['second half'] : [],
        kind: 'scene',
        parents,
        state,
        madeAt: new Date(Date.now() - (SCENES - n) * 60_000),
      });
      times.push(performance.now() - start);
      parents = [scene.id];
    }
    print({
      name: `one of ${SCENES} scenes stored, 3 strips moved (other: plain rows of the same number and size)`,
      ours: times.sort((a, b) => a - b)[SCENES / 2] ?? 0,
      other: plain,
      unit: 'ms',
      goal: { most: 100 },
    });
    const whole = JSON.stringify(state);
    const onDisk = (await tableBytes(db)) / MB;
    for (const [how, bytes] of [
      ['whole, as JSON', whole.length],
      ['whole, deflated: small, but nothing can be asked of it', deflateSync(whole).length],
    ] as const)
      print({
        name: `the database of ${SCENES} scenes on disk (other: each scene ${how})`,
        ours: onDisk,
        other: (SCENES * bytes) / MB,
        unit: 'MB',
        goal: { most: 250 },
      });
    await reading(db, profile);
    await archiving(db, ids.production, SCENES);
    await removing(db, profile);
  } finally {
    await db.raw('DROP DATABASE bench');
    await db.destroy();
  }
}

async function reading(db: Database, profile: Profile): Promise<void> {
  const page = { milestone: false, ownOnly: false, bin: false, limit: 100 };
  const { scenes, total } = await scenePage(db, ids.production, page);
  const byId = scenes.map((scene) => scene.id);
  const plainPage = await time(() => db('scenes').whereIn('id', byId));
  if (total !== SCENES) throw new Error(`${total} scenes are listed`);
  const search = { ...page, ownOnly: true, search: 'brass late' };
  const found = (await scenePage(db, ids.production, search)).total;
  if (found !== Math.floor(SCENES / 977)) throw new Error(`${found} scenes were found`);
  print({
    name: 'the first page of the list, 100 scenes (other: the same 100 rows by their ids)',
    ours: await time(() => scenePage(db, ids.production, page)),
    other: plainPage,
    unit: 'ms',
    goal: { most: 100 },
  });
  print({
    name: 'the last page of the list (other: the same 100 rows by their ids)',
    ours: await time(() => scenePage(db, ids.production, { ...page, before: 101 })),
    other: plainPage,
    unit: 'ms',
    goal: { most: 100 },
  });
  print({
    name: 'search for two words in all of them (other: LIKE over the notes alone)',
    ours: await time(() => scenePage(db, ids.production, search)),
    other: await time(() => db('scenes').where('note', 'like', '%brass%')),
    unit: 'ms',
    goal: { most: 200 },
  });
  print({
    name: 'scenes that touch one strip (other: LIKE over the notes alone)',
    ours: await time(() => scenePage(db, ids.production, { ...page, strip: 'in.30' })),
    other: await time(() => db('scenes').where('note', 'like', '%brass%')),
    unit: 'ms',
    goal: { most: 200 },
  });
  const rows = (strip: string) =>
    db('scene_strips')
      .join('strip_states', 'strip_states.id', 'strip_state_id')
      .where({ strip })
      .where('scene_seq', '<=', SCENES)
      .select('strip_state_id', 'content');
  for (const [strip, name] of [
    ['in.10', 'a strip that moved now and then'],
    ['in.1', 'the strip that moved in every scene'],
  ] as const)
    print({
      name: `the past of ${name}, over all scenes (other: its different states read, not looked into)`,
      ours: await time(() => loadStripHistory(db, profile, ids.version, strip), 7),
      other: await time(() => rows(strip), 7),
      unit: 'ms',
      goal: { most: 500 },
    });
  const last = scenes[0]?.id ?? '';
  print({
    name: 'one whole scene read back (other: its rows, not looked into)',
    ours: await time(() => loadState(db, last)),
    other: await time(() =>
      db('scene_strips')
        .join('scenes', 'scenes.seq', 'scene_seq')
        .join('strip_states', 'strip_states.id', 'strip_state_id')
        .where('scenes.id', last)
        .select('strip', 'content'),
    ),
    unit: 'ms',
    goal: { most: 100 },
  });
}

async function removing(db: Database, profile: Profile): Promise<void> {
  const before = await verifyStorage(db);
  const ids = await db('scenes')
    .orderBy('ordinal')
    .limit(SCENES / 10)
    .pluck('id');
  const start = performance.now();
  await removeScenes(db, profile, ids);
  const ours = performance.now() - start;
  const after = await verifyStorage(db);
  const clean = [before, after].every((c) => c.orphans + c.incomplete.length + c.spoiled === 0);
  if (!clean || after.scenes !== before.scenes - ids.length) throw new Error('removing left something over');
  print({
    name: `${ids.length} scenes removed and ${before.stripStates - after.stripStates} strip states freed, nothing left over (other: the time a check of everything takes)`,
    ours,
    other: await time(() => verifyStorage(db), 3),
    unit: 'ms',
    goal: { most: 60_000 },
  });
}
