import type { StripState } from '@old-echo/core/desk/state';
import { eqResponseDb, logSpacedFrequencies } from '@old-echo/core/signal/eq-curve';

import { CurvePair, type Point } from '../ui/curve-chart';

/** dB at the upper and lower edge. */
const EDGE = 18;
const POINTS = logSpacedFrequencies(121);
const place = (hertz: number): number => Math.log10(hertz / 20) / 3;
const height = (decibels: number): number => Math.min(1, Math.max(0, 0.5 + decibels / EDGE / 2));
const ACROSS = {
  marks: [
    [place(100), '100 Hz'],
    [place(1000), '1 kHz'],
    [place(10_000), '10 kHz'],
  ],
} as const;
const UP = { marks: [-12, -6, 0, 6, 12].map((dB) => [height(dB), dB === 0 ? '0' : ''] as const) };

interface EqPictureProps {
  readonly now: StripState;
  readonly was: StripState | undefined;
  readonly colours?: { readonly was: string; readonly now: string };
}

/** What the EQ and the low cut do, 20 Hz to 20 kHz: dashed as it was, solid as it is. */
export function EqChart({ now, was, colours }: EqPictureProps) {
  const curve = eqResponseDb(now, POINTS);
  const echo = was ? eqResponseDb(was, POINTS) : curve;
  const moved = curve.some((dB, i) => Math.abs(dB - (echo[i] ?? dB)) > 0.05);
  const points = (of: readonly number[]) => of.map((dB, i): Point => [place(POINTS[i] ?? 20), height(dB)]);
  return (
    <CurvePair
      name={moved ? 'EQ curve; the two differ' : 'EQ curve'}
      was={moved ? points(echo) : undefined}
      now={points(curve)}
      across={ACROSS}
      up={UP}
      {...(colours ? { colours } : {})}
    />
  );
}
