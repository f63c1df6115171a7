import { biquad, BUTTERWORTH_Q } from '../signal/biquad';
import { dbToFactor } from '../signal/sound';
import { createCompressor } from './dynamics';
import { createFilter } from './filter-step';
import { type BlockProcessor, processInPlace } from './process-blocks';
import { kernels } from './wasm-kernels';

/**
 * Soft saturation in place, x / √(1 + x²): more of it with `amount` (0 … 1), and darker with `tone` (Hz). What is quiet stays
 * as it is.
 */
export function drive(amount: number, tone: number, channels: readonly Float32Array[], rate: number): void {
  const by = 1 + amount * 11;
  const { left, right } = kernels();
  const darker = biquad({ kind: 'low pass', freq: tone, gain: 0, q: BUTTERWORTH_Q }, rate);
  const saturate = (frames: number) => {
    saturateBlock(left, frames, by);
    if (channels.length > 1) saturateBlock(right, frames, by);
  };
  processInPlace(channels, saturate, createFilter([darker], channels.length === 1));
}

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
  const length = Math.max(1, Math.min(at.LONGEST_ECHO, Math.round(seconds * rate)));
  const dull = tone === undefined ? 0 : Math.exp((-2 * Math.PI * tone) / rate);
  emptyEcho(length);
  return (frames) => runEcho(frames, length, feedback, mix, dull);
}

/** Repeats of each channel, in place. */
export function applyFeedbackDelay(set: FeedbackDelay, channels: readonly Float32Array[], rate: number): void {
  for (const channel of channels) processInPlace([channel], createFeedbackDelay(set, rate));
}

/** A step that puts what is in the kernels' `left` into both. */
export function duplicateToStereo(): void {
  const { left, right } = kernels();
  right.set(left);
}

/** Takes sharp sounds down, in place: what lies above `freq` Hz is compressed 4 : 1 above `threshold` dB. */
export function deEss(freq: number, threshold: number, channels: readonly Float32Array[], rate: number): void {
  const { left, right } = kernels();
  const high = biquad({ kind: 'low cut', freq, gain: 0, q: BUTTERWORTH_Q }, rate);
  const cut = createFilter([high], channels.length === 1);
  const compress = createCompressor(
    { threshold, ratio: 4, knee: 3, attack: 0.001, release: 0.06, makeup: 0, mix: 1 },
    rate,
  );
  const sides = [left, right].slice(0, channels.length);
  const whole = sides.map((side) => side.slice());
  const sharp = sides.map((side) => side.slice());
  processInPlace(channels, (frames) => {
    sides.forEach((side, c) => whole[c]?.set(side));
    cut(frames);
    sides.forEach((side, c) => sharp[c]?.set(side));
    compress(frames);
    // Only what was taken away is taken from the whole, so that nothing else changes its phase.
    sides.forEach((side, c) => addReduction(side, sharp[c]!, whole[c]!, frames));
  });
}

/** Adds the de-esser's gain reduction back: full + (compressed highs − highs). */
function addReduction(left: Float32Array, part: Float32Array, whole: Float32Array, frames: number): void {
  for (let i = 0; i < frames; i++) left[i] = whole[i]! + (left[i]! - part[i]!);
}

/** How far a chorus swings around its middle, in seconds. */
const CHORUS_DEPTH_SECONDS = 0.004;
const CHORUS_DELAY_SECONDS = 0.012;

/** A second voice that wavers in pitch, in place, half of the sum at full `depth` (0 … 1). `rate` of the swing in Hz. */
export function chorus(swing: number, depth: number, channels: readonly Float32Array[], rate: number): void {
  channels.forEach((channel, c) => {
    const dry = Float32Array.from(channel);
    for (let i = 0; i < channel.length; i++) {
      const away =
        (CHORUS_DELAY_SECONDS + CHORUS_DEPTH_SECONDS * Math.sin((2 * Math.PI * swing * i) / rate + (c * Math.PI) / 2)) *
        rate;
      const from = i - away;
      const whole = Math.floor(from);
      const part = from - whole;
      const voice = (dry[whole] ?? 0) * (1 - part) + (dry[whole + 1] ?? 0) * part;
      channel[i] = dry[i]! * (1 - depth / 2) + voice * (depth / 2);
    }
  });
}

/** Delays channels by whole samples, in place. */
export function delay(seconds: number, channels: readonly Float32Array[], rate: number): void {
  const by = Math.round(seconds * rate);
  for (const channel of channels) {
    channel.copyWithin(by, 0, Math.max(0, channel.length - by));
    channel.fill(0, 0, Math.min(by, channel.length));
  }
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
  const { at, right, singles, wholes, emptyRoom, highest, runRoom } = kernels();
  const lengths = LINES.map((by) => Math.min(at.LONGEST_LINE, Math.round(by * size * rate) | 1));
  wholes(at.LENGTHS, LINES.length).set(lengths);
  singles(at.LOSSES, LINES.length).set(lengths.map((length) => dbToFactor((-60 * length) / rate / time)));
  emptyRoom();
  let isHeard = false;
  return (frames) => {
    // Four samples are worked on together; behind the end nobody hears what comes of it.
    const four = (frames + 3) & ~3;
    isHeard ||= highest(four) > 0;
    if (isHeard) runRoom(four, dull);
    else right.fill(0);
  };
}
