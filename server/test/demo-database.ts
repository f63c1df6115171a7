import type { Knex } from 'knex';

import { connect, type DatabaseAddress } from '../src/database/connect';
import { copyDatabase } from '../src/database/copy-database';
import { seedIfEmpty } from '../src/files/seed-database';

const TEMPLATE = 'template';

/** Copies a database as a fresh demo has it, which is filled once for all tests of a run: filling it takes seconds. */
export async function copyDemoDatabase(
  admin: Knex,
  { database, ...server }: DatabaseAddress,
  seed: string,
  deskPort: number,
): Promise<void> {
  await admin.raw('SELECT GET_LOCK(?, 300)', [TEMPLATE]);
  try {
    const [found] = (await admin.raw('SHOW DATABASES LIKE ?', [TEMPLATE])) as [unknown[]];
    if (found.length === 0) {
      const db = await connect({ ...server, database: TEMPLATE });
      await seedIfEmpty(db, seed);
      await db.destroy();
    }
  } finally {
    await admin.raw('SELECT RELEASE_LOCK(?)', [TEMPLATE]);
  }
  await copyDatabase(admin, TEMPLATE, database);
  await admin('desks').where({ profile_id: 'quay-48' }).update({ port: deskPort });
}
