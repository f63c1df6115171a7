import type { ChangeCount } from '@old-echo/core/contracts/scene';
import { countStrips, diffStates } from '@old-echo/core/desk/diff-states';
import type { Profile } from '@old-echo/core/desk/profile';
import { fittingState } from '@old-echo/core/desk/profile-change';
import type { State } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';
import { fittingToday } from './profile-store';
import { statesOf, stripsOf } from './strip-states';

const STORED = ['strip', 'strip_state_id', 'fingerprint'] as const;
const storedStrips = (db: Database, sceneId: string) =>
  stripsOf(db, sceneId).join('strip_states', 'strip_states.id', 'scene_strips.strip_state_id');

/** The whole state of a scene, as far as its desk has and takes it today. @throws Fault `damaged` */
export const loadState = async (db: Database, sceneId: string): Promise<State> =>
  fittingItsDesk(db, sceneId, await statesOf(db, await storedStrips(db, sceneId).select(STORED)));

/** Some strips of it; those it does not hold are missing. @throws Fault `damaged` */
export const loadStrips = async (db: Database, sceneId: string, strips: readonly string[]): Promise<State> =>
  fittingItsDesk(
    db,
    sceneId,
    await statesOf(db, await storedStrips(db, sceneId).whereIn('strip', strips).select(STORED)),
  );

async function fittingItsDesk(db: Database, sceneId: string, state: State): Promise<State> {
  const desk = await db('scenes')
    .join('productions', 'productions.id', 'scenes.production_id')
    .join('desks', 'desks.id', 'productions.desk_id')
    .where('scenes.id', sceneId)
    .first<{ profile_id: string } | undefined>('profile_id');
  return desk ? fittingToday(db, desk.profile_id, state) : state;
}

/** The fingerprints of a scene's strips, by strip. */
export async function fingerprintsOf(db: Database, sceneId: string): Promise<Map<string, string>> {
  const rows = await stripsOf(db, sceneId)
    .join('strip_states', 'strip_states.id', 'scene_strips.strip_state_id')
    .select('strip', 'fingerprint');
  return new Map(rows.map((row) => [row.strip, row.fingerprint.toString('hex')]));
}

/** How far two stored scenes are from one another. */
export async function countChanges(db: Database, profile: Profile, a: string, b: string): Promise<ChangeCount> {
  const rows = await db('scene_strips as one')
    .join('scenes as first', 'first.seq', 'one.scene_seq')
    .join('scene_strips as two', 'two.strip', 'one.strip')
    .join('scenes as second', 'second.seq', 'two.scene_seq')
    .where({ 'first.id': a, 'second.id': b })
    .whereRaw('one.strip_state_id <> two.strip_state_id')
    .join('strip_states as before', 'before.id', 'one.strip_state_id')
    .join('strip_states as after', 'after.id', 'two.strip_state_id')
    .select<{ strip: string; was: number; now: number; was_print: Buffer; now_print: Buffer }[]>('one.strip', {
      was: 'one.strip_state_id',
      now: 'two.strip_state_id',
      was_print: 'before.fingerprint',
      now_print: 'after.fingerprint',
    });
  const side = async (which: 'was' | 'now') =>
    fittingState(
      profile,
      await statesOf(
        db,
        rows.map((row) => ({ strip: row.strip, strip_state_id: row[which], fingerprint: row[`${which}_print`] })),
      ),
    );
  const changes = diffStates(profile, await side('was'), await side('now'));
  return { settings: changes.length, strips: countStrips(changes) };
}
