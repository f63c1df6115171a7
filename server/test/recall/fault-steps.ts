import fc from 'fast-check';

import type { LiveMessage } from '@old-echo/core/contracts/live';
import { specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, quantise, type Value } from '@old-echo/core/desk/setting';
import type { SettingsByAddress } from '@old-echo/core/desk/state';
import type { Journal } from '@old-echo/core/recall/recall-target';
import { between } from '@old-echo/testing/between';
import { quay } from '@old-echo/testing/profiles';

import { differing } from '../server-rig';

/** A generator of its own, so that a run can be repeated. */
const random = fc.sample(fc.infiniteStream(between(0, 0.999)), {
  numRuns: 1,
  seed: 7,
})[0]!;
export const chance = () => Number(random.next().value);

/** Settings of every stage, each somewhere else than it is: mutes both ways, sources, pads, EQ, gains, levels. */
export function moved(now: SettingsByAddress, count: number): SettingsByAddress {
  const keys = [
    'fader/level',
    'mute/on',
    'eq/2/gain',
    'preamp/gain',
    'sends/mix.1/level',
    'pan/position',
    'source/socket',
    'preamp/pad',
    'eq/on',
    'eq/3/gain',
    'sends/mix.2/level',
    'sends/mix.3/level',
    'gate/threshold',
    'compressor/threshold',
  ];
  if (count > 40 * keys.length - 40) throw new Error(`There are not ${count} settings to move.`);
  const moves = new Map<string, Value>();
  for (let i = 0; moves.size < count; i++) {
    const address = `in.${(i % 40) + 1}/${keys[Math.floor(i / 40 + i) % keys.length]}`;
    const spec = specOf(quay, address)!;
    let to: Value = now[address] !== true;
    if (spec.kind === 'reference') to = spec.options[Math.floor(chance() * spec.options.length)]!;
    if (isNumberSpec(spec)) to = quantise(spec, spec.min + (spec.max - spec.min) * (0.3 + 0.6 * chance()));
    if (to !== now[address]) moves.set(address, to);
  }
  return Object.fromEntries(moves);
}

/** The desk is exactly at the one end or the other of a restore, and nothing else on it has moved. */
export function expectAt(
  end: 'finish' | 'roll back',
  { changes, guarded }: Journal,
  before: SettingsByAddress,
  now: SettingsByAddress,
): void {
  const wanted: Record<string, Value> = { ...before };
  if (end === 'finish') for (const { address, to } of changes) wanted[address] = to;
  for (const strip of guarded) wanted[`${strip}/mute/on`] = false;
  expect(differing(wanted, now)).toEqual([]);
}

/** Nothing has been sent that is not in the journal. */
export function expectJournaled(
  { changes, guarded, aside = {} }: Journal,
  before: SettingsByAddress,
  now: SettingsByAddress,
): void {
  const mutes = guarded.map((strip) => `${strip}/mute/on`);
  const known = new Set([...changes.map((c) => c.address), ...mutes, ...Object.keys(aside)]);
  expect(differing(before, now).filter((address) => !known.has(address))).toEqual([]);
}

/** Whether a page was told that a restore is in a stage. */
export const wasIn = (told: readonly LiveMessage[], stage: string): boolean =>
  told.some((m) => m.type === 'restore' && m.restore.progress?.stage === stage);

/** The stage that a page was told of last. */
export const lastStage = (told: readonly LiveMessage[]): string =>
  told.flatMap((m) => (m.type === 'restore' && m.restore.progress ? [m.restore.progress.stage] : [])).at(-1) ?? 'asked';
