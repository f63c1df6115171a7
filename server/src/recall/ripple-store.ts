import type { RipplePreview, RippleRequest, RippleView } from '@old-echo/core/contracts/ripple';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { readAddress } from '@old-echo/core/desk/address';
import { acceptOffsets, offsetBy } from '@old-echo/core/desk/batch-edit';
import { diffStates } from '@old-echo/core/desk/diff-states';
import type { Profile } from '@old-echo/core/desk/profile';
import { type SettingsByAddress, type State, validateSettings, valueAt, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import type { RippleRow, RippleSceneRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { deskRow } from '../desk/desk-store';
import { readStoredProfile } from '../desk/profile-store';
import { assertBelongsToDesk } from '../desk/same-profile';
import { loadStrips } from '../desk/scene-states';
import { assertNotShowLocked } from '../desk/show-lock';
import { claimJob, jobWithResult } from '../jobs/job-store';
import { type JobTools, runJob } from '../jobs/run-job';
import { writeEdited } from '../scenes/insert-scene';
import { binIfUnchanged, protectedFault, takeOutOfBin } from '../scenes/scene-bin';
import { editConflict, sceneView } from '../scenes/scene-store';
import { swapIn } from '../scenes/swap-in';

/** How often it is told how far a ripple is, in scenes. */
const REPORT_EVERY = 10;

/**
 * Begins to write values into scenes, all of them or none, and returns while that goes on. Each scene as it was goes to the
 * bin; one with the values, under its name, number and words, takes its place.
 * @param applied told once all of them are written
 * @throws Fault `show-lock`, `refused-input`, `protected`, `conflict` where one was changed or binned meanwhile; what turns out
 * only while it is written fails the job
 */
export async function startRipple(
  tools: JobTools,
  deskId: string,
  request: RippleRequest,
  applied: (id: string) => Promise<void>,
): Promise<RippleView> {
  const { db } = tools;
  const desk = await deskRow(db, deskId);
  assertNotShowLocked(desk);
  const profile = await readStoredProfile(db, desk.profile_id);
  const edit = editOf(profile, request);
  await assertBelongsToDesk(db, desk, idsOf(request), 'scenes');
  await assertAsSeen(db, request);
  const id = newId();
  await claimJob(db, id, request.scenes.length);
  runJob(tools, id, 'Something went wrong. No scene was changed.', async (report) => {
    await inTransaction(db, async (tx) => {
      await tx('ripples').insert({ id, desk_id: deskId, made_by: request.by, made_at: new Date() });
      for (const [done, { id: old, revision }] of request.scenes.entries()) {
        if (done % REPORT_EVERY === 0) await report(done, request.scenes.length);
        await tx('ripple_scenes').insert({
          ripple_id: id,
          replaced_id: old,
          scene_id: await writeInto(tx, profile, old, revision, edit),
        });
      }
      assertNotShowLocked(await deskRow(tx, deskId));
    });
    await applied(id);
  });
  return rippleView(db, id);
}

/** Whether every scene is still as it was when it was chosen. @throws Fault `protected`, `conflict` */
async function assertAsSeen(db: Database, { scenes }: RippleRequest): Promise<void> {
  const rows = await db('scenes')
    .whereIn(
      'id',
      scenes.map(({ id }) => id),
    )
    .select('id', 'number', 'name', 'revision', 'protected', 'binned_at');
  const now = new Map(rows.map((row) => [row.id, row]));
  for (const { id, revision } of scenes) {
    const row = now.get(id);
    if (row?.protected === 1) throw protectedFault(row);
    if (row && (row.revision !== revision || row.binned_at !== null)) throw editConflict(row.name);
  }
}

/** Puts a scene with the values in the place of one; returns its id. @throws Fault `protected`, `conflict` */
async function writeInto(tx: Database, profile: Profile, old: string, revision: number, edit: Edit): Promise<string> {
  const scene = await sceneView(tx, old);
  if (scene.protected) throw protectedFault(scene);
  if (scene.kind !== 'scene' || !(await binIfUnchanged(tx, old, revision))) throw editConflict(scene.name);
  const { versionId, name, note, milestone, tags } = scene;
  const made = newId();
  const meta = { versionId, name, note, milestone, tags, kind: 'scene' as const };
  await writeEdited(tx, profile, made, { ...meta, parents: [old], madeAt: new Date(scene.madeAt) }, scene, edit);
  await swapIn(tx, old, made);
  return made;
}

/** The strips that an edit touches, and what it makes of a scene's. */
interface Edit {
  readonly strips: readonly string[];
  readonly edited: (strips: State) => State;
}

const held = (strips: State, settings: SettingsByAddress): SettingsByAddress =>
  Object.fromEntries(Object.entries(settings).filter(([address]) => valueAt(strips, address) !== undefined));

/** The strips that a request touches, and what it makes of a scene's. @throws Fault `refused-input` */
function editOf(profile: Profile, request: RippleRequest): Edit {
  const settings = validateSettings(profile, request.settings);
  const offsets = acceptOffsets(profile, request.offsets);
  const addresses = [...Object.keys(settings), ...Object.keys(offsets)];
  return {
    strips: [...new Set(addresses.flatMap((address) => readAddress(address)?.strip ?? []))],
    // What a scene lacks, because only a part of it came to this desk, is not put into it.
    edited: (strips: State): State =>
      withSettings(strips, { ...held(strips, settings), ...offsetBy(profile, strips, offsets) }),
  };
}

/** What {@link startRipple} would change, scene by scene. @throws Fault `not-found`, `refused-input` */
export async function previewRipple(db: Database, deskId: string, request: RippleRequest): Promise<RipplePreview[]> {
  const desk = await deskRow(db, deskId);
  const profile = await readStoredProfile(db, desk.profile_id);
  const { strips, edited } = editOf(profile, request);
  await assertBelongsToDesk(db, desk, idsOf(request), 'scenes');
  const previews: RipplePreview[] = [];
  for (const { id } of request.scenes) {
    const before = await loadStrips(db, id, strips);
    previews.push({ id, changes: diffStates(profile, before, edited(before)) });
  }
  return previews;
}

/**
 * Puts every scene of a ripple back as it was, all of them or none.
 * @throws Fault `show-lock`, `not-found`, `conflict` where it was undone already, or a scene was changed or binned since
 */
export async function undoRipple(db: Database, id: string): Promise<RippleView> {
  await inTransaction(db, async (tx) => {
    const { desk_id } = await rippleRow(tx, id);
    assertNotShowLocked(await deskRow(tx, desk_id));
    const undone = await tx('ripples').where({ id }).whereNull('undone_at').update({ undone_at: new Date() });
    if (undone === 0) throw new Fault('conflict', 'This was already undone.', 'There is nothing left to undo.');
    for (const { replaced_id, scene_id } of await scenesOf(tx, id)) {
      const { name, number } = await sceneView(tx, scene_id);
      // Whatever was written about the new one since would be lost.
      if (!(await binIfUnchanged(tx, scene_id, 1)))
        throw new Fault(
          'conflict',
          `${sceneTitle({ number, name })} was changed since.`,
          'Nothing was undone. The scenes as they were are in the bin, one by one.',
        );
      await takeOutOfBin(tx, replaced_id);
      await swapIn(tx, scene_id, replaced_id);
    }
  });
  return rippleView(db, id);
}

async function rippleRow(db: Database, id: string): Promise<Pick<RippleRow, 'desk_id' | 'undone_at'>> {
  const row = await db('ripples').where({ id }).first('desk_id', 'undone_at');
  if (!row) throw new Fault('not-found', 'This change no longer exists.', 'Go back to the mixes.');
  return row;
}

const scenesOf = async (db: Database, id: string): Promise<RippleSceneRow[]> =>
  await db('ripple_scenes').where({ ripple_id: id }).orderBy('replaced_id');

const STOPPED = 'Old Echo stopped during it. No scene was changed; try again.';

/** How far a ripple is, and what it made. @throws Fault `not-found` */
export async function rippleView(db: Database, id: string): Promise<RippleView> {
  const [job, [row, scenes]] = await jobWithResult(db, id, STOPPED, () =>
    Promise.all([db('ripples').where({ id }).first('undone_at'), scenesOf(db, id)]),
  );
  // Those of earlier days were no jobs.
  const known = job ?? (row && { status: 'done' as const, done: scenes.length, total: scenes.length, why: '' });
  if (!known) throw new Fault('not-found', 'This change no longer exists.', 'Go back to the mixes.');
  const made = scenes.map(({ replaced_id, scene_id }) => ({ old: replaced_id, id: scene_id }));
  return { ...known, id, scenes: made, undone: (row?.undone_at ?? null) !== null };
}

const idsOf = ({ scenes }: RippleRequest): string[] => scenes.map(({ id }) => id);

/** The productions whose scenes a ripple touched. */
export const productionsOf = async (db: Database, id: string): Promise<string[]> =>
  await db('ripple_scenes')
    .join('scenes', 'scenes.id', 'ripple_scenes.replaced_id')
    .where({ ripple_id: id })
    .distinct('production_id')
    .pluck<string[]>('production_id');
