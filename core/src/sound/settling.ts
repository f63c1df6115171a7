import type { StripState } from '../desk/state';
import { type Biquad, biquad } from '../signal/biquad';
import { activeBands } from '../signal/eq-curve';
import type { Insert } from '../signal/insert-chain';
import { dbToFactor } from '../signal/sound';
import { compressorCurveOf } from '../signal/static-curve';
import { activeInserts, effectOf, stripDelayFrames } from './channel-strip';
import { GATE_DETECTOR_SECONDS } from './dynamics';
import { CHORUS_SECONDS, DE_ESSER_RELEASE_SECONDS, deEsserCut, driveTone } from './effects';
import { LOOKAHEAD_SECONDS } from './limiter';
import { isPlainSum, type RenderNode } from './render-graph';

/**
 * Time constants in which a difference of a whole gain of 60 dB is under −120 dB of full scale: what a smoothed gain stands at is
 * a number of dB, and from two of them it moves towards the same one, by its slower constant at worst.
 * ln(60 · ln 10 / 20 / 10⁻⁶) is 15.7 (arithmetic).
 */
const GAIN_TIME_CONSTANTS = 16;
/** Time constants in which what rings in a filter is under −120 dB: ln 10⁶ is 13.8 (arithmetic), and a little for its height. */
const FILTER_TIME_CONSTANTS = 18;
const MS = 1 / 1000;

/**
 * From how many samples before a node has to be worked out so that what it makes is within −120 dBFS of what it would be had it
 * been worked out from the beginning.
 */
export function settlingFrames(node: RenderNode, rate: number): number {
  if (isPlainSum(node)) return 0;
  const strip = stripSettling(node.strip, rate);
  if (node.kind === 'effect') return Math.ceil(strip + effectSettling(node.strip, rate));
  const inserts = activeInserts(node.strip).map((insert) => insertSettling(insert, rate));
  return Math.ceil(inserts.reduce((sum, one) => sum + one, strip + stripDelayFrames(node.strip, rate)));
}

function stripSettling(strip: StripState, rate: number): number {
  const at = (key: string) => Number(strip[key] ?? 0);
  let sum = activeBands(strip).reduce((frames, band) => frames + filterSettling(biquad(band, rate)), 0);
  if (strip['gate/on'] === true) {
    // What it listens to falls from full scale under its threshold, then it is held open, then it closes.
    const falls = GATE_DETECTOR_SECONDS * Math.max(0, -Math.log(dbToFactor(at('gate/threshold'))) + 1);
    const slower = Math.max(at('gate/attack'), at('gate/release')) * MS;
    sum += (falls + at('gate/hold') * MS + GAIN_TIME_CONSTANTS * slower) * rate;
  }
  if (compressorCurveOf(strip))
    sum += GAIN_TIME_CONSTANTS * Math.max(at('compressor/attack'), at('compressor/release')) * MS * rate;
  return sum;
}

/** How long a filter rings, by the pole nearest to the unit circle. */
function filterSettling({ a1, a2 }: Biquad): number {
  const root = a1 * a1 - 4 * a2;
  const radius = root < 0 ? Math.sqrt(a2) : (Math.abs(a1) + Math.sqrt(root)) / 2;
  return radius > 0 ? FILTER_TIME_CONSTANTS / -Math.log(radius) : 0;
}

function effectSettling(strip: StripState, rate: number): number {
  const { kind, size, time, feedback, late } = effectOf(strip, rate);
  // A room has fallen by 120 dB in twice its time, and by a little more than where it began.
  if (size !== undefined) return (2.2 * time + 0.1) * rate + late;
  if (kind === 'echo') return repeats(feedback) * time * rate + late;
  return kind === 'chorus' ? CHORUS_SECONDS * rate : 0;
}

/** After how many repeats nothing is heard of the first. */
const repeats = (feedback: number): number =>
  feedback > 0 ? Math.ceil(Math.log(1e-6) / Math.log(Math.min(0.999, feedback))) + 1 : 1;

function insertSettling({ kind, settings }: Insert, rate: number): number {
  const at = (name: string) => Number(settings[name] ?? 0);
  switch (kind) {
    case 'drive':
      return filterSettling(driveTone(at('tone'), rate));
    case 'echo':
      return repeats(at('feedback') / 100) * at('time') * MS * rate;
    case 'de-ess':
      return filterSettling(deEsserCut(at('freq'), rate)) + GAIN_TIME_CONSTANTS * DE_ESSER_RELEASE_SECONDS * rate;
    case 'limiter':
      return (GAIN_TIME_CONSTANTS * at('release') * MS + 2 * LOOKAHEAD_SECONDS) * rate;
    case 'chorus':
      return CHORUS_SECONDS * rate;
    default:
      return 0;
  }
}
