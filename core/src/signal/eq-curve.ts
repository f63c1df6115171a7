import type { StripState } from '../desk/state';
import { type Band, type BandKind, biquad, BUTTERWORTH_Q, magnitudeDb } from './biquad';

/** The rate at which the model's EQ is drawn, in Hz: high enough that the top of the curve does not bend. */
const MODEL_RATE_HZ = 192_000;

/** What one band does to the level at `hertz`, in dB. */
export const bandResponseDb = (band: Band, hertz: number): number =>
  magnitudeDb(biquad(band, MODEL_RATE_HZ), hertz, MODEL_RATE_HZ);

/** The bands that are at work on a strip: those of its EQ, when it is on, and its low cut. */
export const activeBands = (strip: StripState): Band[] => [...lowCut(strip), ...eqBands(strip)];

/** The low cut of a strip's preamp where it is on. */
export const lowCut = (strip: StripState): Band[] =>
  strip['preamp/lowcut/on'] === true
    ? [{ kind: 'low cut', freq: Number(strip['preamp/lowcut/freq'] ?? 0) || 80, gain: 0, q: BUTTERWORTH_Q }]
    : [];

/** The bands of a strip's EQ that are at work. */
export function eqBands(strip: StripState): Band[] {
  const bands: Band[] = [];
  const read = (key: string): number => Number(strip[key] ?? 0);
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
      bands.push({ kind, freq: read(`eq/${part}/freq`), gain: read(`eq/${part}/gain`), q: BUTTERWORTH_Q });
  return bands;
}

/** A strip's EQ over frequencies in Hz, in dB. */
export function eqResponseDb(strip: StripState, hertz: readonly number[]): number[] {
  const bands = activeBands(strip).map((band) => biquad(band, MODEL_RATE_HZ));
  return hertz.map((f) => bands.reduce((sum, band) => sum + magnitudeDb(band, f, MODEL_RATE_HZ), 0));
}

/** B minus A in dB at frequencies in Hz; equal bands cancel and are skipped. Undefined if all are equal. */
export function eqDifferenceDb(a: readonly Band[], b: readonly Band[], hertz: readonly number[]): number[] | undefined {
  const come = [...b];
  const gone = a.filter((band) => {
    const at = come.findIndex((other) => isSameBand(band, other));
    if (at >= 0) come.splice(at, 1);
    return at < 0;
  });
  if (gone.length + come.length === 0) return undefined;
  const filters = (bands: readonly Band[]) => bands.map((band) => biquad(band, MODEL_RATE_HZ));
  const [lost, won] = [filters(gone), filters(come)];
  return hertz.map((f) => {
    let by = 0;
    for (const filter of won) by += magnitudeDb(filter, f, MODEL_RATE_HZ);
    for (const filter of lost) by -= magnitudeDb(filter, f, MODEL_RATE_HZ);
    return by;
  });
}

/** Whether two bands do the same. */
export const isSameBand = (one: Band, other: Band): boolean =>
  one.kind === other.kind && one.freq === other.freq && one.gain === other.gain && one.q === other.q;

/** `count` frequencies from 20 Hz to 20 kHz, evenly spaced in octaves. */
export const logSpacedFrequencies = (count: number): number[] =>
  Array.from({ length: count }, (_, i) => 20 * 1000 ** (i / (count - 1)));
