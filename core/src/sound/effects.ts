import { type Biquad, biquad, BUTTERWORTH_Q } from '../signal/biquad';
import { dbToFactor } from '../signal/sound';
import type { BlockProcessor } from './block-processor';
import { createCompressor } from './dynamics';
import { createFilter } from './filter-step';
import { kernels } from './wasm-kernels';

/**
 * Soft saturation, x / √(1 + x²): more of it with `amount` (0 … 1), and darker with `tone` (Hz). What is quiet stays as it is.
 * @param alone whether there is only one channel
 */
export function createDrive(amount: number, tone: number, rate: number, alone: boolean): BlockProcessor[] {
  const by = 1 + amount * 11;
  const { left, right } = kernels();
  const saturate = (frames: number) => {
    saturateBlock(left, frames, by);
    if (!alone) saturateBlock(right, frames, by);
  };
  return [{ run: saturate }, createFilter([driveTone(tone, rate)], alone)];
}

/** The filter behind a drive. */
export const driveTone = (tone: number, rate: number): Biquad =>
  biquad({ kind: 'low pass', freq: tone, gain: 0, q: BUTTERWORTH_Q }, rate);

function saturateBlock(block: Float32Array, frames: number, by: number): void {
  for (let i = 0; i < frames; i++) {
    const x = block[i]! * by;
    block[i] = x / Math.sqrt(1 + x * x) / by;
  }
}

interface FeedbackDelay {
  /** Seconds between two repeats; at most 10 at 48 kHz. */
  readonly seconds: number;
  /** How loud each is against the last, under 1. */
  readonly feedback: number;
  /** How much of it is in the sum, 0 … 1. */
  readonly mix: number;
  /** The frequency in Hz above which each repeat gets darker. */
  readonly tone?: number;
}

/** A step that repeats the kernels' `left`. */
export function createFeedbackDelay({ seconds, feedback, mix, tone }: FeedbackDelay, rate: number): BlockProcessor {
  const { at, emptyEcho, runEcho } = kernels();
  const { ECHO, ECHO_LINE, ECHO_SIZE } = at;
  const length = Math.max(1, Math.min(at.LONGEST_ECHO, Math.round(seconds * rate)));
  const dull = tone === undefined ? 0 : Math.exp((-2 * Math.PI * tone) / rate);
  emptyEcho(length);
  return {
    run: (frames) => runEcho(frames, length, feedback, mix, dull),
    memory: [
      [ECHO, ECHO_SIZE],
      [ECHO_LINE, 4 * length],
    ],
  };
}

/** A step that puts what is in the kernels' `left` into both. */
export function duplicateToStereo(): BlockProcessor {
  const { left, right } = kernels();
  return { run: () => right.set(left) };
}

/** Takes sharp sounds down: what lies above `freq` Hz is compressed 4 : 1 above `threshold` dB. */
export function createDeEsser(freq: number, threshold: number, rate: number, alone: boolean): BlockProcessor {
  const { left, right } = kernels();
  const cut = createFilter([deEsserCut(freq, rate)], alone);
  const compress = createCompressor(
    { threshold, ratio: 4, knee: 3, attack: 0.001, release: DE_ESSER_RELEASE_SECONDS, makeup: 0, mix: 1 },
    rate,
  );
  const sides = [left, right].slice(0, alone ? 1 : 2);
  const whole = sides.map((side) => side.slice());
  const sharp = sides.map((side) => side.slice());
  return {
    run: (frames, from) => {
      sides.forEach((side, c) => whole[c]?.set(side));
      cut.run(frames, from);
      sides.forEach((side, c) => sharp[c]?.set(side));
      compress.run(frames, from);
      // Only what was taken away is taken from the whole, so that nothing else changes its phase.
      sides.forEach((side, c) => addReduction(side, sharp[c]!, whole[c]!, frames));
    },
    memory: [cut, compress].flatMap(({ memory = [] }) => memory),
  };
}

export const DE_ESSER_RELEASE_SECONDS = 0.06;

/** What a de-esser listens to. */
export const deEsserCut = (freq: number, rate: number): Biquad =>
  biquad({ kind: 'low cut', freq, gain: 0, q: BUTTERWORTH_Q }, rate);

/** Adds the de-esser's gain reduction back: full + (compressed highs − highs). */
function addReduction(left: Float32Array, part: Float32Array, whole: Float32Array, frames: number): void {
  for (let i = 0; i < frames; i++) left[i] = whole[i]! + (left[i]! - part[i]!);
}

/** How far a chorus swings around its middle, in seconds. */
const CHORUS_DEPTH_SECONDS = 0.004;
const CHORUS_DELAY_SECONDS = 0.012;

/**
 * A second voice that wavers in pitch, half of the sum at full `depth` (0 … 1).
 * @param swing how often it wavers, in Hz
 */
export function createChorus(swing: number, depth: number, rate: number, alone: boolean): BlockProcessor {
  const { at, left, right } = kernels();
  const past = Math.ceil(CHORUS_SECONDS * rate) + 2;
  const sides = [left, right].slice(0, alone ? 1 : 2);
  // What came before the block, and the block.
  const heard = sides.map(() => new Float32Array(past + at.BLOCK));
  return {
    run: (frames, start) =>
      sides.forEach((side, c) => {
        const dry = heard[c]!;
        dry.set(side.subarray(0, frames), past);
        for (let i = 0; i < frames; i++) {
          const swings = Math.sin((2 * Math.PI * swing * (start + i)) / rate + (c * Math.PI) / 2);
          const from = start + i - (CHORUS_DELAY_SECONDS + CHORUS_DEPTH_SECONDS * swings) * rate;
          const whole = Math.floor(from);
          const part = from - whole;
          const place = whole - start + past;
          const voice = dry[place]! * (1 - part) + dry[place + 1]! * part;
          side[i] = dry[past + i]! * (1 - depth / 2) + voice * (depth / 2);
        }
        dry.copyWithin(0, frames, frames + past);
      }),
  };
}

/** The longest that the second voice of a chorus is behind. */
export const CHORUS_SECONDS = CHORUS_DELAY_SECONDS + CHORUS_DEPTH_SECONDS;

/** Delays by whole samples. */
export function createDelay(by: number, alone: boolean): BlockProcessor {
  const { left, right } = kernels();
  const sides = [left, right].slice(0, alone ? 1 : 2);
  const lines = sides.map(() => new Float32Array(by));
  return {
    run: (frames, from) =>
      sides.forEach((side, c) => {
        const line = lines[c]!;
        for (let i = 0, at = from % by; i < frames; i++) {
          const late = line[at]!;
          line[at] = side[i]!;
          side[i] = late;
          if (++at === by) at = 0;
        }
      }),
  };
}

interface ReverbSettings {
  /** Seconds until it has fallen by 60 dB. */
  readonly time: number;
  /** Hz above which it fades faster. */
  readonly tone: number;
  /** How large the room is: the mean length of its paths in seconds. */
  readonly size: number;
}

/** Lengths of the eight delay lines, against the room's size: no two share a common measure. */
const LINES = [0.53, 0.61, 0.74, 0.83, 0.97, 1.09, 1.27, 1.43];
/** Extra loss per pass at the damping frequency: 1 dB, as a power. */
const DAMPING_PER_PASS = 10 ** -0.1;

/**
 * A step that makes a room of the kernels' `left`, into left and right: eight delay lines that feed one another through a
 * Householder matrix, which keeps the energy (J.-M. Jot, A. Chaigne, 1991; from memory). Each line loses what makes it fall by
 * 60 dB in `time`, and above that one decibel at the tone on every way round.
 */
export function createReverb({ time, tone, size }: ReverbSettings, rate: number): BlockProcessor {
  const share = Math.min(
    0.25,
    (1 - DAMPING_PER_PASS) / 2 / (1 - Math.cos((2 * Math.PI * Math.min(tone, rate / 2)) / rate)),
  );
  const dull = (1 - Math.sqrt(1 - 4 * share)) / 2;
  const { at, right, singles, wholes, emptyRoom, gatherRoom, highest, runRoom } = kernels();
  const lengths = LINES.map((by) => Math.min(at.LONGEST_LINE, Math.round(by * size * rate) | 1));
  wholes(at.LENGTHS, LINES.length).set(lengths);
  singles(at.LOSSES, LINES.length).set(lengths.map((length) => dbToFactor((-60 * length) / rate / time)));
  emptyRoom();
  const remembered = 4 * gatherRoom();
  let isHeard = false;
  const { LINE_SAMPLES, LINE_STRIDE, LENGTHS, LOSSES, ROOM_PLACE, ROOM_SIZE } = at;
  return {
    run: (frames) => {
      // Four samples are worked on together; behind the end nobody hears what comes of it.
      const four = (frames + 3) & ~3;
      isHeard ||= highest(four) > 0;
      if (isHeard) runRoom(four, dull);
      else right.fill(0);
    },
    gather: gatherRoom,
    memory: [
      [LENGTHS, 4 * LINES.length],
      [LOSSES, 4 * LINES.length],
      [ROOM_PLACE, ROOM_SIZE],
      ...LINES.map((_, n) => [LINE_SAMPLES + LINE_STRIDE * n, remembered] as const),
    ],
  };
}
