import { stripFingerprints } from '@old-echo/core/desk/fingerprint';
import type { State } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';

export interface TwinScene {
  readonly id: string;
  readonly number: number | null;
  readonly name: string;
}

/** The newest scene of a kind of desk, not in the bin, that holds exactly this state; or undefined. */
export async function sceneLike(db: Database, profileId: string, state: State): Promise<TwinScene | undefined> {
  const prints = Object.entries(stripFingerprints(state));
  const states = await db('strip_states')
    .whereIn(
      'fingerprint',
      prints.map(([, print]) => Buffer.from(print, 'hex')),
    )
    .select('id', 'fingerprint');
  const idOf = new Map(states.map(({ id, fingerprint }) => [fingerprint.toString('hex'), id]));
  if (prints.length === 0 || prints.some(([, print]) => !idOf.has(print))) return undefined;
  const strips = prints.map(([strip, print]) => [strip, idOf.get(print) ?? 0]);
  return await db('scene_strips')
    .join('scenes', 'scenes.seq', 'scene_strips.scene_seq')
    .join('productions', 'productions.id', 'scenes.production_id')
    .join('desks', 'desks.id', 'productions.desk_id')
    .where('profile_id', profileId)
    .where('scenes.kind', 'scene')
    .whereNull('scenes.binned_at')
    .groupBy('scenes.id', 'scenes.number', 'scenes.name', 'scenes.made_at')
    .havingRaw('COUNT(*) = ?', [strips.length])
    .havingRaw(`SUM((strip, strip_state_id) IN (${strips.map(() => '(?, ?)').join(', ')})) = ?`, [
      ...strips.flat(),
      strips.length,
    ])
    .orderBy('scenes.made_at', 'desc')
    .first<TwinScene | undefined>('scenes.id', 'scenes.number', 'scenes.name');
}
