import type { Biquad } from '../signal/biquad';
import { factorToDb } from '../signal/sound';

/** Loudness of a sound. Null where it is not defined: for silence, or what is too short. */
export interface Loudness {
  /** LUFS, gated. */
  readonly integrated: number | null;
  /** LU. */
  readonly range: number | null;
  /** LUFS, the highest of any 400 ms. */
  readonly momentaryMax: number | null;
  /** LUFS, the highest of any 3 s. */
  readonly shortTermMax: number | null;
  /** dBTP. */
  readonly truePeak: number | null;
  /** Momentary loudness every 100 ms from 400 ms on, in LUFS; null for silence. */
  readonly momentary: readonly (number | null)[];
  /** Short-term loudness every 100 ms from 3 s on, in LUFS; −Infinity for silence. */
  readonly shortTerm: readonly number[];
}

/** Steps per second in which energy is gathered. */
export const STEPS_PER_SECOND = 10;
const [MOMENTARY, SHORT_TERM] = [4, 30];
const ABSOLUTE_GATE = -70;

/**
 * Loudness to ITU-R BS.1770-4 (gates at −70 LUFS and 10 LU under), range to EBU Tech 3342 (gates at −70 LUFS and 20 LU under,
 * 10th to 95th percentile).
 * @param steps the weighted mean square of all channels in each 100 ms
 * @param peak the true peak, as a factor of full scale
 */
export function loudnessOf(steps: readonly number[], peak: number): Loudness {
  const momentary = means(steps, MOMENTARY);
  const shortTerm = means(steps, SHORT_TERM);
  const loudest = (of: readonly number[]) => finite(lufs(of.reduce((a, b) => Math.max(a, b), 0)));
  return {
    integrated: integrated(momentary),
    range: rangeOf(shortTerm),
    momentaryMax: loudest(momentary),
    shortTermMax: loudest(shortTerm),
    truePeak: finite(factorToDb(peak)),
    momentary: momentary.map((energy) => finite(Number(lufs(energy).toFixed(2)))),
    shortTerm: shortTerm.map(lufs),
  };
}

/**
 * The integrated loudness of a part, in LUFS, from the momentary loudness of the whole: of the 400 ms blocks that lie in it,
 * gated as BS.1770 has it. Null where there is none, or nothing but silence.
 * @param from seconds
 * @param to seconds
 */
export function integratedBetween(momentary: readonly (number | null)[], from: number, to: number): number | null {
  const [first, last] = [
    Math.ceil(from * STEPS_PER_SECOND - 1e-6),
    Math.floor(to * STEPS_PER_SECOND + 1e-6) - MOMENTARY,
  ];
  const blocks = momentary.slice(Math.max(0, first), Math.max(0, last + 1));
  return integrated(blocks.map((loudness) => (loudness === null ? 0 : energyOf(loudness))));
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);
/** Mean square to loudness (BS.1770, annex 1). */
const lufs = (energy: number): number => -0.691 + 10 * Math.log10(energy);
const energyOf = (loudness: number): number => 10 ** ((loudness + 0.691) / 10);

/** BS.1770, annex 1, table 3: surround channels count 1.41 times; the low-frequency channel does not count. */
export function weightOf(channel: number, of: number): number {
  if (of < 5 || channel < 3) return 1;
  return of > 5 && channel === 3 ? 0 : 1.41;
}

/**
 * The two filters of K-weighting at any rate. BS.1770 gives their coefficients for 48 kHz only; the frequencies, gain and Qs
 * behind them (from memory) give the same to ten digits there, which is tested.
 */
export function kWeighting(rate: number): readonly [shelf: Biquad, highPass: Biquad] {
  const shelf = (() => {
    const [k, q, gain] = [
      Math.tan((Math.PI * 1681.974450955533) / rate),
      0.7071752369554196,
      10 ** (3.999843853973347 / 20),
    ];
    const band = gain ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b0: (gain + (band * k) / q + k * k) / a0,
      b1: (2 * (k * k - gain)) / a0,
      b2: (gain - (band * k) / q + k * k) / a0,
      a1: (2 * (k * k - 1)) / a0,
      a2: (1 - k / q + k * k) / a0,
    };
  })();
  const [k, q] = [Math.tan((Math.PI * 38.13547087602444) / rate), 0.5003270373238773];
  const a0 = 1 + k / q + k * k;
  return [shelf, { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 }];
}

/** The mean of every `window` steps in a row. */
function means(steps: readonly number[], window: number): number[] {
  const found: number[] = [];
  for (let end = window; end <= steps.length; end++) {
    let sum = 0;
    for (let i = end - window; i < end; i++) sum += steps[i] ?? 0;
    found.push(sum / window);
  }
  return found;
}

const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;
const aboveGate = (values: readonly number[], gate: number): number[] => values.filter((v) => v > energyOf(gate));

function integrated(blocks: readonly number[]): number | null {
  const loud = aboveGate(blocks, ABSOLUTE_GATE);
  if (loud.length === 0) return null;
  return lufs(mean(aboveGate(loud, lufs(mean(loud)) - 10)));
}

function rangeOf(blocks: readonly number[]): number | null {
  const loud = aboveGate(blocks, ABSOLUTE_GATE);
  if (loud.length === 0) return null;
  const gated = aboveGate(loud, lufs(mean(loud)) - 20)
    .map(lufs)
    .sort((a, b) => a - b);
  const percentile = (p: number) => gated[Math.round((gated.length - 1) * p)] ?? 0;
  return percentile(0.95) - percentile(0.1);
}
