import type {
  CancelAction,
  RestoreProgress,
  RestoreReport,
  RestoreRequest,
  RestoreView,
  Unconfirmed,
} from '@old-echo/core/contracts/restore';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { cannotBeAsked } from '@old-echo/core/desk/link-map/link-map';
import { displayName, valueAt, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { type CautionReading, describeCaution, readingOf } from '@old-echo/core/phrases/describe-caution';
import { fullSettingName } from '@old-echo/core/phrases/format-value';
import type { Caution, Point } from '@old-echo/core/recall/caution';
import { type Answering, answerTo, openStops } from '@old-echo/core/recall/caution-answers';
import type { FadeCurve } from '@old-echo/core/recall/fade-curves';
import { asideOf, jumpsOf } from '@old-echo/core/recall/fade-jumps';
import type { Preview } from '@old-echo/core/recall/planned-changes';
import { preview } from '@old-echo/core/recall/preview';
import { journalEndState } from '@old-echo/core/recall/recall-target';
import { stepsOf } from '@old-echo/core/recall/restore-steps';
import { ALL_WITH_GLOBALS, type Safes } from '@old-echo/core/recall/scope-rules';
import type { Step } from '@old-echo/core/recall/step';
import { replacedBy } from '@old-echo/core/scenes/baseline';

import { newId } from '../database/new-id';
import { undamagedBaseline } from '../desk/baseline';
import { acquireDesk, type DeskLease } from '../desk/desk-lease';
import type { DeskMirror } from '../desk/desk-mirror';
import { deskRow, safesOf } from '../desk/desk-store';
import { assertNotShowLocked } from '../desk/show-lock';
import { accept, acceptedIn } from './accepted-cautions';
import type { CancelRequest } from './cancel-requests';
import { executePlan, type ExecutionResult } from './execute-plan';
import { finishRestore, type Outcome } from './finish-restore';
import { ManualMoveDetector } from './manual-move-detector';
import { planRecall } from './plan-recall';
import { insertRestore, requestedCancel, restoreView } from './restore-store';
import type { RunnerTools } from './restore-tools';
import { beginWalk, endWalkBefore, wiredOnly, withoutWalk } from './walk';
import { captureWayBack, scopeOfPlan } from './way-back';

/** A restore on its way. */
interface ActiveRestore {
  readonly view: RestoreView;
  readonly plan: Preview;
  readonly steps: readonly Step[];
  readonly curve: FadeCurve;
  readonly hold: DeskLease;
  readonly control: CancelRequest;
  readonly hands: ManualMoveDetector;
  readonly safes: Safes;
}

/**
 * Begins a restore: takes the desk, makes sure that the preview still holds and that every *stop* was answered, keeps the
 * way back and writes the journal. Only then does it send anything, and returns while that goes on. Where its engineer was told meanwhile
 * that the database is silent, nothing is sent.
 * @throws Fault `show-lock`, `desk-busy`, `desk-moved`, `unanswered`, `link-lost`
 */
export async function startRestore(tools: RunnerTools, request: RestoreRequest): Promise<RestoreView> {
  const { db, live, session, tasks, controls } = tools;
  const id = newId();
  const control = controls.open(id);
  // Whichever server was asked to cancel it, this one looks for that whenever it renews its lease.
  const lookForCancel = async () => {
    const how = await requestedCancel(db, id);
    if (how) control.ask(how);
  };
  const hold = await acquireDesk(db, session.deskId, id, tools.lease, lookForCancel).catch((error: unknown) => {
    controls.close(id);
    throw error;
  });
  let hands: ManualMoveDetector | undefined;
  const release = async () => {
    controls.close(id);
    hands?.stop();
    await hold.release();
  };
  try {
    await session.syncUpToNow();
    const desk = await deskRow(db, session.deskId);
    assertNotShowLocked(desk);
    // From here on: what a hand moves after the plan was made is never sent over.
    const watch = (hands = new ManualMoveDetector(session, desk.hand_holds));
    const { preview: plan, scene, chosen } = await planRecall(db, session, request.recall, desk);
    if (request.fingerprint !== null && plan.fingerprint !== request.fingerprint)
      throw new Fault(
        'desk-moved',
        'What was asked for, or what is safe, changed since the preview.',
        'Nothing was sent. Look at the preview again.',
      );
    if (request.fingerprint === null && desk.mode === 'live')
      throw new Fault('unanswered', 'In live mode this needs its preview.', 'Hold the button there.');
    if (request.fingerprint === null && plan.changes.length === 0)
      throw new Fault(
        'no-difference',
        `The desk already holds what comes back of ${sceneTitle(scene)}.`,
        'Nothing was sent.',
      );
    const { sceneId } = request.recall;
    const transition =
      desk.current_scene_id && sceneId ? { deskId: desk.id, from: desk.current_scene_id, to: sceneId } : undefined;
    const reading = readingOf(session.profile, session.state, plan.changes);
    const answers = answersTo(plan, request, transition ? await acceptedIn(db, transition) : [], reading);
    const safes = safesOf(desk);
    // What is set by hand is left to people, once all that is wired is done.
    const wired = wiredOnly(session.profile, plan);
    const steps = stepsOf({ profile: session.profile, now: session.state, plan: wired, safes, fade: request.fade });
    const aside = asideOf(steps, wired);
    if (!tools.isAwaited())
      throw new Fault('try-later', 'Nobody waits for this restore any more.', 'Nothing was sent.');
    await endWalkBefore(tools);
    const wayBack = await captureWayBack(db, session, desk, request.recall, scene);
    await insertRestore(db, {
      id,
      deskId: session.deskId,
      scene,
      request,
      answered: answers.map(({ caution, way }) => ({
        title: describeCaution(caution, reading).title,
        weight: caution.weight,
        way,
      })),
      wayBackId: wayBack.id,
      wayBackScope: scopeOfPlan(plan, Object.keys(aside)),
      journal: { changes: plan.changes, guarded: plan.guarded, aside },
      replaces: replacedBy(await undamagedBaseline(db, session.deskId), chosen),
    });
    // Nothing moves after its engineer was told that it might not: what is in the log by now says that nothing was sent.
    if (!tools.isAwaited()) control.ask('stop');
    if (transition) await accept(db, transition, checkedPoints(answers));
    const view = await restoreView(db, id);
    // The current scene is used only if the way back descends from it without drift; otherwise the way back.
    const undrifted = wayBack.changed.settings === 0 && wayBack.parents[0] === desk.current_scene_id;
    const swapTo = undrifted ? desk.current_scene_id : wayBack.id;
    tasks.add(
      runRestore(tools, { view, plan: wired, steps, curve: request.curve, hold, control, hands: watch, safes })
        .then(async ({ status, report }) => {
          const end = { swapTo, production: wayBack.productionId, chosen };
          const isThrough = status === 'confirmed' || (status === 'incomplete' && control.requested === null);
          if (isThrough && wired !== plan) return beginWalk(tools, view, report, end);
          const all = status === 'rolled back' ? report : withoutWalk(session, plan, report);
          return finishRestore(tools, view, request, { ...end, status, report: all });
        })
        .finally(release)
        // What cannot be written now stays "running" in the journal, and is found there when its lease has run out.
        .catch((error: unknown) => live.log.error(error, 'the end of a restore could not be written')),
    );
    void live.deskChanged(session.deskId);
    return view;
  } catch (error) {
    await release();
    throw error;
  }
}

interface AnsweredBy {
  readonly caution: Caution;
  readonly way: Answering;
}

/** What was answered, and how. @throws Fault `unanswered` while a *stop* is not */
function answersTo(
  { cautions }: Preview,
  { answers, fade }: RestoreRequest,
  accepted: readonly Point[],
  reading: CautionReading,
): AnsweredBy[] {
  const [open] = openStops(cautions, answers, fade, accepted);
  if (open)
    throw new Fault(
      'unanswered',
      `${describeCaution(open, reading).title}.`,
      'Nothing was sent. Answer this caution in the preview first.',
    );
  return cautions.flatMap((caution) => {
    const way = answerTo(caution, answers, fade, accepted);
    return way ? [{ caution, way }] : [];
  });
}

/** All that was looked at and accepted as it is, so that it needs not be asked when these two scenes follow each other again. */
const checkedPoints = (answers: readonly AnsweredBy[]): Point[] =>
  answers.flatMap(({ caution, way }) => (way === 'checked' ? caution.points : []));

/** Sends a plan, and takes it back where that is asked for on the way. Never throws: whatever goes wrong is in the report. */
async function runRestore({ live, session }: RunnerTools, work: ActiveRestore): Promise<Outcome> {
  const { view, plan, steps, curve, hold, control, hands, safes } = work;
  const began = performance.now();
  const before = session.state;
  const tell = (back: boolean) => (progress: Pick<RestoreProgress, 'stage' | 'done' | 'total'>) =>
    live.restoreChanged({ ...view, progress: { ...progress, back, cancel: control.requested } });
  const assertLeaseHeld = () => {
    if (hold.lost())
      throw new Fault('unavailable', 'The database stopped answering, so the restore gave up the desk.', '');
  };
  hands.guard(plan.guarded);
  const shouldContinue = () => {
    assertLeaseHeld();
    return control.requested === null;
  };
  const there = await executePlan({ session, steps, curve, hands, shouldContinue, tell: tell(false) });
  let acted = there;
  let back: Preview | undefined;
  // Whoever is on the way back as a fade can still ask for it at once.
  for (let how: CancelAction | null = null; isBack(control.requested) && how !== control.requested && !hold.lost();) {
    const now = (how = control.requested);
    back = planRollback(session, steps, plan, there, hands);
    const fade = now === 'roll back' ? view.fade : 0;
    acted = await executePlan({
      session,
      steps: stepsOf({ profile: session.profile, now: session.state, plan: back, safes, fade }),
      curve,
      hands,
      shouldContinue: () => {
        assertLeaseHeld();
        return control.requested === now;
      },
      tell: tell(true),
    });
  }
  hands.stop();
  const report: RestoreReport = {
    ...restoreReport(session, back ?? plan, acted.failures, hands, plan.guarded, Math.round(performance.now() - began)),
    ...(view.fade > 0 && !back ? { jumped: jumpsOf({ profile: session.profile, now: before, plan }, steps) } : {}),
  };
  const whole = report.unconfirmed.length === 0 && report.leftMuted.length === 0;
  const status = back
    ? whole
      ? 'rolled back'
      : 'incomplete'
    : whole
      ? 'confirmed'
      : acted.through || !control.requested
        ? 'incomplete'
        : 'cancelled';
  return { status, report };
}

const isBack = (how: CancelAction | null): boolean => how !== null && how !== 'stop';

/** What has to be sent to be where the desk was before: for everything that may have reached it, but what a hand took. */
function planRollback(
  { profile, state }: DeskMirror,
  steps: readonly Step[],
  plan: Preview,
  there: ExecutionResult,
  hands: ManualMoveDetector,
): Preview {
  const journal = { changes: plan.changes, guarded: plan.guarded, aside: asideOf(steps, plan) };
  const ends = Object.entries(journalEndState(journal, 'roll back')).filter(
    ([address]) => there.sent.has(address) && !hands.isExcluded(address),
  );
  return preview({
    profile,
    now: state,
    target: withSettings(state, Object.fromEntries(ends)),
    scope: ALL_WITH_GLOBALS,
    safes: [],
    mode: 'studio',
  });
}

function restoreReport(
  { profile, state }: DeskMirror,
  { changes }: Preview,
  failures: ReadonlyMap<string, Unconfirmed>,
  hands: ManualMoveDetector,
  guarded: readonly string[],
  milliseconds: number,
): RestoreReport {
  const planned = new Set(changes.map(({ address }) => address));
  // What only moved on the way, and did not come to rest where it was, is told as well.
  const others = [...failures.values()].filter(({ address }) => !planned.has(address));
  const failed = changes.flatMap((change) => failures.get(change.address) ?? []);
  const handled = changes.filter(({ address }) => hands.isExcluded(address));
  const cannot = new Set(cannotBeAsked(profile.link));
  const unasked = changes.flatMap(({ address }) => (cannot.has(address) && !failures.has(address) ? [address] : []));
  return {
    confirmed: changes.length - failed.length - unasked.length,
    ...(unasked.length > 0 ? { unasked } : {}),
    unconfirmed: [...failed, ...others],
    handled: handled.map(
      ({ strip, address }) =>
        `${displayName(profile, state, strip)} ${inText(fullSettingName(profile, address, state))}`,
    ),
    leftMuted: guarded
      .filter((strip) => valueAt(state, `${strip}/mute/on`) === true)
      .map((strip) => displayName(profile, state, strip)),
    milliseconds,
  };
}

/** A name in the middle of a sentence: "fader", "EQ band 2 gain". */
const inText = (name: string): string =>
  /^[A-Z][a-z]/.test(name) ? name.charAt(0).toLowerCase() + name.slice(1) : name;
