import type { Settings } from '@old-echo/core/desk/state';
import { specAt } from '@old-echo/core/desk/profile';
import { isNumberSpec, isOff, quantise, type NumberSpec } from '@old-echo/core/desk/setting';
import type { PlannedChange } from '@old-echo/core/preview/preview';

import type { DeskSession } from '../sessions/session';
import type { HandWatch } from './hand-watch';

/** Time between two steps of a fade, in ms: 25 steps a second are heard as one move. */
const STEP = 40;
/** A fade from or to "off" begins or ends here, in dB: what is under it nobody hears. */
const FLOOR = -60;

interface Fader {
  readonly address: string;
  readonly spec: NumberSpec;
  readonly from: number;
  readonly to: number;
}

/**
 * Moves levels evenly in dB over a time, in seconds. What is sent on the way is not confirmed; the last step is left to be
 * sent, and confirmed, by who called.
 * @param goOn asked before every step; a fade that may not go on ends where it is
 */
export async function fade(
  session: DeskSession,
  changes: readonly PlannedChange[],
  seconds: number,
  hands: HandWatch,
  goOn: () => boolean,
  onProgress: (part: number) => void,
): Promise<void> {
  const faders = changes.flatMap(({ address, from, to }): Fader[] => {
    const spec = specAt(session.profile, address);
    if (!spec || !isNumberSpec(spec) || typeof from !== 'number' || typeof to !== 'number') return [];
    const heard = (level: number) => (isOff(spec, level) ? Math.max(FLOOR, spec.min) : level);
    return [{ address, spec, from: heard(from), to: heard(to) }];
  });
  const began = performance.now();
  const last = new Map<string, number>();
  for (let part = 0; part < 1;) {
    await new Promise((resolve) => setTimeout(resolve, STEP));
    if (!goOn()) return;
    part = Math.min(1, (performance.now() - began) / (seconds * 1000));
    const step: Record<string, number> = {};
    for (const { address, spec, from, to } of faders) {
      const value = quantise(spec, from + (to - from) * part);
      if (part >= 1 || value === last.get(address) || hands.leaveAlone(address)) continue;
      last.set(address, value);
      step[address] = value;
    }
    hands.sending(Object.entries(step), true);
    if (Object.keys(step).length > 0) await session.wire.write(step satisfies Settings);
    onProgress(part);
  }
}
