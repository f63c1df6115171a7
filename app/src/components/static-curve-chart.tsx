import type { StripState } from '@old-echo/core/desk/state';
import { CURVE_INPUT_LEVELS_DB } from '@old-echo/core/signal/static-curve';

import { CurvePair, type Point } from '../ui/curve-chart';

/** dB of full scale at the left and lower edge. */
const LOWEST = -60;
const along = (decibels: number): number => Math.min(1, Math.max(0, 1 - decibels / LOWEST));
const LEVELS = {
  marks: [
    [along(-40), '−40 dB'],
    [along(-20), '−20 dB'],
  ],
} as const;

interface StaticPictureProps {
  readonly of: (strip: StripState, levels: readonly number[]) => number[];
  readonly was: StripState | undefined;
  readonly now: StripState;
  readonly name: string;
  readonly colours?: { readonly was: string; readonly now: string };
}

/** What goes in against what comes out of a gate or a compressor, once times have passed. */
export function StaticCurveChart({ of, was, now, name, colours }: StaticPictureProps) {
  const points = (strip: StripState) =>
    of(strip, CURVE_INPUT_LEVELS_DB).map((out, i): Point => [along(CURVE_INPUT_LEVELS_DB[i] ?? 0), along(out)]);
  return (
    <CurvePair
      name={name}
      was={was && points(was)}
      now={points(now)}
      across={LEVELS}
      up={LEVELS}
      {...(colours ? { colours } : {})}
    />
  );
}
