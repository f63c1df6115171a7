import type { RestoreProgress, Unconfirmed } from '@old-echo/core/contracts/restore';
import type { Value } from '@old-echo/core/desk/setting';
import { valueAt } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import type { FadeCurve } from '@old-echo/core/recall/fade-curves';
import type { PlannedChange } from '@old-echo/core/recall/planned-changes';
import type { Step } from '@old-echo/core/recall/step';

import type { DeskMirror } from '../desk/desk-mirror';
import { matches, writeAndVerify } from '../desk/write-and-verify';
import { fadeLevels } from './fade-levels';
import type { ManualMoveDetector } from './manual-move-detector';

/** How long the desk is left in peace after some settings were switched, in ms: supplies and relays need a moment. */
const SETTLE_TIMES: readonly (readonly [key: RegExp, time: number])[] = [
  [/^preamp\/phantom$/, 1000],
  [/^(preamp\/pad|source\/)/, 40],
];

/** While the desk is left in peace, it is looked this often whether to go on, in ms. */
const LOOK = 20;

interface ExecuteOptions {
  readonly session: DeskMirror;
  readonly steps: readonly Step[];
  readonly curve: FadeCurve;
  readonly hands: ManualMoveDetector;
  /** Polled before every send: continue, finish this stage, or stop. @throws Fault to break off */
  readonly shouldContinue: () => boolean;
  readonly tell: (progress: Pick<RestoreProgress, 'stage' | 'done' | 'total'>) => void;
}

export interface ExecutionResult {
  /** Everything that may have reached the desk. */
  readonly sent: ReadonlySet<string>;
  readonly failures: ReadonlyMap<string, Unconfirmed>;
  /** Whether all steps were gone through. */
  readonly through: boolean;
}

/**
 * Sends a restore step by step, each confirmed before the next, and reads all of it back at the end. What it may not go on with
 * stays where it is at that moment, and is read back there. Never throws: what went wrong is among the failures.
 */
export async function executePlan({
  session,
  steps,
  curve,
  hands,
  shouldContinue,
  tell,
}: ExecuteOptions): Promise<ExecutionResult> {
  const sent = new Set<string>();
  const failures = new Map<string, Unconfirmed>();
  /** What was confirmed last of each setting: one that moves aside is confirmed there first. */
  const confirmed = new Map<string, Value>();
  /** Where each setting is to be at the end: its last step's. */
  const ends = new Map(steps.flatMap(({ changes }) => changes.map((change) => [change.address, change] as const)));
  const isOrphaned = orphanedBy(ends, hands);
  let through = false;
  let verifying = false;
  try {
    for (const { stage, changes, over } of steps) {
      if (!shouldContinue()) break;
      const total = changes.length;
      const told = (part: number) => tell({ stage, done: Math.round(part * total), total });
      told(0);
      // A hand that has taken what a level belongs to has taken both: a strip is never left open where it was to be closed.
      const own = changes.filter(({ address }) => !hands.isExcluded(address) && !isOrphaned(address));
      for (const { address } of own) sent.add(address);
      if (over > 0) await fadeLevels(session, own, over, curve, hands, shouldContinue, told);
      if (!shouldContinue()) break;
      const isExcluded = (address: string) => hands.isExcluded(address) || isOrphaned(address);
      const failed = await writeAndVerify(session, Object.fromEntries(own.map(({ address, to }) => [address, to])), {
        isExcluded,
        onProgress: (n) => told(n / total),
        shouldContinue,
      });
      for (const { address, to } of own) if (!isExcluded(address)) confirmed.set(address, to);
      for (const failure of failed) {
        failures.set(failure.address, failure);
        confirmed.delete(failure.address);
      }
      await settle(changes, shouldContinue);
    }
    through = shouldContinue();
    verifying = true;
    tell({ stage: 'verify', done: 0, total: ends.size });
    await verify(session, [...ends.values()], sent, hands, failures, through, isOrphaned);
  } catch (error) {
    const why = error instanceof Fault ? error.message : 'Old Echo failed during it.';
    // What was confirmed in its step still counts, but not where all of it was to be read back at the end.
    for (const change of ends.values())
      if (!failures.has(change.address) && (verifying || confirmed.get(change.address) !== change.to))
        failures.set(change.address, toUnconfirmed(change, valueAt(session.state, change.address), why));
    through = false;
  }
  return { sent, failures, through };
}

/**
 * Whether a level stays because a hand has taken the mute or the switch that this restore opens or closes in front of it. A mute that is
 * no part of it holds nothing but itself.
 */
const orphanedBy =
  (ends: ReadonlyMap<string, PlannedChange>, hands: ManualMoveDetector) =>
  (address: string): boolean =>
    [address.replace(/fader\/level$/, 'mute/on'), address.replace(/\/level$/, '/on')].some(
      (way) => way !== address && ends.has(way) && hands.holds(way),
    );

async function settle(changes: readonly PlannedChange[], shouldContinue: () => boolean): Promise<void> {
  const time = Math.max(0, ...changes.map(({ key }) => SETTLE_TIMES.find(([keys]) => keys.test(key))?.[1] ?? 0));
  for (const until = performance.now() + time; performance.now() < until && shouldContinue();)
    await new Promise((resolve) => setTimeout(resolve, Math.min(LOOK, until - performance.now())));
}

/** Reads every setting that was sent back once more, and names what is not where it should be. */
async function verify(
  session: DeskMirror,
  changes: readonly PlannedChange[],
  sent: ReadonlySet<string>,
  hands: ManualMoveDetector,
  failures: Map<string, Unconfirmed>,
  through: boolean,
  isOrphaned: (address: string) => boolean,
): Promise<void> {
  const read = await session.wire.read(changes.map((change) => change.address));
  await session.syncUpToNow();
  // What overran a hand was read before it was put back.
  const foundAt = (address: string) => (hands.isExcluded(address) ? valueAt(session.state, address) : read[address]);
  for (const change of changes) {
    const { address, to } = change;
    const found = foundAt(address);
    const name = (why: string) => failures.set(address, toUnconfirmed(change, found, why));
    if (matches(session, address, to, found)) failures.delete(address);
    else if (hands.isExcluded(address)) name('Moved by hand during the restore, so it was left alone.');
    else if (isOrphaned(address)) name('Its mute was moved by hand, so it was left alone.');
    else if (!sent.has(address)) name('Stopped before it was sent.');
    else if (!through) name('Stopped while it was on its way.');
    else if (!failures.has(address)) name('Set, then moved again on the desk.');
  }
}

const toUnconfirmed = ({ address, to }: PlannedChange, found: Value | undefined, why: string): Unconfirmed => ({
  address,
  wanted: to,
  found: found ?? null,
  why,
});
