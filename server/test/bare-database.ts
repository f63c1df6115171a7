import { ulid } from 'ulid';

import type { State } from '@old-echo/core/desk/state';
import { boathouse, profileJson } from '@old-echo/testing/profiles';

import { connect } from '../src/database/connect';
import { toJson } from '../src/database/json-column';
import { insertProfile } from '../src/desk/profile-store';
import { insertScene, type NewScene } from '../src/scenes/insert-scene';

/** A desk of the Boathouse kind with one production and one version, without a server. */
export async function bareDatabase(database: string, where = 'OLD_ECHO_DB') {
  const db = await connect({
    databasePort: Number(process.env[`${where}_PORT`]),
    databasePassword: process.env[`${where}_PASSWORD`] ?? '',
    database,
  });
  const ids = { desk: ulid(), production: ulid(), version: ulid() };
  await insertProfile(db, profileJson('boathouse'));
  const desk = {
    id: ids.desk,
    name: 'D',
    profile_id: 'boathouse',
    host: '127.0.0.1',
    port: 9,
    mode: 'studio' as const,
  };
  await db('desks').insert({ ...desk, safes: toJson([]), place: 0 });
  await db('productions').insert({
    id: ids.production,
    desk_id: ids.desk,
    name: 'P',
    kind: 'song',
    note: '',
    place: 0,
  });
  await db('versions').insert({ id: ids.version, production_id: ids.production, name: 'V', place: 0 });
  const scene = (name: string, state: State, more: Partial<NewScene> = {}) =>
    insertScene(db, boathouse, {
      versionId: ids.version,
      name,
      note: '',
      milestone: '',
      kind: 'scene',
      parents: [],
      state,
      madeAt: new Date(),
      ...more,
    });
  return { db, ids, scene };
}
