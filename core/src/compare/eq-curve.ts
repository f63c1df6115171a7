import type { StripState } from '../desk/state';

/** The rate at which the model's EQ is drawn, in Hz: high enough that the top of the curve does not bend. */
const RATE = 192_000;

export type BandKind = 'bell' | 'low shelf' | 'high shelf' | 'notch' | 'low cut';

export interface Band {
  readonly kind: BandKind;
  /** Hz. */
  readonly freq: number;
  /** dB; notches and cuts have none. */
  readonly gain: number;
  readonly q: number;
}

/**
 * What one band does to the level at `hertz`, in dB.
 * Coefficients after R. Bristow-Johnson, "Audio EQ Cookbook" (peaking, shelving with Q, notch, high-pass).
 */
export function bandGain(band: Band, hertz: number): number {
  const w0 = (2 * Math.PI * band.freq) / RATE;
  const [cos, alpha] = [Math.cos(w0), Math.sin(w0) / (2 * band.q)];
  const a = 10 ** (band.gain / 40);
  const root = 2 * Math.sqrt(a) * alpha;
  switch (band.kind) {
    case 'bell':
      return magnitude([1 + alpha * a, -2 * cos, 1 - alpha * a], [1 + alpha / a, -2 * cos, 1 - alpha / a], hertz);
    case 'low shelf':
      return magnitude(
        [a * (a + 1 - (a - 1) * cos + root), 2 * a * (a - 1 - (a + 1) * cos), a * (a + 1 - (a - 1) * cos - root)],
        [a + 1 + (a - 1) * cos + root, -2 * (a - 1 + (a + 1) * cos), a + 1 + (a - 1) * cos - root],
        hertz,
      );
    case 'high shelf':
      return magnitude(
        [a * (a + 1 + (a - 1) * cos + root), -2 * a * (a - 1 + (a + 1) * cos), a * (a + 1 + (a - 1) * cos - root)],
        [a + 1 - (a - 1) * cos + root, 2 * (a - 1 - (a + 1) * cos), a + 1 - (a - 1) * cos - root],
        hertz,
      );
    case 'notch':
      return magnitude([1, -2 * cos, 1], [1 + alpha, -2 * cos, 1 - alpha], hertz);
    case 'low cut':
      return magnitude([(1 + cos) / 2, -(1 + cos), (1 + cos) / 2], [1 + alpha, -2 * cos, 1 - alpha], hertz);
  }
}

type Three = readonly [number, number, number];

function magnitude(b: Three, a: Three, hertz: number): number {
  const w = (2 * Math.PI * hertz) / RATE;
  return 10 * Math.log10(Math.max(1e-12, power(b, w) / power(a, w)));
}

/** |c0 + c1·e^-jw + c2·e^-2jw|². */
function power([c0, c1, c2]: Three, w: number): number {
  const re = c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w);
  const im = c1 * Math.sin(w) + c2 * Math.sin(2 * w);
  return re * re + im * im;
}

const FLAT_Q = Math.SQRT1_2;

/** The bands that are at work on a strip: those of its EQ, when it is on, and its low cut. */
export function activeBands(strip: StripState): Band[] {
  const bands: Band[] = [];
  const read = (key: string): number => Number(strip[key] ?? 0);
  if (strip['preamp/lowcut/on'] === true)
    bands.push({ kind: 'low cut', freq: read('preamp/lowcut/freq') || 80, gain: 0, q: FLAT_Q });
  if (strip['eq/on'] !== true) return bands;
  for (let n = 1; strip[`eq/${n}/freq`] !== undefined; n++)
    if (strip[`eq/${n}/on`] !== false)
      bands.push({
        kind: (strip[`eq/${n}/kind`] as BandKind | undefined) ?? 'bell',
        freq: read(`eq/${n}/freq`),
        gain: read(`eq/${n}/gain`),
        q: read(`eq/${n}/q`),
      });
  for (const [part, kind] of [
    ['low', 'low shelf'],
    ['high', 'high shelf'],
  ] as const)
    if (strip[`eq/${part}/freq`] !== undefined)
      bands.push({ kind, freq: read(`eq/${part}/freq`), gain: read(`eq/${part}/gain`), q: FLAT_Q });
  return bands;
}

/** A strip's EQ over frequencies in Hz, in dB. */
export function eqCurve(strip: StripState, hertz: readonly number[]): number[] {
  const bands = activeBands(strip);
  return hertz.map((f) => bands.reduce((sum, band) => sum + bandGain(band, f), 0));
}

/** `count` frequencies from 20 Hz to 20 kHz, evenly spaced in octaves. */
export const audibleFrequencies = (count: number): number[] =>
  Array.from({ length: count }, (_, i) => 20 * 1000 ** (i / (count - 1)));
