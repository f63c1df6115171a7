import type { StorageCheck } from '@old-echo/core/contracts/routes/scene-routes';
import { fingerprint } from '@old-echo/core/desk/fingerprint';

import type { Database } from '../database/connect';
import { countRows } from '../database/count-rows';
import type { StripStateRow } from '../database/tables';
import { loadStates } from '../desk/strip-states';

/** Strip states looked into with one statement. */
const BATCH = 1000;

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
    countCorrupted(db),
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

async function countCorrupted(db: Database): Promise<number> {
  let spoiled = 0;
  for (let after = 0; ;) {
    const rows = await db('strip_states')
      .where('id', '>', after)
      .orderBy('id')
      .limit(BATCH)
      .select('id', 'fingerprint');
    spoiled += await countCorruptedIn(db, rows);
    const last = rows.at(-1);
    if (!last || rows.length < BATCH) return spoiled;
    after = last.id;
  }
}

type Print = Pick<StripStateRow, 'id' | 'fingerprint'>;

/** How many of some states do not read back; looked for one by one once one of them cannot be read at all. */
async function countCorruptedIn(db: Database, rows: readonly Print[]): Promise<number> {
  try {
    const states = await loadStates(
      db,
      rows.map(({ id }) => id),
    );
    return rows.filter((row) => fingerprint(states.get(row.id) ?? {}) !== row.fingerprint.toString('hex')).length;
  } catch {
    if (rows.length <= 1) return rows.length;
    let spoiled = 0;
    for (const row of rows) spoiled += await countCorruptedIn(db, [row]);
    return spoiled;
  }
}

/** What the tables take on the disk, in bytes, as the files are. */
export async function tableBytes(db: Database): Promise<number> {
  const [rows] = (await db.raw(
    `SELECT SUM(FILE_SIZE) AS bytes FROM information_schema.INNODB_SYS_TABLESPACES WHERE NAME LIKE CONCAT(DATABASE(), '/%')`,
  )) as [{ bytes: string | null }[]];
  return Number(rows[0]?.bytes ?? 0);
}
