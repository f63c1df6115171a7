import { type DeskEdit, type DeskLinkView, type DeskView, NOWHERE, type SwapSide } from '@old-echo/core/contracts/desk';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { ALL_EXCEPT_GLOBALS, type Safes, safesShape, type Scope, scopeShape } from '@old-echo/core/recall/scope-rules';
import { thresholdsShape } from '@old-echo/core/signal/thresholds';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { nextPlace } from '../database/next-place';
import type { DeskRow, SceneRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import type { AttemptLimit } from '../secrets/attempt-limit';
import { baselineView } from './baseline';
import { heardAt } from './last-heard';
import { assertBelongsToDesk } from './same-profile';
import { assertNotShowLocked } from './show-lock';
import { pinOf } from './show-lock-pin';

export const deskRows = (db: Database): Promise<DeskRow[]> => db('desks').orderBy('place');

/** @throws Fault `not-found` */
export async function deskRow(db: Database, id: string): Promise<DeskRow> {
  const row = await db('desks').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This desk no longer exists.', 'Choose one from the list of desks.');
  return row;
}

export const safesOf = (row: Pick<DeskRow, 'safes'>) => parseShape(safesShape, fromJson(row.safes));
export const thresholdsOf = (row: Pick<DeskRow, 'thresholds'>) => parseShape(thresholdsShape, fromJson(row.thresholds));

/** A desk with what stands on it. `link` comes from the session. */
export async function deskView(db: Database, row: DeskRow, link: DeskLinkView): Promise<DeskView> {
  const scene =
    row.current_scene_id === null
      ? undefined
      : await db('scenes')
          .where({ id: row.current_scene_id })
          .first(
            'id',
            'number',
            'name',
            'binned_at',
            'revision',
            { place: 'ordinal' },
            { productionId: 'production_id', versionId: 'version_id' },
          );
  const restore = await db('restores')
    .where({ desk_id: row.id })
    .orderBy('started_at', 'desc')
    .orderBy('id', 'desc')
    .first('id');
  return {
    id: row.id,
    name: row.name,
    profileId: row.profile_id,
    address: row.port === NOWHERE.port ? '' : `${row.host}:${row.port}`,
    removedAt: row.removed_at?.toISOString() ?? null,
    mode: row.mode,
    safes: safesOf(row),
    thresholds: thresholdsOf(row),
    showLock: row.show_lock === 1,
    hasPin: row.show_lock === 1 && row.pin_hash !== null,
    handHolds: row.hand_holds,
    link,
    heardAt: (await heardAt(db, row.id))?.toISOString() ?? null,
    baseline: await baselineView(db, row),
    scene: scene ? { ...standing(scene), isUndoable: await isUndoable(db, row.id, scene) } : null,
    worksOn: row.works_on_id,
    atHand: await scenesAtHand(db, row.id),
    swap: await swapOf(db, row),
    lastRestoreId: restore?.id ?? null,
  };
}

/**
 * The other side of a desk's swap, or null where there is none. A desk that works on another song or show than stands on it swaps
 * to the scene captured last there.
 */
export async function swapOf(db: Database, row: DeskRow): Promise<DeskView['swap']> {
  const chosen = row.swap_scene_id === null ? undefined : await db('scenes').where({ id: row.swap_scene_id }).first();
  const { id: deskId, works_on_id: worksOn } = row;
  const isElsewhere =
    worksOn !== null && chosen?.production_id !== worksOn && (await isOpenOn(db, { deskId, productionId: worksOn }));
  const scene = isElsewhere ? await lastCaptured(db, worksOn) : chosen;
  if (!scene) return null;
  const { id, number, name, kind } = scene;
  return {
    id,
    number: number ?? 0,
    name,
    wayBack: kind === 'way back' ? await leftBehind(db, scene) : null,
    scope: scopeIn(isElsewhere ? null : row.swap_scope),
  };
}

/** The scene captured last for a song or show. */
const lastCaptured = (db: Database, productionId: string): Promise<SceneRow | undefined> =>
  db('scenes')
    .where({ production_id: productionId, kind: 'scene' })
    .whereNull('binned_at')
    .orderBy('ordinal', 'desc')
    .first();

/** What a way back leads back to. */
async function leftBehind(
  db: Database,
  { id, name, changed_settings }: Pick<SceneRow, 'id' | 'name' | 'changed_settings'>,
): Promise<SwapSide['wayBack']> {
  const stood = await db('scene_parents')
    .join('scenes', 'scenes.id', 'scene_parents.parent_id')
    .where({ scene_id: id })
    .orderBy('place')
    .first<Pick<SceneRow, 'number' | 'name'> | undefined>('number', 'name');
  return { number: stood?.number ?? 0, name: stood?.name ?? name, moved: stood ? changed_settings : 0 };
}

type StandingRow = Omit<NonNullable<DeskView['scene']>, 'binned' | 'number' | 'isUndoable'> & {
  readonly number: number | null;
  readonly binned_at: Date | null;
};

/** Whether a scene took the place of another from a desk, and neither was changed since. */
const isUndoable = async (db: Database, deskId: string, { id, revision }: StandingRow): Promise<boolean> =>
  revision === 1 &&
  (await db('scene_replacements')
    .join('scenes', 'scenes.id', 'scene_replacements.replaced_id')
    .where({ desk_id: deskId, scene_id: id })
    .whereNotNull('binned_at')
    .first('scene_id')) !== undefined;

const standing = ({ binned_at, number, ...scene }: StandingRow) => ({
  ...scene,
  number: number ?? 0,
  binned: binned_at !== null,
});

/** The scenes at hand of a desk in order, without those in the bin. */
async function scenesAtHand(db: Database, deskId: string): Promise<DeskView['atHand']> {
  const rows = await db('scenes_at_hand')
    .join('scenes', 'scenes.id', 'scenes_at_hand.scene_id')
    .where({ desk_id: deskId })
    .whereNull('binned_at')
    .orderBy('place')
    .select<(Omit<DeskView['atHand'][number], 'scope'> & Pick<SceneRow, 'scope'>)[]>(
      'scenes.id',
      'number',
      'name',
      'scope',
      {
        productionId: 'production_id',
      },
    );
  return rows.map(({ scope, ...scene }) => ({ ...scene, scope: scopeIn(scope) }));
}

/** What comes back of a scene unless something else is asked for. */
const scopeIn = (scope: DeskRow['swap_scope']): Scope =>
  scope ? parseShape(scopeShape, fromJson(scope)) : ALL_EXCEPT_GLOBALS;

type AddedDesk = Pick<DeskRow, 'id' | 'name' | 'profile_id' | 'host' | 'port' | 'mode'>;

/** Enters a desk behind the others. */
export async function addDesk(tx: Database, desk: AddedDesk, safes: Safes = []): Promise<void> {
  await tx('desks').insert({ ...desk, safes: toJson(safes), place: await nextPlace(tx, 'desks') });
}

/** Takes safes over on a desk that has none yet. */
export const setFirstSafes = (tx: Database, deskId: string, safes: Safes): Promise<unknown> =>
  tx('desks')
    .where({ id: deskId, safes: toJson([]) })
    .update({ safes: toJson(safes) });

/** Takes scenes over at hand on a desk that has none there yet. */
export async function setFirstScenesAtHand(tx: Database, deskId: string, scenes: readonly string[]): Promise<void> {
  if (scenes.length === 0 || (await tx('scenes_at_hand').where({ desk_id: deskId }).first('scene_id'))) return;
  await tx('scenes_at_hand').insert(scenes.map((scene_id, place) => ({ desk_id: deskId, scene_id, place })));
}

/** Says which scene a desk swaps to, with all of it. */
export const setSwapTo = (tx: Database, deskId: string, sceneId: string | null): Promise<unknown> =>
  tx('desks').where({ id: deskId }).update({ swap_scene_id: sceneId, swap_scope: null });

/** Wherever a scene is at hand or to be swapped to, another takes its place. */
export async function replaceAtDesks(tx: Database, from: string, to: string): Promise<void> {
  await tx('scenes_at_hand').where({ scene_id: from }).update({ scene_id: to });
  await tx('desks').where({ swap_scene_id: from }).update({ swap_scene_id: to });
}

/** Keeps exactly these scenes at hand on a desk, in this order. @throws Fault `refused-input` for a scene of another desk */
export async function setScenesAtHand(db: Database, deskId: string, ids: readonly string[]): Promise<void> {
  const desk = await deskRow(db, deskId);
  await assertBelongsToDesk(db, desk, ids, 'ids');
  await inTransaction(db, async (tx) => {
    await tx('scenes_at_hand').where({ desk_id: deskId }).delete();
    if (ids.length > 0)
      await tx('scenes_at_hand').insert(ids.map((scene_id, place) => ({ desk_id: deskId, scene_id, place })));
  });
}

/** Whether a song or show is one of a desk, and not in the bin. */
const isOpenOn = async (db: Database, of: { deskId: string; productionId: string }): Promise<boolean> =>
  (await db('productions').where({ id: of.productionId, desk_id: of.deskId }).whereNull('binned_at').first('id')) !==
  undefined;

/** @throws Fault `refused-input` where the song or show is gone, in the bin or on another desk */
async function assertOnDesk(db: Database, desk: DeskRow, productionId: string): Promise<void> {
  if (await isOpenOn(db, { deskId: desk.id, productionId })) return;
  throw new Fault(
    'refused-input',
    `The song or show is gone, or not on ${desk.name}.`,
    `Nothing was changed. Choose one of ${desk.name}.`,
    'worksOn',
  );
}

/**
 * Changes a desk's own settings. While its show lock is on, what a show relies on stays: mode, thresholds, safes, and who wins.
 * @throws Fault `refused-input` where the scene to swap to, or the song or show to work on, is gone or of another desk; `show-lock`,
 * `wrong-secret` and `try-later` where the lock is lifted by a PIN
 */
export async function editDesk(db: Database, id: string, edit: DeskEdit, pins: AttemptLimit): Promise<void> {
  const { mode, safes, thresholds, showLock, swapTo, handHolds, worksOn } = edit;
  const desk = await deskRow(db, id);
  // Lifting the lock is a step of its own, never the side of another.
  if ([mode, safes, thresholds, handHolds].some((value) => value !== undefined)) assertNotShowLocked(desk);
  if (swapTo !== undefined) await assertBelongsToDesk(db, desk, [swapTo], 'swapTo');
  if (worksOn) await assertOnDesk(db, desk, worksOn);
  const pinHash = await pinOf(desk, edit, pins);
  const columns = {
    ...(pinHash === undefined ? {} : { pin_hash: pinHash }),
    ...(mode ? { mode } : {}),
    ...(handHolds ? { hand_holds: handHolds } : {}),
    ...(safes ? { safes: toJson(safes) } : {}),
    ...(thresholds ? { thresholds: toJson(thresholds) } : {}),
    ...(showLock === undefined ? {} : { show_lock: showLock }),
    ...(swapTo === undefined ? {} : { swap_scene_id: swapTo, swap_scope: null }),
    ...(worksOn === undefined ? {} : { works_on_id: worksOn }),
  };
  await inTransaction(db, async (tx) => {
    if (Object.keys(columns).length > 0) await tx('desks').where({ id }).update(columns);
    // Who swaps to a scene of another song or show does not work on this one.
    if (swapTo !== undefined)
      await tx('desks')
        .where({ id })
        .whereNotIn('works_on_id', tx('scenes').select('production_id').where({ id: swapTo }))
        .update({ works_on_id: null });
  });
}

/** Pause before a desk that is only read is looked at again, in ms. */
const LOOK_AGAIN_MS = 50;

/**
 * Takes the desk for one restore, or to read it whole, for `lease` ms. The database decides, so that two servers cannot both have it.
 * Whoever reads it is waited for, until also the lease of one that ended in the middle of reading has run out.
 * @throws Fault `desk-busy` while a restore holds it: who is at work, on what and for how long
 */
export async function acquireLease(db: Database, deskId: string, by: string, lease: number): Promise<void> {
  for (const until = performance.now() + lease + LOOK_AGAIN_MS; ;) {
    const taken = await db('desks')
      .where({ id: deskId })
      .andWhere((free) => free.whereNull('lease_until').orWhere('lease_until', '<', db.raw('UTC_TIMESTAMP(3)')))
      .update({ lease_holder_id: by, lease_until: leaseEnd(db, lease) });
    if (taken > 0) return;
    const who = await describeLeaseHolder(db, deskId);
    if (who !== undefined || performance.now() > until)
      throw new Fault(
        'desk-busy',
        who ?? 'Someone else has been using this desk for longer than usual.',
        'Nothing was sent or captured. Wait until they are done, then try again.',
      );
    await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
  }
}

/** Who restores what, or undefined where the desk is only read, or a restore is just beginning. */
async function describeLeaseHolder(db: Database, deskId: string): Promise<string | undefined> {
  const restore = await db('restores')
    .join('desks', 'desks.lease_holder_id', 'restores.id')
    .where('desks.id', deskId)
    .first('scene_name', 'scene_number', 'request', 'started_at');
  if (!restore) return undefined;
  const { by } = fromJson(restore.request);
  const seconds = Math.max(1, Math.round((new Date().getTime() - restore.started_at.getTime()) / 1000));
  const what = sceneTitle({ number: restore.scene_number, name: restore.scene_name });
  return `${by ? `${by} is` : 'Someone is'} restoring ${what} on this desk for ${seconds} s.`;
}

export const renewLease = (db: Database, deskId: string, by: string, lease: number): Promise<number> =>
  db('desks')
    .where({ id: deskId, lease_holder_id: by })
    .update({ lease_until: leaseEnd(db, lease) });

export const releaseLease = (db: Database, deskId: string, by: string): Promise<number> =>
  db('desks').where({ id: deskId, lease_holder_id: by }).update({ lease_holder_id: null, lease_until: null });

const leaseEnd = (db: Database, lease: number) => db.raw('UTC_TIMESTAMP(3) + INTERVAL ? MICROSECOND', [lease * 1000]);

/** Lets the show lock be lifted without its PIN. @throws Fault `not-found` */
export async function forgetPin(db: Database, id: string): Promise<void> {
  await deskRow(db, id);
  await db('desks').where({ id }).update({ pin_hash: null });
}
