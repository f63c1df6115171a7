import { Fault } from '@old-echo/core/contracts/fault';
import type { RestoreProgress, Unconfirmed } from '@old-echo/core/contracts/restore';
import type { Value } from '@old-echo/core/desk/setting';
import { valueAt } from '@old-echo/core/desk/state';
import { STAGES, type Stage } from '@old-echo/core/preview/order';
import type { PlannedChange, Preview } from '@old-echo/core/preview/preview';

import type { DeskSession } from '../sessions/session';
import { confirm, stands } from './confirm';
import { fade } from './fade';
import type { HandWatch } from './hand-watch';

/** How long the desk is left in peace after some settings were switched, in ms: supplies and relays need a moment. */
const SETTLES: readonly (readonly [key: RegExp, time: number])[] = [
  [/^preamp\/phantom$/, 1000],
  [/^(preamp\/pad|source\/)/, 40],
];

export interface Act {
  readonly session: DeskSession;
  readonly plan: Pick<Preview, 'changes' | 'guarded'>;
  /** Seconds over which levels move. */
  readonly fade: number;
  readonly hands: HandWatch;
  /** Asked between two sendings: to go on, to end after this stage, or to end at once. @throws Fault to break off */
  readonly goOn: () => 'on' | 'after this stage' | 'no';
  readonly tell: (progress: Pick<RestoreProgress, 'stage' | 'done' | 'total'>) => void;
}

export interface Acted {
  /** Everything that may have reached the desk. */
  readonly sent: ReadonlySet<string>;
  readonly failures: ReadonlyMap<string, Unconfirmed>;
  /** Whether all stages were gone through. */
  readonly through: boolean;
}

type Batch = readonly PlannedChange[];

/**
 * Sends a plan stage by stage, each confirmed before the next, and reads all of it back at the end. Strips that were muted
 * for it are opened again, also when it ends early. Never throws: what went wrong is among the failures.
 */
export async function act({ session, plan, fade: seconds, hands, goOn, tell }: Act): Promise<Acted> {
  const sent = new Set<string>();
  const failures = new Map<string, Unconfirmed>();
  hands.watch(new Set(plan.changes.map((change) => change.strip)), plan.guarded);
  const guards = guardsOf(plan);
  const confirmed = new Set<string>();
  let [through, verifying] = [false, false];
  try {
    for (const stage of STAGES) {
      // Whoever ends early still opens what was closed for the restore, and nothing else.
      const early = stage !== 'guard' && goOn() !== 'on';
      if (early && stage !== 'release') continue;
      if (goOn() === 'no') break;
      const batches = batchesOf(stage, early ? { changes: [] } : plan, guards);
      const total = batches.reduce((n, batch) => n + batch.length, 0);
      const levels = stage === 'level' ? seconds / Math.max(1, batches.length) : 0;
      let done = 0;
      if (total > 0) tell({ stage, done, total });
      for (const batch of batches) {
        if (goOn() === 'no') break;
        for (const { address } of batch) sent.add(address);
        const told = (part: number) => tell({ stage, done: done + Math.round(part * batch.length), total });
        if (levels > 0) await fade(session, batch, levels, hands, () => goOn() !== 'no', told);
        if (goOn() === 'no') break;
        const pairs = batch.map(({ address, to }) => [address, to] as const);
        hands.sending(pairs.filter(([address]) => !hands.leaveAlone(address)));
        const failed = await confirm(session, Object.fromEntries(pairs), {
          leaveAlone: hands.leaveAlone,
          onProgress: (n) => told(n / batch.length),
          goOn: () => goOn() !== 'no',
        });
        for (const [address] of pairs) if (!hands.leaveAlone(address)) confirmed.add(address);
        for (const failure of failed) {
          failures.set(failure.address, failure);
          confirmed.delete(failure.address);
        }
        done += batch.length;
      }
      const settle = Math.max(
        0,
        ...batches.flat().map(({ key }) => SETTLES.find(([keys]) => keys.test(key))?.[1] ?? 0),
      );
      if (settle > 0) await new Promise((resolve) => setTimeout(resolve, settle));
      through = stage === 'release' && !early;
    }
    if (goOn() !== 'no') {
      await giveBack(session, hands);
      verifying = true;
      tell({ stage: 'verify', done: 0, total: plan.changes.length });
      await verify(session, plan.changes, sent, hands, failures);
    }
  } catch (error) {
    const why = error instanceof Fault ? error.message : 'Old Echo failed in the middle of it.';
    // What was confirmed in its stage still counts, but not where all of it was to be read back at the end.
    for (const change of plan.changes)
      if (!failures.has(change.address) && (verifying || !confirmed.has(change.address)))
        failures.set(change.address, unconfirmed(change, valueAt(session.state, change.address), why));
    through = false;
  }
  return { sent, failures, through };
}

/** What a hand moved, and a value that was on its way over it, goes back to where the hand put it. */
async function giveBack(session: DeskSession, hands: HandWatch): Promise<void> {
  const overrun = hands.overrun();
  if (Object.keys(overrun).length > 0) await confirm(session, overrun);
}

/** The mutes that are closed for a restore. */
const guardsOf = ({ guarded }: Pick<Preview, 'guarded'>): PlannedChange[] =>
  guarded.map((strip) => ({
    address: `${strip}/mute/on`,
    strip,
    section: 'mute',
    key: 'mute/on',
    from: false,
    to: true,
    stage: 'guard',
  }));

/** What a stage sends, in batches of which each is confirmed before the next: what falls comes before what rises. */
function batchesOf(stage: Stage, { changes }: Pick<Preview, 'changes'>, guards: readonly PlannedChange[]): Batch[] {
  const own = changes.filter((change) => change.stage === stage);
  const rises = ({ from, to }: PlannedChange) => typeof from === 'number' && typeof to === 'number' && to > from;
  const falling = [...(stage === 'guard' ? guards : []), ...own.filter((change) => !rises(change))];
  const opened = stage === 'release' ? guards.map((guard) => ({ ...guard, from: true, to: false })) : [];
  return [falling, [...own.filter(rises), ...opened]].filter((batch) => batch.length > 0);
}

/** Reads every setting that was sent back once more, and names what is not where it should be. */
async function verify(
  session: DeskSession,
  changes: readonly PlannedChange[],
  sent: ReadonlySet<string>,
  hands: HandWatch,
  failures: Map<string, Unconfirmed>,
): Promise<void> {
  const found = await session.wire.read(changes.map((change) => change.address));
  for (const change of changes) {
    const { address, to, strip } = change;
    const name = (why: string) => failures.set(address, unconfirmed(change, found[address], why));
    if (stands(session, address, to, found[address])) failures.delete(address);
    else if (hands.strips.has(strip)) name('A hand on the desk moved this strip, so it was left alone.');
    else if (!sent.has(address)) name('The restore was stopped before it was sent.');
    else if (!failures.has(address)) name('It was taken, then moved again.');
  }
}

const unconfirmed = ({ address, to }: PlannedChange, found: Value | undefined, why: string): Unconfirmed => ({
  address,
  wanted: to,
  found: found ?? null,
  why,
});
