import { Fault } from '@old-echo/core/contracts/fault';
import type {
  Answered,
  RestoreProgress,
  RestoreReport,
  RestoreRequest,
  RestoreView,
  Unconfirmed,
} from '@old-echo/core/contracts/restore';
import { stripName, valueAt, withSettings } from '@old-echo/core/desk/state';
import { answerTo, openStops } from '@old-echo/core/preview/answers';
import type { Point } from '@old-echo/core/preview/caution';
import { preview, type Preview } from '@old-echo/core/preview/preview';
import { endsOf } from '@old-echo/core/preview/target';
import { replacedBy } from '@old-echo/core/scene/baseline';
import { WHOLE } from '@old-echo/core/scope/rules';
import { newId } from '../database/new-id';

import { baselineOf } from '../desks/baseline';
import { mustBeUnlocked } from '../desks/lock';
import { deskRow } from '../desks/store';
import { accept, acceptedIn } from '../restores/accepted';
import { insertRestore, restoreView } from '../restores/store';
import type { DeskSession } from '../sessions/session';
import { act, type Acted } from './act';
import type { Control } from './control';
import { endRun, type Outcome } from './end';
import { HandWatch } from './hand-watch';
import { holdDesk, type Hold } from './hold';
import { planRecall } from './plan';
import type { RunnerTools } from './tools';
import { keepWayBack, touched } from './way-back';

/** A restore on its way. */
interface Run {
  readonly view: RestoreView;
  readonly plan: Preview;
  readonly hold: Hold;
  readonly control: Control;
}

/**
 * Begins a restore: takes the desk, makes sure that the preview still holds and that every *stop* was answered, keeps the
 * way back and writes the journal. Only then does it send anything, and returns while that goes on.
 * @throws Fault `show-lock`, `desk-busy`, `desk-moved`, `unanswered`, `link-lost`
 */
export async function startRestore(tools: RunnerTools, request: RestoreRequest): Promise<RestoreView> {
  const { db, live, session, atWork, controls } = tools;
  const id = newId();
  const control = controls.open(id);
  const hold = await holdDesk(db, session.deskId, id, tools.lease, control.ask).catch((error: unknown) => {
    controls.close(id);
    throw error;
  });
  const letGo = async () => {
    controls.close(id);
    await hold.letGo();
  };
  try {
    await session.caughtUp();
    const desk = await deskRow(db, session.deskId);
    mustBeUnlocked(desk);
    const { preview: plan, scene, chosen } = await planRecall(db, session, request.recall, desk);
    if (request.fingerprint !== null && plan.fingerprint !== request.fingerprint)
      throw new Fault(
        'desk-moved',
        'What was asked for, or what is safe, changed since the preview.',
        'Nothing was sent. Look at the preview again.',
      );
    const { sceneId } = request.recall;
    const transition = desk.scene_id && sceneId ? { deskId: desk.id, from: desk.scene_id, to: sceneId } : undefined;
    const answered = answersTo(plan, request, transition ? await acceptedIn(db, transition) : []);
    const wayBack = await keepWayBack(db, session, desk, request.recall, scene);
    await insertRestore(db, {
      id,
      deskId: session.deskId,
      scene,
      request,
      answered,
      wayBackId: wayBack.id,
      wayBackScope: touched(plan),
      plan,
      replaces: replacedBy(await baselineOf(db, session.deskId), chosen),
    });
    if (transition) await accept(db, transition, checkedPoints(plan, answered));
    const view = await restoreView(db, id);
    // Only a way back that descends from what stands there can tell that nothing has drifted from it.
    const undrifted = wayBack.changed.settings === 0 && wayBack.parents[0] === desk.scene_id;
    const flipTo = undrifted ? desk.scene_id : wayBack.id;
    atWork.add(
      run(tools, { view, plan, hold, control })
        .then(({ status, report }) =>
          endRun(tools, view, request, { flipTo, production: wayBack.productionId, chosen, status, report }),
        )
        .finally(letGo)
        // What cannot be written now stays "running" in the journal, and is found there when its lease has run out.
        .catch((error: unknown) => live.log.error(error, 'the end of a restore could not be written')),
    );
    void live.deskChanged(session.deskId);
    return view;
  } catch (error) {
    await letGo();
    throw error;
  }
}

/** What was answered, as the log tells it. @throws Fault `unanswered` while a *stop* is not */
function answersTo({ cautions }: Preview, { answers, fade }: RestoreRequest, accepted: readonly Point[]): Answered[] {
  const [open] = openStops(cautions, answers, fade, accepted);
  if (open) throw new Fault('unanswered', `${open.title}.`, 'Nothing was sent. Answer this caution in the preview first.');
  return cautions.flatMap((caution) => {
    const { title, weight } = caution;
    const way = answerTo(caution, answers, fade, accepted);
    return way ? [{ title, weight, way }] : [];
  });
}

/** All that was looked at and accepted as it is, so that it needs not be asked when these two scenes follow each other again. */
const checkedPoints = ({ cautions }: Preview, answered: readonly Answered[]): Point[] => {
  const checked = new Set(answered.flatMap(({ title, way }) => (way === 'checked' ? [title] : [])));
  return cautions.flatMap(({ title, points }) => (checked.has(title) ? points : []));
};

/** Sends a plan, and takes it back where that is asked for on the way. Never throws: whatever goes wrong is in the report. */
async function run({ live, session }: RunnerTools, { view, plan, hold, control }: Run): Promise<Outcome> {
  const began = Date.now();
  const hands = new HandWatch(session);
  const tell = (back: boolean) => (progress: Pick<RestoreProgress, 'stage' | 'done' | 'total'>) =>
    live.restoreChanged({ ...view, progress: { ...progress, back, cancel: control.asked } });
  const mayGoOn = () => {
    if (hold.lost())
      throw new Fault('unavailable', 'The database did not answer for so long that the desk had to be let go of.', '');
  };
  const there = await act({
    session,
    plan,
    fade: view.fade,
    hands,
    goOn: () => {
      mayGoOn();
      return control.asked === null ? 'on' : control.asked === 'stop' ? 'after this stage' : 'no';
    },
    tell: tell(false),
  });
  const back = control.asked === 'roll back' && !hold.lost() ? planBack(session, plan, there, hands) : undefined;
  const acted = back
    ? await act({
        session,
        plan: back,
        fade: view.fade,
        hands,
        goOn: () => {
          mayGoOn();
          return 'on';
        },
        tell: tell(true),
      })
    : there;
  hands.stop();
  const report = reportOf(session, back ?? plan, acted.failures, hands, plan.guarded, Date.now() - began);
  const whole = report.unconfirmed.length === 0 && report.leftMuted.length === 0;
  const status = back
    ? whole
      ? 'rolled back'
      : 'incomplete'
    : whole
      ? 'confirmed'
      : acted.through || !control.asked
        ? 'incomplete'
        : 'cancelled';
  return { status, report };
}

/** What has to be sent to be where the desk was before: for everything that may have reached it, but what a hand took. */
function planBack({ profile, state }: DeskSession, plan: Preview, there: Acted, hands: HandWatch): Preview {
  const ends = Object.entries(endsOf(plan, 'roll back')).filter(
    ([address]) => there.sent.has(address) && !hands.leaveAlone(address),
  );
  return preview({
    profile,
    now: state,
    target: withSettings(state, Object.fromEntries(ends)),
    scope: WHOLE,
    safes: [],
    mode: 'studio',
  });
}

function reportOf(
  { profile, state }: DeskSession,
  { changes }: Preview,
  failures: ReadonlyMap<string, Unconfirmed>,
  hands: HandWatch,
  guarded: readonly string[],
  milliseconds: number,
): RestoreReport {
  const names = (strips: Iterable<string>) => [...strips].map((strip) => stripName(profile, state, strip));
  const unconfirmed = changes.flatMap((change) => failures.get(change.address) ?? []);
  return {
    confirmed: changes.length - unconfirmed.length,
    unconfirmed,
    handled: names(hands.strips),
    leftMuted: names(guarded.filter((strip) => valueAt(state, `${strip}/mute/on`) === true)),
    milliseconds,
  };
}
