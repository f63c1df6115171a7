import { Fault } from '@old-echo/core/contracts/fault';
import type {
  RestoreProgress,
  RestoreReport,
  RestoreRequest,
  RestoreView,
  Unconfirmed,
} from '@old-echo/core/contracts/restore';
import type { Value } from '@old-echo/core/desk/setting';
import { stripName, valueAt } from '@old-echo/core/desk/state';
import { STAGES, type Stage } from '@old-echo/core/preview/order';
import type { PlannedChange, Preview } from '@old-echo/core/preview/preview';
import { EVERYTHING, type Scope } from '@old-echo/core/scope/rules';
import { fingerprint } from '@old-echo/core/scene/fingerprint';
import { ulid } from 'ulid';

import type { Database } from '../database/connect';
import { deskRow, endLease, standOn } from '../desks/store';
import type { Live } from '../live/live';
import { endRestore, insertRestore, restoreView } from '../restores/store';
import { insertScene, sceneView } from '../scenes/store';
import type { DeskSession } from '../sessions/session';
import { parentIn } from './capture';
import { confirm, stands } from './confirm';
import { holdDesk } from './hold';
import { HandWatch } from './hand-watch';
import { previewRestore } from './plan';

export interface RunnerTools {
  readonly db: Database;
  readonly live: Live;
  readonly session: DeskSession;
}

/** Pause after phantom power was switched, in ms: supplies and microphones need a moment before they are opened. */
const PHANTOM_SETTLES = 300;

/**
 * Begins a restore: takes the desk, makes sure that the preview still holds, keeps the way back and writes the journal.
 * Only then does it send anything, and returns while that goes on.
 * @throws Fault `desk-busy`, `desk-moved`, `link-lost`
 */
export async function startRestore(tools: RunnerTools, request: RestoreRequest): Promise<RestoreView> {
  const { db, live, session } = tools;
  const id = ulid();
  const scene = await sceneView(db, request.sceneId);
  const letGo = await holdDesk(db, session.deskId, id);
  try {
    const now = await session.capture();
    const plan = await previewRestore(db, session, scene.id, request.scope);
    if (plan.fingerprint !== request.fingerprint)
      throw new Fault(
        'desk-moved',
        'The desk moved since the preview.',
        'Nothing was sent. Look at the preview again.',
      );
    const desk = await deskRow(db, session.deskId);
    const wayBack = await insertScene(db, session.profile, {
      versionId: scene.versionId,
      name: `Way back, before restore of ${scene.number}`,
      note: '',
      milestone: '',
      kind: 'way back',
      parents: await parentIn(db, scene.productionId, desk.scene_id),
      state: now,
      madeAt: new Date(),
    });
    await insertRestore(db, {
      id,
      deskId: session.deskId,
      sceneId: scene.id,
      wayBackId: wayBack.id,
      scope: request.scope,
      wayBackScope: wayBackScope(request.scope, plan),
      plan,
    });
    const view = await restoreView(db, id);
    void run(tools, view, plan)
      .then((report) => finish(tools, id, request, desk.scene_id, report))
      // What cannot be written now stays "running" in the journal, and is found there when its lease has run out.
      .catch((error: unknown) => live.log.error(error, 'the end of a restore could not be written'))
      .finally(letGo);
    await live.deskChanged(session.deskId);
    return view;
  } catch (error) {
    await letGo();
    throw error;
  }
}

async function finish(
  { db, live, session }: RunnerTools,
  id: string,
  request: RestoreRequest,
  stoodBefore: string | null,
  report: RestoreReport,
): Promise<void> {
  const complete = report.unconfirmed.length === 0 && report.leftMuted.length === 0;
  const standing = await standsAfter(db, stoodBefore, request, report);
  // At once, so that whoever sees that it has ended can begin the next, and nobody sees it without its desk.
  await db.transaction(async (tx) => {
    await endRestore(tx, id, complete ? 'confirmed' : 'incomplete', report);
    await standOn(tx, session.deskId, standing);
    await endLease(tx, session.deskId, id);
  });
  const { productionId } = await sceneView(db, request.sceneId);
  live.restoreChanged(await restoreView(db, id));
  await Promise.all([live.deskChanged(session.deskId), live.scenesChanged(productionId)]);
}

/** The scope of the restore, and the mutes of the strips that are muted on the way. */
const wayBackScope = (scope: Scope, plan: Preview): Scope =>
  plan.guarded.length === 0 ? scope : [...scope, { strips: [...plan.guarded], sections: ['mute'], take: true }];

/**
 * Which scene stands on the desk afterwards: the restored one when all of it came back; after a way back the scene
 * that stood there before; else the one that stood there already, with what came back as drift.
 */
async function standsAfter(
  db: Database,
  before: string | null,
  request: RestoreRequest,
  report: RestoreReport,
): Promise<string | null> {
  const scene = await sceneView(db, request.sceneId);
  if (scene.kind === 'way back') return scene.parents[0] ?? before;
  const whole = fingerprint(request.scope) === fingerprint(EVERYTHING);
  return before === null || (whole && report.unconfirmed.length === 0) ? scene.id : before;
}

/** Sends a plan stage by stage. Never throws: whatever goes wrong is in the report. */
async function run({ live, session }: RunnerTools, view: RestoreView, plan: Preview): Promise<RestoreReport> {
  const started = Date.now();
  const confirmed = new Set<string>();
  const failures = new Map<string, Unconfirmed>();
  const hands = new HandWatch(session, plan, new Set(plan.guarded.map(muteOf)));
  const tell = (progress: RestoreProgress) => live.restoreChanged({ ...view, progress });
  try {
    for (const stage of STAGES) {
      const batches = batchesOf(stage, plan);
      const total = batches.reduce((n, batch) => n + batch.length, 0);
      let before = 0;
      for (const batch of batches) {
        hands.sending(batch);
        const failed = await confirm(session, Object.fromEntries(batch), {
          leaveAlone: hands.leaveAlone,
          onProgress: (done) => tell({ stage, done: before + done, total }),
        });
        for (const [address] of batch) if (!hands.leaveAlone(address)) confirmed.add(address);
        for (const failure of failed) failures.set(failure.address, failure);
        for (const failure of failed) confirmed.delete(failure.address);
        before += batch.length;
      }
      if (batches.flat().some(([address]) => address.endsWith('/preamp/phantom')))
        await new Promise((resolve) => setTimeout(resolve, PHANTOM_SETTLES));
    }
    tell({ stage: 'verify', done: 0, total: plan.changes.length });
    await verify(session, plan, hands, failures);
  } catch (error) {
    const why = error instanceof Fault ? error.message : 'Old Echo failed in the middle of it.';
    if (!(error instanceof Fault)) live.log.error(error, 'restore failed');
    for (const change of plan.changes)
      if (!confirmed.has(change.address) && !failures.has(change.address))
        failures.set(change.address, failure(change, valueAt(session.state, change.address), why));
  } finally {
    hands.stop();
  }
  const names = (strips: Iterable<string>) =>
    [...strips].map((strip) => stripName(session.profile, session.state, strip));
  const unconfirmed = plan.changes.flatMap((c) => failures.get(c.address) ?? []);
  return {
    confirmed: plan.changes.length - unconfirmed.length,
    unconfirmed,
    handled: names(hands.strips),
    leftMuted: names(plan.guarded.filter((strip) => valueAt(session.state, muteOf(strip)) === true)),
    milliseconds: Date.now() - started,
  };
}

const muteOf = (strip: string): string => `${strip}/mute/on`;

/** What a stage sends, in batches of which each is confirmed before the next: what falls comes before what rises. */
function batchesOf(stage: Stage, plan: Preview): (readonly [string, Value])[][] {
  const changes = plan.changes.filter((c) => c.stage === stage);
  const rises = (c: PlannedChange) => typeof c.from === 'number' && typeof c.to === 'number' && c.to > c.from;
  const pairs = (list: readonly PlannedChange[]) => list.map((c) => [c.address, c.to] as const);
  const batches = [pairs(changes.filter((c) => !rises(c))), pairs(changes.filter(rises))];
  const guards = plan.guarded.map(muteOf);
  if (stage === 'guard') batches[0]?.push(...guards.map((address) => [address, true] as const));
  if (stage === 'release') batches[1]?.push(...guards.map((address) => [address, false] as const));
  return batches.filter((batch) => batch.length > 0);
}

/** Reads every setting of the preview back once more, at the end. */
async function verify(
  session: DeskSession,
  plan: Preview,
  hands: HandWatch,
  failures: Map<string, Unconfirmed>,
): Promise<void> {
  const found = await session.wire.read(plan.changes.map((c) => c.address));
  for (const change of plan.changes) {
    const { address, to, strip } = change;
    if (stands(session, address, to, found[address])) failures.delete(address);
    else if (hands.strips.has(strip))
      failures.set(
        address,
        failure(change, found[address], 'A hand on the desk moved this strip, so it was left alone.'),
      );
    else if (!failures.has(address))
      failures.set(address, failure(change, found[address], 'It was taken, then moved again.'));
  }
}

const failure = ({ address, to }: PlannedChange, found: Value | undefined, why: string): Unconfirmed => ({
  address,
  wanted: to,
  found: found ?? null,
  why,
});
