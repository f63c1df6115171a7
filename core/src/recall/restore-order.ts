import { sectionOf } from '../desk/address';
import type { SettingSpec, Value } from '../desk/setting';

/** The stages in which a restore acts, in order. Verifying follows them all. */
export const STAGES = ['guard', 'patch', 'process', 'level', 'release'] as const;
export type Stage = (typeof STAGES)[number];

/** Settings whose change can thump through an open strip. */
const THUMPS: ReadonlySet<string> = new Set(['source/socket', 'preamp/phantom', 'preamp/pad']);

export const canThump = (key: string): boolean => THUMPS.has(key);

/**
 * The stage in which a setting is sent, and its place inside the stage (0 goes first): what closes, closes at the
 * start; what opens, opens at the end; gains and levels go down before others go up.
 */
export function stageOf(key: string, spec: SettingSpec, from: Value, to: Value): { stage: Stage; place: number } {
  const section = sectionOf(key);
  const rises = typeof from === 'number' && typeof to === 'number' && to > from;
  if (section === 'mute') return { stage: to === true ? 'guard' : 'release', place: 0 };
  if (section === 'sends' && spec.kind === 'switch') return { stage: to === true ? 'release' : 'guard', place: 0 };
  if (section === 'source' || section === 'routing' || canThump(key)) return { stage: 'patch', place: 0 };
  if (spec.kind === 'level') return { stage: 'level', place: rises ? 1 : 0 };
  if (spec.kind === 'gain') return { stage: 'process', place: rises ? 2 : 0 };
  return { stage: 'process', place: 1 };
}
