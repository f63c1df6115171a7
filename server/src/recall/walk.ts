import type { RestoreReport, RestoreView, Unconfirmed } from '@old-echo/core/contracts/restore';
import { isManual } from '@old-echo/core/desk/manual';
import type { Profile } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import { displayName, valueAt } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import type { PlannedChange, Preview } from '@old-echo/core/recall/planned-changes';
import type { Journal } from '@old-echo/core/recall/recall-target';
import { type WalkItem, type WalkMark, type WalkMarks, walkStops, withMarks } from '@old-echo/core/recall/walk';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson, toJson } from '../database/json-column';
import type { RestoreRow, WalkPlan } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { untilWritten } from '../database/until-written';
import type { DeskMirror } from '../desk/desk-mirror';
import { deskRow, releaseLease } from '../desk/desk-store';
import { assertNotShowLocked } from '../desk/show-lock';
import { matches } from '../desk/write-and-verify';
import { finishRestore } from './finish-restore';
import { marksOf, requestOf, restoreRow, restoreView } from './restore-store';
import type { RunnerTools } from './restore-tools';

type WalkTools = Pick<RunnerTools, 'db' | 'live' | 'session'>;

/** A plan without what is set by hand; the same one where it has none of that. */
export const wiredOnly = (profile: Profile, plan: Preview): Preview =>
  plan.changes.some(({ strip }) => isManual(profile, strip))
    ? {
        ...plan,
        changes: plan.changes.filter(({ strip }) => !isManual(profile, strip)),
        guarded: plan.guarded.filter((strip) => !isManual(profile, strip)),
      }
    : plan;

/**
 * Leaves a restore to people once all that is wired is done. The desk is let go of: a walk may last for hours, and whoever restores
 * something else meanwhile ends it.
 */
export async function beginWalk(
  { db, live, session }: WalkTools,
  { id }: RestoreView,
  wired: RestoreReport,
  plan: WalkPlan,
): Promise<void> {
  await untilWritten(() =>
    db.transaction(async (tx) => {
      await tx('restores')
        .where({ id })
        .update({ status: 'walk', report: toJson(wired), walk: toJson(plan), walk_marks: toJson({}) });
      await releaseLease(tx, session.deskId, id);
    }),
  );
  live.restoreChanged(await restoreView(db, id));
  await live.deskChanged(session.deskId);
}

/**
 * Notes what people said of settings that they set by hand: one that was set stands there from now on, one that is taken back
 * stands where it was before.
 * @throws Fault `conflict` once the walk has ended, `refused-input` for what is no part of it, `show-lock`
 */
export async function markWalk(
  { db, live, session }: WalkTools,
  id: string,
  marks: Readonly<Record<string, WalkMark | null>>,
): Promise<RestoreView> {
  const row = await openWalk(db, id);
  assertNotShowLocked(await deskRow(db, session.deskId));
  const items = new Map(itemsOf(session.profile, fromJson(row.journal)).map((item) => [item.id, item]));
  const before = marksOf(row);
  const entered: Record<string, Value> = {};
  for (const [item, mark] of Object.entries(marks)) {
    const change = items.get(item)?.change;
    if (!change)
      throw new Fault(
        'refused-input',
        'That is no part of this walk.',
        'Nothing was noted. Load the page again.',
        `marks.${item}`,
      );
    if (mark === 'set') entered[change.address] = change.to;
    else if (before[item] === 'set') entered[change.address] = change.from;
  }
  // First where it stands, then that it was said: said once more, it is what it was.
  session.movedByPerson(entered);
  await session.wire.write(entered);
  await inTransaction(db, async (tx) => {
    const all = withMarks(marksOf(await openWalk(tx, id, 'held')), marks);
    await tx('restores')
      .where({ id })
      .update({ walk_marks: toJson(all) });
  });
  const view = await restoreView(db, id);
  live.restoreChanged(view);
  return view;
}

/** The report of a restore that was stopped before it came to what is set by hand. */
export const withoutWalk = (session: DeskMirror, plan: Preview, wired: RestoreReport): RestoreReport =>
  wiredOnly(session.profile, plan) === plan
    ? wired
    : walkReport(session, { ...plan, guarded: [] }, wired, {}, 'Stopped before it was set by hand.');

/** Ends a walk, and says what became of it. @throws Fault `conflict` once it has ended */
export async function endWalk(tools: WalkTools, id: string, why = 'Skipped in the walk.'): Promise<RestoreView> {
  const { db, session } = tools;
  const row = await openWalk(db, id);
  // Whoever takes it away from the others ends it; what breaks off from here on is found as interrupted.
  const taken = await db('restores').where({ id, status: 'walk' }).update({ status: 'running' });
  if (taken === 0) throw hasEnded();
  const view = await restoreView(db, id);
  // What another server was told counts as well.
  await session.wire.caughtUp().catch(() => undefined);
  const report = walkReport(session, fromJson(row.journal), fromJson(found(row.report)), marksOf(row), why);
  const isWhole = report.unconfirmed.length === 0 && report.leftMuted.length === 0;
  await finishRestore(tools, view, requestOf(row), {
    ...fromJson(found(row.walk)),
    report,
    status: isWhole ? 'confirmed' : 'incomplete',
  });
  return restoreView(db, id);
}

/** Ends the walk of a desk that something else is restored to, where there is one. */
export async function endWalkBefore(tools: WalkTools): Promise<void> {
  const { db, session } = tools;
  const open = await db('restores').where({ desk_id: session.deskId, status: 'walk' }).pluck('id');
  for (const id of open) await endWalk(tools, id, 'Something else was restored before it was set.');
}

const itemsOf = (profile: Profile, journal: Journal): WalkItem[] =>
  walkStops(profile, journal).flatMap(({ items }) => items);

/** @throws Fault `conflict` once it has ended */
async function openWalk(db: Database, id: string, held?: 'held'): Promise<RestoreRow> {
  if (held) await db('restores').where({ id }).forUpdate().first('id');
  const row = await restoreRow(db, id);
  if (row.status !== 'walk') throw hasEnded();
  return row;
}

const hasEnded = (): Fault =>
  new Fault('conflict', 'This walk has ended.', 'Look at its report; the way back leads to before it.');

/** What became of all of a restore: what was read back, and what people said. */
function walkReport(
  session: DeskMirror,
  { changes, guarded }: Journal,
  wired: RestoreReport,
  marks: WalkMarks,
  why: string,
): RestoreReport {
  const { profile, state } = session;
  const items = walkStops(profile, { changes, guarded: [] }).flatMap((stop) => stop.items);
  const isThere = ({ address, to }: PlannedChange) => matches(session, address, to, valueAt(state, address));
  const whyNot = (mark: WalkMark | undefined): string =>
    mark === 'could not' ? 'Could not be set by hand.' : mark === 'set' ? 'Set, then moved again.' : why;
  const left = items
    .filter(({ change }) => !isThere(change))
    .map(({ id, change: { address, to } }): Unconfirmed => {
      return { address, wanted: to, found: valueAt(state, address) ?? null, why: whyNot(marks[id]) };
    });
  const stillMuted = guarded.filter((strip) => isManual(profile, strip) && valueAt(state, `${strip}/mute/on`) === true);
  return {
    ...wired,
    byHand: items.flatMap(({ change }) => (isThere(change) ? [change.address] : [])),
    unconfirmed: [...wired.unconfirmed, ...left],
    leftMuted: [...wired.leftMuted, ...stillMuted.map((strip) => displayName(profile, state, strip))],
  };
}
