import type { StripState } from '../desk/state';
import { type Band, biquad, BUTTERWORTH_Q, CURVE_RATE, powerResponse } from './biquad';
import { activeBands } from './eq-curve';
import { diffInsertChains, type Insert, insertChain } from './insert-chain';
import { dbToFactor, factorToDb } from './sound';
import { compressorCurve, compressorGain, gateCurve } from './static-curve';

/** Levels over which dynamics are compared, in dB of full scale: from under the lowest gate to full scale. */
const LEVELS: readonly number[] = Array.from({ length: 101 }, (_, i) => i - 100);

const PERCENT = 1 / 100;

/** As deep as a band of an EQ can cut, as a factor: what a notch takes from more than a single tone. Common practice. */
const DEEPEST = dbToFactor(-18);

/**
 * What the filters of a strip (low cut, EQ, the low pass of a drive) make of the level, as a factor at each of `hertz`.
 * Undefined where there are none. Remembered per strip, since states are never changed in place.
 */
export function filterFactors(strip: StripState, hertz: readonly number[]): Float64Array | undefined {
  let known = remembered.get(hertz);
  if (!known) remembered.set(hertz, (known = { places: hertz.map(placeOf), strips: new WeakMap() }));
  const found = known.strips.get(strip);
  if (found !== undefined) return found ?? undefined;
  const bands = [...activeBands(strip), ...darkened(strip)].filter(
    ({ kind, gain }) => gain !== 0 || !['bell', 'low shelf', 'high shelf'].includes(kind),
  );
  const made = bands.length > 0 ? new Float64Array(hertz.length).fill(1) : null;
  for (const band of bands) {
    const filter = biquad(band, CURVE_RATE);
    // A notch takes all of one tone, but not of anything that is wider.
    const least = band.kind === 'notch' ? DEEPEST : 0;
    known.places.forEach((place, i) => {
      made![i] = made![i]! * Math.max(least, Math.sqrt(powerResponse(filter, place)));
    });
  }
  known.strips.set(strip, made);
  return made ?? undefined;
}

interface Remembered {
  readonly places: readonly number[];
  readonly strips: WeakMap<StripState, Float64Array | null>;
}
const remembered = new WeakMap<readonly number[], Remembered>();

const placeOf = (hertz: number): number => Math.sin((Math.PI * hertz) / CURVE_RATE) ** 2;

/** A drive takes the top off what it is given. */
const darkened = (strip: StripState): Band[] =>
  insertsOf(strip).flatMap(({ kind, settings }): Band[] =>
    kind === 'drive' ? [{ kind: 'low pass', freq: Number(settings['tone'] ?? 20_000), gain: 0, q: BUTTERWORTH_Q }] : [],
  );

const insertsOf = (strip: StripState): Insert[] => insertChain(strip).filter(({ on }) => on);

/**
 * The most that dynamics and effects of a strip can add to a level, in dB: make-up of a compressor that rests, an echo or a
 * room at its loudest.
 */
export function mostAdded(strip: StripState): number {
  let most = strip['compressor/on'] === true ? Math.max(...compressorCurve(strip, [LEVELS[0]!])) + 100 : 0;
  for (const insert of insertsOf(strip)) most += insertBounds(insert).most;
  return most + (effectBounds(strip)?.most ?? 0);
}

/**
 * By how much a strip's dynamics and effects can let more through after a change than before it, in dB: at the level at which
 * they differ most. What held something back and goes counts by what it could hold back: a compressor or limiter at full
 * scale, a gate under its threshold. Negative where everything gets quieter.
 */
export function liftOf(before: StripState, after: StripState): number {
  if (before === after) return 0;
  return (
    mostApart(gateCurve(before, LEVELS), gateCurve(after, LEVELS)) +
    mostApart(compressorCurve(before, LEVELS), compressorCurve(after, LEVELS)) +
    chainLift(before, after) +
    effectLift(before, after)
  );
}

const mostApart = (before: readonly number[], after: readonly number[]): number =>
  Math.max(...after.map((level, i) => level - before[i]!));

/** Processors of both chains beside each other; one that is off, or not there, changes nothing. */
function chainLift(before: StripState, after: StripState): number {
  const [a, b] = [insertsOf(before), insertsOf(after)];
  if (a.length + b.length === 0) return 0;
  return diffInsertChains(a, b)
    .filter(({ how }) => how !== 'same')
    .reduce((sum, step) => {
      const [gone, come] = [a.find(({ place }) => place === step.a), b.find(({ place }) => place === step.b)];
      const [least, most] = [gone && insertBounds(gone), come && insertBounds(come)];
      const curves = [gone, come].map((insert) => LEVELS.map((level) => (insert ? insertGain(insert, level) : 0)));
      return sum + mostApart(curves[0]!, curves[1]!) + boundLift(least, most) + boost(gone, come);
    }, 0);
}

/** What a drive could add by itself: how much harder it is driven. Common practice: amount is gain in front of a curve. */
function boost(gone: Insert | undefined, come: Insert | undefined): number {
  const driven = (insert: Insert | undefined) => (insert?.kind === 'drive' ? factorToDb(drivenBy(insert)) : 0);
  return Math.max(0, driven(come) - driven(gone));
}

const at = ({ settings }: Insert, name: string): number => Number(settings[name] ?? 0);
/** How much a drive is driven, as in the model's `drive`. */
const drivenBy = (insert: Insert): number => 1 + at(insert, 'amount') * PERCENT * 11;

/** What a processor makes of a level, in dB, 0 or less. */
function insertGain(insert: Insert, level: number): number {
  switch (insert.kind) {
    case 'limiter':
      return Math.min(0, at(insert, 'ceiling') - level);
    case 'de-ess':
      return compressorGain({ threshold: at(insert, 'threshold'), ratio: 4, knee: 3 }, level);
    case 'drive':
      return -10 * Math.log10(1 + (dbToFactor(level) * drivenBy(insert)) ** 2);
    default:
      return 0;
  }
}

/** What something adds to a level, in dB. */
interface Bounds {
  readonly kind: string;
  /** At the frequency at which it adds most. */
  readonly most: number;
  /** In the mean over frequencies. */
  readonly mean: number;
  /** To what comes suddenly, before it has built up. */
  readonly atOnce: number;
}

const NOTHING: Bounds = { kind: 'none', most: 0, mean: 0, atOnce: 0 };

function boundLift(before: Bounds = NOTHING, after: Bounds = NOTHING): number {
  if (before.kind !== after.kind) return Math.max(after.most - before.mean, after.atOnce - before.atOnce);
  return Math.max(after.most - before.most, after.mean - before.mean, after.atOnce - before.atOnce);
}

function insertBounds(insert: Insert): Bounds {
  if (insert.kind !== 'echo') return { ...NOTHING, kind: insert.kind };
  return mixed(insert.kind, at(insert, 'mix') * PERCENT, repeats(at(insert, 'feedback') * PERCENT));
}

/** Repeats that come back at `feedback` (under 1) of the last: a geometric series, of amplitudes and of powers. */
function repeats(feedback: number): Omit<Bounds, 'kind'> {
  const back = Math.min(0.999, Math.max(0, feedback));
  return { most: -factorToDb(1 - back), mean: -10 * Math.log10(1 - back * back), atOnce: 0 };
}

/** With a share of the dry sound. */
function mixed(kind: string, wet: number, of: Omit<Bounds, 'kind'>): Bounds {
  const sum = (by: number) => factorToDb(1 - wet + wet * dbToFactor(by));
  const powers = 10 * Math.log10((1 - wet) ** 2 + wet ** 2 * dbToFactor(of.mean) ** 2);
  return { kind, most: sum(of.most), mean: powers, atOnce: sum(of.atOnce) };
}

/** In its loudest third octave a room of one second adds so much; measured on the model's plate. */
const ROOM_PEAK = 14;
/** What a room of one second adds in the mean, and what comes back of a hit at once. Measured on the model's rooms. */
const [ROOM_MEAN, ROOM_AT_ONCE] = [-3, -20];

/** What an effect return makes of what is sent to it; undefined for any other strip. */
function effectBounds(strip: StripState): Bounds | undefined {
  if (strip['inserts/kind'] === undefined) return undefined;
  if (strip['inserts/on'] === false) return NOTHING;
  const kind = String(strip['inserts/kind']);
  const wet = Number(strip['inserts/mix'] ?? 100) * PERCENT;
  if (kind === 'chorus') return { ...NOTHING, kind };
  if (kind === 'echo') return mixed(kind, wet, repeats(Number(strip['inserts/feedback'] ?? 0) * PERCENT));
  // The longer a room rings, the more of what feeds it adds up: twice as long, 3 dB more of a steady sound.
  const longer = 10 * Math.log10(Math.max(0.01, Number(strip['inserts/time'] ?? 1)));
  const of = { most: longer + ROOM_PEAK, mean: longer + ROOM_MEAN, atOnce: ROOM_AT_ONCE };
  return mixed('room', wet, of);
}

const effectLift = (before: StripState, after: StripState): number =>
  boundLift(effectBounds(before), effectBounds(after));

/** Sections of a strip whose processing lets more through after a change than before it, by more than a rounding. */
export function sectionsLifted(before: StripState, after: StripState): ReadonlySet<string> {
  const lifted = new Set<string>();
  const filters = (strip: StripState) => filterFactors(strip, WIDE) ?? FLAT;
  const was = filters(before);
  if (filters(after).some((by, i) => by > was[i]! * HARDLY)) for (const s of ['eq', 'preamp', 'inserts']) lifted.add(s);
  if (mostApart(gateCurve(before, LEVELS), gateCurve(after, LEVELS)) > 0) lifted.add('gate');
  if (mostApart(compressorCurve(before, LEVELS), compressorCurve(after, LEVELS)) > 0) lifted.add('compressor');
  if (chainLift(before, after) + effectLift(before, after) > 0) lifted.add('inserts');
  return lifted;
}

/** Close enough together that no band lies unseen between two. */
const WIDE: readonly number[] = Array.from({ length: 121 }, (_, i) => 20 * 1000 ** (i / 120));
const FLAT = new Float64Array(WIDE.length).fill(1);
/** A hundredth of a decibel, as a factor. */
const HARDLY = dbToFactor(0.01);
