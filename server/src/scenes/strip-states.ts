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
  const prints = new Map(
    Object.entries(state).map(([strip, settings]) => [strip, Buffer.from(stripFingerprint(settings), 'hex')]),
  );
  const ids = await knownIds(db, [...prints.values()]);
  const fresh = Object.entries(state).filter(([strip]) => !ids.has(prints.get(strip)?.toString('hex') ?? ''));
  if (fresh.length > 0) {
    const rows = fresh.map(([strip, settings]) => ({
      fingerprint: prints.get(strip),
      content: deflateSync(JSON.stringify(settings)),
    }));
    for (let i = 0; i < rows.length; i += BATCH)
      // Two captures may meet the same new state at once; the first one to write it serves both.
      await db('strip_states')
        .insert(rows.slice(i, i + BATCH))
        .onConflict('fingerprint')
        .ignore();
    for (const [print, id] of await knownIds(
      db,
      rows.map((r) => r.fingerprint as Buffer),
    ))
      ids.set(print, id);
  }
  const strips = [...prints].map(([strip, print]) => ({
    scene_id: sceneId,
    strip,
    strip_state_id: ids.get(print.toString('hex')),
  }));
  await db('scene_strips').insert(strips);
}

async function knownIds(db: Database, prints: readonly Buffer[]): Promise<Map<string, number>> {
  const rows = await db<{ id: number; fingerprint: Buffer }>('strip_states')
    .whereIn('fingerprint', prints)
    .select('id', 'fingerprint');
  return new Map(rows.map((row) => [row.fingerprint.toString('hex'), row.id]));
}

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
