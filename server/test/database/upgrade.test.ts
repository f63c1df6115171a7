import knex, { type Knex } from 'knex';

import { FULL } from '@old-echo/testing/runs';

import { connect, type DatabaseAddress } from '../../src/database/connect';
import { copyDatabase } from '../../src/database/copy-database';
import { upgrade } from '../../src/database/upgrade';
import { verifyStorage } from '../../src/scenes/verify-storage';
import { beside, ownDatabase } from '../own-database';
import { fingerprintsIn, makeOldDatabase } from './old-database';

jest.setTimeout(FULL ? 3_600_000 : 600_000);

const old = ownDatabase('old');
let admin: Knex;
let before: string[];
beforeAll(async () => {
  const db = await makeOldDatabase(old);
  before = await fingerprintsIn(db);
  await db.destroy();
  admin = beside(old);
});
afterAll(() => admin.destroy());

/** A database of before, of its own. */
async function oldOne(): Promise<DatabaseAddress> {
  const address = ownDatabase('upgrade');
  await copyDatabase(admin, old.database, address.database);
  return address;
}

interface Driver {
  query(...args: unknown[]): void;
}

/** Connections that are as dead as those of a process that was killed, from one statement on. */
class Mortal {
  statements = 0;

  constructor(private readonly dieAt: number) {}

  connection(address: DatabaseAddress, database?: string): Knex {
    const db = knex({
      client: 'mysql2',
      connection: {
        ...{ host: '127.0.0.1', port: address.databasePort, user: 'old_echo', password: address.databasePassword },
        ...(database === undefined ? {} : { database, timezone: 'Z' }),
      },
      pool: { min: 0, max: 1 },
      // Knex tells of each step that fails, which all of them do here.
      log: { error: () => undefined, warn: () => undefined },
    });
    const client = db.client as { acquireRawConnection(): Promise<Driver> };
    const acquire = client.acquireRawConnection.bind(client);
    client.acquireRawConnection = async () => {
      const driver = await acquire();
      const query = driver.query.bind(driver);
      driver.query = (...args) => {
        if (++this.statements < this.dieAt) return query(...args);
        const done = args.at(-1);
        if (typeof done === 'function') (done as (error: Error) => void)(new Error('killed'));
      };
      return driver;
    };
    return db;
  }

  async upgrade(address: DatabaseAddress): Promise<unknown> {
    const one = this.connection(address);
    const error = await upgrade(one, address.database, () => this.connection(address, address.database)).catch(
      (thrown: unknown) => thrown,
    );
    await one.destroy();
    return error;
  }
}

const databases = async (): Promise<string[]> =>
  ((await admin.raw('SHOW DATABASES')) as [{ Database: string }[]])[0].map((row) => row.Database);

test('killed at whatever statement, it is whole and up to date at the next start', async () => {
  const whole = new Mortal(Infinity);
  expect(await whole.upgrade(await oldOne())).toBeUndefined();
  expect(whole.statements).toBeGreaterThan(100);
  const step = FULL ? 1 : Math.ceil(whole.statements / 4);
  for (let at = 1; at < whole.statements; at += step) {
    const address = await oldOne();
    expect([at, await new Mortal(at).upgrade(address)]).toMatchObject([
      at,
      { message: expect.stringContaining('killed') as string },
    ]);
    // Killed once more while what it was is put back.
    await new Mortal(20).upgrade(address);
    const db = await connect(address);
    expect([at, (await fingerprintsIn(db)).join() === before.join()]).toEqual([at, true]);
    expect(await verifyStorage(db)).toMatchObject({ incomplete: [], spoiled: 0, orphans: 0 });
    await db.destroy();
    expect((await databases()).filter((name) => name.startsWith(`${address.database}_`))).toEqual([]);
    await admin.raw('DROP DATABASE ??', [address.database]);
  }
});

test('a step that fails leaves the data as it was, and the next start tries again', async () => {
  const address = await oldOne();
  await admin.raw('CREATE TABLE ??.venues (id INT)', [address.database]);
  await expect(connect(address)).rejects.toThrow(/already exists/);
  const db = beside(address, { database: address.database });
  expect(await fingerprintsIn(db)).toEqual(before);
  expect(await db.schema.hasTable('halls')).toBe(true);
  await db.raw('DROP TABLE venues');
  await db.destroy();
  const again = await connect(address);
  expect(await fingerprintsIn(again)).toEqual(before);
  await again.destroy();
});

test('data of a newer program is left as it is, with a sentence', async () => {
  const address = ownDatabase('newer');
  await (await connect(address)).destroy();
  const db = beside(address, { database: address.database });
  await db('knex_migrations').insert({ name: '999-later', batch: 9, migration_time: new Date() });
  await db.schema.createTable('later', (table) => void table.integer('id'));
  await expect(connect(address)).rejects.toThrow('This data was written by a newer Old Echo.');
  expect(await db.schema.hasTable('later')).toBe(true);
  await db.destroy();
});

test('two servers that start at once bring it up to date once', async () => {
  const address = await oldOne();
  const both = await Promise.all([connect(address), connect(address)]);
  for (const db of both) {
    expect(await fingerprintsIn(db)).toEqual(before);
    await db.destroy();
  }
});
