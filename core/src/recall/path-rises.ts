import { familyOf } from '../desk/address';
import type { Profile } from '../desk/profile';
import type { State, StripState } from '../desk/state';
import { eqBands, isSameBand } from '../signal/eq-curve';
import { type Path, type PathFactors, pathFactors, type PathView } from '../signal/path-gain';
import { filterFactors, liftOf, mostAdded } from '../signal/processing-gain';
import { dbToFactor, factorToDb } from '../signal/sound';
import { thirdOctaves } from '../signal/third-octaves';
import { AUDIBLE_PATH_GAIN_DB } from '../signal/thresholds';

/** A desk before and after, and by how much everything on it can get louder. */
export interface Rises {
  /** Every path before and after, at the frequencies that are looked at. */
  readonly was: PathFactors;
  readonly is: PathFactors;
  /** By how many dB a path can get louder; Infinity where it opens, 0 where nobody hears it. Negative where it gets quieter. */
  readonly of: (output: string, source: string) => number;
}

const AUDIBLE = dbToFactor(AUDIBLE_PATH_GAIN_DB);

/**
 * Where a path is looked at, in Hz: third octaves up to 50 kHz. What a curve does above the audible range, a filter at 48 kHz does at the
 * top of it: the bilinear transform squeezes all of it under 24 kHz, and brings 57 kHz down to 20.
 */
const LOOKED_AT: readonly number[] = [...thirdOctaves(), ...[14, 15, 16, 17].map((n) => 1000 * 10 ** (n / 10))];

/** The loudest of a path, over its frequencies, as a factor. */
export const loudest = (factors: PathFactors, output: string, source: string): number =>
  factors[output]?.[source]?.most ?? 0;

export const isHeard = (factors: PathFactors, output: string, source: string): boolean =>
  loudest(factors, output, source) > AUDIBLE;

/**
 * Paths of two states with all that processing can add: filters at each third octave and at narrow bands that change; of
 * dynamics and effects the most they add before, and how much more they can let through after.
 */
export function risesBetween(
  profile: Profile,
  before: State,
  after: State,
  view: Pick<PathView, 'lanes' | 'opened'> = {},
): Rises {
  const hertz = frequenciesFor(before, after);
  const frequencies = hertz.length;
  const was = pathFactors(profile, before, {
    ...view,
    frequencies,
    processing: (strip) => shape(before, strip, hertz),
  });
  const lifted = (strip: string) => {
    const [from, to] = [before[strip] ?? {}, after[strip] ?? {}];
    return shape(after, strip, hertz, mostAdded(from) + liftOf(from, to));
  };
  const is = pathFactors(profile, after, { ...view, frequencies, processing: lifted });
  const fed = feedRises(profile, before, after);
  return {
    was,
    is,
    of: (output, source) => pathRiseDb(was[output]?.[source], is[output]?.[source]) + (fed.get(source) ?? 0),
  };
}

/** By how many dB what is sent to an effect rises at most, for those effects that give more back as well. */
function feedRises(profile: Profile, before: State, after: State): ReadonlyMap<string, number> {
  const rises = new Map<string, number>();
  for (const fx of profile.families.find(({ id }) => id === 'fx')?.strips ?? []) {
    if (liftOf(before[fx] ?? {}, after[fx] ?? {}) <= 0) continue;
    const [level, on] = [`sends/${fx}/level`, `sends/${fx}/on`];
    for (const strip in after) {
      const [from, to] = [before[strip], after[strip]];
      if (!from || !to || from === to || from[on] === false || to[on] === false) continue;
      const rise = Number(to[level] ?? 0) - Number(from[level] ?? 0);
      if (rise > (rises.get(fx) ?? 0) && Number(from[level]) > AUDIBLE_PATH_GAIN_DB) rises.set(fx, rise);
    }
  }
  return rises;
}

function shape(state: State, strip: string, hertz: readonly number[], most?: number): Float64Array | undefined {
  const own = state[strip] ?? {};
  const [filters, by] = [filterFactors(own, hertz), dbToFactor(most ?? mostAdded(own))];
  if (!filters) return by === 1 ? undefined : new Float64Array(hertz.length).fill(by);
  return by === 1 ? filters : filters.map((at) => at * by);
}

function pathRiseDb(was: Path | undefined, is: Path | undefined): number {
  if (!was || !is || is.most <= AUDIBLE) return 0;
  if (was.most === 0) return Infinity;
  let most = 0;
  for (let i = 0; i < is.by.length; i++) {
    const [by, from] = [is.by[i]!, was.by[i]!];
    if (by > AUDIBLE && by > most * from) most = by / from;
  }
  return factorToDb(most);
}

/** A bell of this Q lies between the middles of two third octaves. */
const SHARP = 2;
/** At most so many frequencies are looked at besides the third octaves. */
const MAX_EXTRA = 32;

/** Third octaves, and the middles of sharp bands on strips that change. */
function frequenciesFor(before: State, after: State): readonly number[] {
  const extra = new Map<number, number>();
  const sharp = (strip: StripState) =>
    eqBands(strip).filter(({ kind, q, gain }) => kind === 'notch' || (q > SHARP && gain !== 0));
  for (const strip in after) {
    const [from, to] = [before[strip], after[strip]];
    if (!from || !to || from === to) continue;
    // A band that both have makes neither louder.
    const [a, b] = [sharp(from), sharp(to)];
    const isIn = (list: typeof a, one: (typeof a)[number]) => list.some((other) => isSameBand(one, other));
    for (const band of [...a.filter((one) => !isIn(b, one)), ...b.filter((one) => !isIn(a, one))])
      extra.set(band.freq, Math.max(extra.get(band.freq) ?? 0, Math.abs(band.gain)));
  }
  if (extra.size === 0) return LOOKED_AT;
  const most = [...extra].sort(([, a], [, b]) => b - a).slice(0, MAX_EXTRA);
  return [...LOOKED_AT, ...most.map(([freq]) => freq)];
}

/**
 * By how many dB all that stands on an output can rise together, without some of its sources. Sources are taken as equally
 * loud behind their preamps, and as not alike, so that powers add up.
 * @param socket what a source passes on to its controls before and after, as factors
 */
export function wholeRise(
  { was, is }: Rises,
  output: string,
  without: ReadonlySet<string>,
  socket: (source: string) => number,
): number {
  const sources = Object.keys(is[output] ?? {}).filter((source) => !without.has(source) && familyOf(source) === 'in');
  const powers = (of: PathFactors): number[] => {
    const sum: number[] = [];
    for (const source of sources) {
      const [first, path] = [socket(source), of[output]?.[source]];
      if (first <= 0 || !path || path.most === 0) continue;
      for (let i = 0; i < path.by.length; i++) sum[i] = (sum[i] ?? 0) + (path.by[i]! / first) ** 2;
    }
    return sum;
  };
  const [from, to] = [powers(was), powers(is)];
  let most = 0;
  to.forEach((power, i) => {
    if (power > AUDIBLE ** 2 && Number(from[i]) > 0) most = Math.max(most, power / Number(from[i]));
  });
  return most > 0 ? 10 * Math.log10(most) : 0;
}
