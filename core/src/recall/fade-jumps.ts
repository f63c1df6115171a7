import { specOf } from '../desk/profile';
import { isOff, type Value } from '../desk/setting';
import { type SettingsByAddress, valueAt } from '../desk/state';
import { isMembership, levelsBehind, membershipAfter, shutBy, shutStrips, waysOf } from './closed-ways';
import type { PlannedChange, Preview } from './planned-changes';
import type { Step, StepsInput } from './step';

/** Sections of which nothing is ever heard. */
const UNHEARD: ReadonlySet<string> = new Set(['label', 'view', 'automation']);

/** Where levels are at the end that only move on the way, and are in no preview. */
export function asideOf(
  steps: readonly Step[],
  { changes, guarded }: Pick<Preview, 'changes' | 'guarded'>,
): SettingsByAddress {
  const known = new Set([...changes.map(({ address }) => address), ...guarded.map((strip) => `${strip}/mute/on`)]);
  const ends: Record<string, Value> = {};
  for (const step of steps) for (const { address, to } of step.changes) if (!known.has(address)) ends[address] = to;
  return ends;
}

/**
 * Of the changes of a restore that fades, those that are heard as a jump: neither moved slowly, nor made while their strip is closed or
 * has faded aside; a mute or switch whose levels did not all fade.
 */
export function jumpsOf({ profile, now, plan }: Omit<StepsInput, 'safes' | 'fade'>, steps: readonly Step[]): string[] {
  const gliding = steps.filter(({ over }) => over > 0).flatMap((step) => step.changes);
  const faded = new Set(gliding.map(({ address }) => address));
  const isIn = membershipAfter(now, plan.changes);
  const [openings, closings] = [waysOf(plan.changes, false), waysOf(plan.changes, true)];
  const isSoft = (way: PlannedChange) =>
    levelsBehind(profile, now, way, isIn).every((level) => {
      const spec = specOf(profile, level);
      return faded.has(level) || (spec !== undefined && isOff(spec, valueAt(now, level)));
    });
  const ways = new Set([...openings, ...closings]);
  const shut = shutStrips(now);
  const quiet = new Set([
    ...gliding.filter(({ stage }) => stage === 'guard').map(({ strip }) => strip),
    ...shutBy(now, closings, isIn),
  ]);
  // Who leaves a closed group opens by that.
  const isQuiet = ({ strip, key }: PlannedChange) =>
    quiet.has(strip) || (isMembership(key) ? now[strip]?.['mute/on'] === true : shut.has(strip));
  return plan.changes
    .filter((change) => !faded.has(change.address) && !UNHEARD.has(change.section))
    .filter((change) => (ways.has(change) ? !isSoft(change) : !isQuiet(change)))
    .map(({ address }) => address);
}
