import { deflateSync, inflateSync } from 'node:zlib';

import { stripFingerprint } from '@old-echo/core/scene/fingerprint';
import type { State, StripState } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';

/** Rows written with one statement. */
const BATCH = 500;

/**
 * Stores every strip of a scene; a strip state that is known already is only pointed at.
 * Call inside the transaction that makes the scene.
 */
export async function storeStrips(db: Database, sceneId: string, state: State): Promise<void> {
  const printOf = new Map(Object.entries(state).map(([strip, settings]) => [strip, stripFingerprint(settings)]));
  const ids = new Map<string, number>();
  const learn = async (prints: Iterable<string>, newest: boolean) => {
    const known = db<{ id: number; fingerprint: Buffer }>('strip_states')
      .whereIn('fingerprint', [...prints].map(toBytes))
      .select('id', 'fingerprint');
    const rows = await (newest ? known.forShare() : known);
    for (const row of rows) ids.set(row.fingerprint.toString('hex'), row.id);
  };
  await learn(printOf.values(), false);
  const fresh = new Map(
    Object.entries(state).flatMap(([strip, settings]) => {
      const print = printOf.get(strip) ?? '';
      return ids.has(print) ? [] : [[print, settings] as const];
    }),
  );
  // In one order everywhere, so that two captures never wait for one another.
  const rows = [...fresh]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([print, settings]) => ({ fingerprint: toBytes(print), content: deflateSync(JSON.stringify(settings)) }));
  for (let i = 0; i < rows.length; i += BATCH)
    await db('strip_states')
      .insert(rows.slice(i, i + BATCH))
      .onConflict('fingerprint')
      .ignore();
  // Another capture may have stored the same state since this transaction began: only a locking read sees its row.
  if (fresh.size > 0) await learn(fresh.keys(), true);
  await db('scene_strips').insert(
    [...printOf].map(([strip, print]) => ({ scene_id: sceneId, strip, strip_state_id: ids.get(print) })),
  );
}

const toBytes = (print: string): Buffer => Buffer.from(print, 'hex');

/** The whole state of a scene. */
export async function loadState(db: Database, sceneId: string): Promise<State> {
  const rows = (await db('scene_strips')
    .join('strip_states', 'strip_states.id', 'scene_strips.strip_state_id')
    .where({ scene_id: sceneId })
    .select('strip', 'content')) as { strip: string; content: Buffer }[];
  return Object.fromEntries(
    rows.map((row) => [row.strip, JSON.parse(inflateSync(row.content).toString('utf8')) as StripState]),
  );
}
