import { specOf } from '@old-echo/core/desk/profile';
import type { NumberSpec, Value } from '@old-echo/core/desk/setting';
import { type FadeCurve, glides, onTheWay, steepness } from '@old-echo/core/recall/fade-curves';
import type { PlannedChange } from '@old-echo/core/recall/planned-changes';

import type { DeskMirror } from '../desk/desk-mirror';
import type { ManualMoveDetector } from './manual-move-detector';

/** The longest and the shortest time between two steps of a fade, in ms: 25 steps a second are heard as one move. */
const [LONGEST_STEP, SHORTEST_STEP] = [40, 10];

interface FadeRamp {
  readonly address: string;
  readonly spec: NumberSpec;
  readonly from: Value;
  readonly to: Value;
}

/**
 * Moves settings together over a time, in seconds. What is sent on the way is not confirmed; the last step is left to be sent, and
 * confirmed, by who called.
 * @param shouldContinue asked before every step; a fade that may not go on ends where it is
 */
export async function fadeLevels(
  session: DeskMirror,
  changes: readonly PlannedChange[],
  seconds: number,
  curve: FadeCurve,
  hands: ManualMoveDetector,
  shouldContinue: () => boolean,
  onProgress: (part: number) => void,
): Promise<void> {
  const faders = changes.flatMap(({ address, from, to }): FadeRamp[] => {
    const spec = specOf(session.profile, address);
    return glides(spec) ? [{ address, spec, from, to }] : [];
  });
  if (faders.length === 0) return;
  const steepest = Math.max(...faders.map(({ spec, from, to }) => steepness(spec, from, to, seconds, curve)));
  // The steeper, the more steps: none is larger than a decibel, as far as the desk can follow.
  const step = Math.max(SHORTEST_STEP, Math.min(LONGEST_STEP, 1000 / steepest));
  const began = performance.now();
  const last = new Map<string, number>();
  for (let part = 0; part < 1;) {
    await new Promise((resolve) => setTimeout(resolve, step));
    if (!shouldContinue()) return;
    part = Math.min(1, (performance.now() - began) / (seconds * 1000));
    if (part >= 1) break;
    const moves: Record<string, number> = {};
    for (const { address, spec, from, to } of faders) {
      const value = onTheWay(spec, from, to, part, seconds, curve);
      if (value === last.get(address) || hands.isExcluded(address)) continue;
      last.set(address, value);
      moves[address] = value;
    }
    if (Object.keys(moves).length > 0) await session.wire.write(moves, shouldContinue);
    onProgress(part);
  }
}
