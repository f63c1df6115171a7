import type { StorageCheck } from '@old-echo/core/contracts/routes/scene-routes';

import type { Database } from '../database/connect';
import { countRows } from '../database/count-rows';
import { damagedOf, stripsAfter } from '../desk/strip-states';

/** Strip states looked into with one statement. */
const BATCH = 200;

/** Looks whether everything stored is whole: nothing left over, nothing missing, nothing altered. */
export async function verifyStorage(db: Database): Promise<StorageCheck> {
  const [scenes, stripStates, orphans, incomplete, spoiled, bytes] = await Promise.all([
    countRows(db('scenes')),
    countRows(db('strip_states')),
    countRows(
      db('strip_states')
        .whereNotExists((used) =>
          used.from('scene_strips').whereRaw('strip_state_id = strip_states.id').select(db.raw('1')),
        )
        .whereNotExists((told) =>
          told.from('strip_states as others').whereRaw('others.base_id = strip_states.id').select(db.raw('1')),
        ),
    ),
    incompleteScenes(db),
    countDamaged(db),
    tableBytes(db),
  ]);
  return {
    scenes,
    stripStates,
    bytes,
    orphans,
    incomplete,
    spoiled,
  };
}

/** Numbers of the scenes that have not as many strips as the first scene of their desk. */
async function incompleteScenes(db: Database): Promise<number[]> {
  const rows = await db('scenes')
    .leftJoin('scene_strips', 'scene_strips.scene_seq', 'scenes.seq')
    .join('productions', 'productions.id', 'scenes.production_id')
    .where('partial', 0)
    .groupBy('scenes.seq')
    .select<{ number: number; desk_id: string; n: number }[]>('scenes.number', 'desk_id', db.raw('COUNT(strip) AS n'));
  const most = new Map<string, number>();
  for (const { desk_id, n } of rows) most.set(desk_id, Math.max(most.get(desk_id) ?? 1, n));
  return rows.filter(({ desk_id, n }) => n < (most.get(desk_id) ?? 1)).map(({ number }) => number);
}

async function countDamaged(db: Database): Promise<number> {
  let damaged = 0;
  for (let after = 0, more = true; more;) {
    const rows = await stripsAfter(db, after, BATCH);
    damaged += (await damagedOf(db, rows)).length;
    after = rows.at(-1)?.id ?? after;
    more = rows.length === BATCH;
  }
  return damaged;
}

/** What the tables take on the disk, in bytes, as the files are. */
export async function tableBytes(db: Database): Promise<number> {
  const [rows] = (await db.raw(
    `SELECT SUM(FILE_SIZE) AS bytes FROM information_schema.INNODB_SYS_TABLESPACES WHERE NAME LIKE CONCAT(DATABASE(), '/%')`,
  )) as [{ bytes: string | null }[]];
  return Number(rows[0]?.bytes ?? 0);
}
