export type BandKind = 'bell' | 'low shelf' | 'high shelf' | 'notch' | 'low cut' | 'low pass';

export interface Band {
  readonly kind: BandKind;
  /** Hz. */
  readonly freq: number;
  /** dB; notches, cuts and passes have none. */
  readonly gain: number;
  readonly q: number;
}

/** The rate at which a curve is looked at that no rendering follows, in Hz: high enough that its top does not bend. */
export const CURVE_RATE = 192_000;

/** A second-order filter, normalised so that a0 is 1. */
export interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/** Q of a band that rises nowhere: a Butterworth filter. */
export const BUTTERWORTH_Q = Math.SQRT1_2;

/**
 * The filter of one band at a sample rate in Hz. The frequency is kept under half the rate.
 * Coefficients after R. Bristow-Johnson, "Audio EQ Cookbook" (peaking, shelving with Q, notch, high-pass, low-pass).
 */
export function biquad({ kind, freq, gain, q }: Band, rate: number): Biquad {
  const w0 = (2 * Math.PI * Math.min(freq, rate * 0.49)) / rate;
  const [cos, alpha] = [Math.cos(w0), Math.sin(w0) / (2 * q)];
  const a = 10 ** (gain / 40);
  const root = 2 * Math.sqrt(a) * alpha;
  switch (kind) {
    case 'bell':
      return normalise(1 + alpha / a, [1 + alpha * a, -2 * cos, 1 - alpha * a], [-2 * cos, 1 - alpha / a]);
    case 'low shelf':
      return normalise(
        a + 1 + (a - 1) * cos + root,
        [a * (a + 1 - (a - 1) * cos + root), 2 * a * (a - 1 - (a + 1) * cos), a * (a + 1 - (a - 1) * cos - root)],
        [-2 * (a - 1 + (a + 1) * cos), a + 1 + (a - 1) * cos - root],
      );
    case 'high shelf':
      return normalise(
        a + 1 - (a - 1) * cos + root,
        [a * (a + 1 + (a - 1) * cos + root), -2 * a * (a - 1 + (a + 1) * cos), a * (a + 1 + (a - 1) * cos - root)],
        [2 * (a - 1 - (a + 1) * cos), a + 1 - (a - 1) * cos - root],
      );
    case 'notch':
      return normalise(1 + alpha, [1, -2 * cos, 1], [-2 * cos, 1 - alpha]);
    case 'low cut':
      return normalise(1 + alpha, [(1 + cos) / 2, -(1 + cos), (1 + cos) / 2], [-2 * cos, 1 - alpha]);
    case 'low pass':
      return normalise(1 + alpha, [(1 - cos) / 2, 1 - cos, (1 - cos) / 2], [-2 * cos, 1 - alpha]);
  }
}

type Three = readonly [number, number, number];

const normalise = (a0: number, [b0, b1, b2]: Three, [a1, a2]: readonly [number, number]): Biquad => ({
  b0: b0 / a0,
  b1: b1 / a0,
  b2: b2 / a0,
  a1: a1 / a0,
  a2: a2 / a0,
});

/** What a filter does to the level at `hertz`, in dB. */
export const magnitudeDb = (filter: Biquad, hertz: number, rate: number): number =>
  10 * Math.log10(Math.max(1e-12, powerResponse(filter, Math.sin((Math.PI * hertz) / rate) ** 2)));

/** What a filter does to the power at sin²(w / 2). In this form, the Cookbook's own, low frequencies lose no digits. */
export function powerResponse({ b0, b1, b2, a1, a2 }: Biquad, phi: number): number {
  const above = (b0 + b1 + b2) ** 2 - 4 * (b0 * b1 + 4 * b0 * b2 + b1 * b2) * phi + 16 * b0 * b2 * phi * phi;
  const below = (1 + a1 + a2) ** 2 - 4 * (a1 + 4 * a2 + a1 * a2) * phi + 16 * a2 * phi * phi;
  return above / below;
}
