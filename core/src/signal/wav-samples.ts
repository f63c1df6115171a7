import { bytesPerSample, type StoredDepth } from './wav-header';

/** The same bytes where numbers of several bytes can be read: these have to begin at a multiple of as many. */
const aligned = (stored: Uint8Array): Uint8Array => (stored.byteOffset % 4 === 0 ? stored : new Uint8Array(stored));

/** Samples in the order in which they are stored; every machine that runs this puts the low byte first. */
function samplesOf(stored: Uint8Array, depth: StoredDepth): Int16Array | Int32Array | Float32Array {
  const { buffer, byteOffset, length } = aligned(stored);
  if (depth === '16') return new Int16Array(buffer, byteOffset, length / 2);
  if (depth === '32') return new Int32Array(buffer, byteOffset, length / 4);
  if (depth === 'float') return new Float32Array(buffer, byteOffset, length / 4);
  const samples = new Float32Array(length / 3);
  // Three numbers of 32 bits hold four samples, each of which is moved into the upper 24 bits of one.
  const words = new Int32Array(buffer, byteOffset, 3 * Math.floor(length / 12));
  let at = 0;
  for (let word = 0; word < words.length; word += 3, at += 4) {
    const [one, two, three] = [words[word]!, words[word + 1]!, words[word + 2]!];
    samples[at] = (one << 8) * INT32_SCALE;
    samples[at + 1] = (((one >>> 24) << 8) | (two << 16)) * INT32_SCALE;
    samples[at + 2] = (((two >>> 16) << 8) | (three << 24)) * INT32_SCALE;
    samples[at + 3] = (three & ~255) * INT32_SCALE;
  }
  for (; at < samples.length; at++) {
    const [low, middle, high] = [stored[3 * at]!, stored[3 * at + 1]!, stored[3 * at + 2]!];
    samples[at] = ((low << 8) | (middle << 16) | (high << 24)) * INT32_SCALE;
  }
  return samples;
}

/** What a number of 32 bits counts for whose sign is that of a sample. */
const INT32_SCALE = 2 ** -31;

/** What full scale is as it comes out of {@link samplesOf}. */
const FULL_SCALE: Readonly<Record<StoredDepth, number>> = { '16': 2 ** 15, '24': 1, '32': 2 ** 31, float: 1 };

/** What a recording of nothing may hold: two steps of 16 bits, as much as dither makes; −84 dB of full scale. */
export const SILENT_STEM_PEAK = 2 ** -14;

/** The highest sample among samples as they are stored, as a part of full scale; infinite where one is no number. */
export function peakOf(stored: Uint8Array, depth: StoredDepth): number {
  if (depth === '24') return peakOf24(stored);
  const samples = samplesOf(stored, depth);
  let peak = 0;
  for (let i = 0; i < samples.length; i++) {
    const level = Math.abs(samples[i]!);
    if (level > peak) peak = level;
    else if (Number.isNaN(level)) return Infinity;
  }
  return peak / FULL_SCALE[depth];
}

/** {@link peakOf} of 24 bits in a third of the time, since no number is kept of any sample. */
function peakOf24(stored: Uint8Array): number {
  const { buffer, byteOffset, length } = aligned(stored);
  const inWords = 12 * Math.floor(length / 12);
  const words = new Int32Array(buffer, byteOffset, inWords / 4);
  let [high, low] = [0, 0];
  for (let word = 0; word < words.length; word += 3) {
    const [one, two, three] = [words[word]!, words[word + 1]!, words[word + 2]!];
    const a = one << 8;
    const b = ((one >>> 24) << 8) | (two << 16);
    const c = ((two >>> 16) << 8) | (three << 24);
    const d = three & ~255;
    high = Math.max(high, a, b, c, d);
    low = Math.min(low, a, b, c, d);
  }
  for (let at = inWords; at < length; at += 3) {
    const last = (stored[at]! << 8) | (stored[at + 1]! << 16) | (stored[at + 2]! << 24);
    high = Math.max(high, last);
    low = Math.min(low, last);
  }
  return Math.max(high, -low) * INT32_SCALE;
}

/**
 * Samples of a WAV file, each channel by itself.
 * @param stored whole frames
 * @param most how many of the channels are wanted
 */
export function decodeSamples(
  stored: Uint8Array,
  depth: StoredDepth,
  channels: number,
  most = channels,
): Float32Array[] {
  const samples = samplesOf(stored, depth);
  if (depth === '24' && channels === 1) return [samples as Float32Array];
  const by = 1 / FULL_SCALE[depth];
  const frames = Math.floor(stored.length / bytesPerSample(depth) / channels);
  return Array.from({ length: Math.min(most, channels) }, (_, c) => {
    const channel = new Float32Array(frames);
    for (let i = 0, at = c; i < frames; i++, at += channels) channel[i] = samples[at]! * by;
    return channel;
  });
}

/** Whether none is infinite or no number: times nothing they would not be nothing. */
export function areFinite(samples: Float32Array): boolean {
  let nothing = 0;
  for (let i = 0; i < samples.length; i++) nothing += samples[i]! * 0;
  return nothing === 0;
}

/**
 * What writes samples as they are stored, the next after the last. What does not fit 16 or 24 bits is held at full scale.
 * @param dither adds triangular noise of two steps where bits are lost, so that what gets quieter turns into noise and not
 * into distortion; the same sound always gets the same noise
 * @param before how many samples of all channels were written before
 */
export function sampleEncoder(
  depth: Exclude<StoredDepth, '32'>,
  dither: boolean,
  before = 0,
): (channels: readonly Float32Array[]) => Uint8Array {
  if (depth === 'float') return interleaved;
  const full = depth === '16' ? 32_768 : 8_388_608;
  // Two of its numbers make the noise of a sample.
  const noise = seededRandom(1, 2 * before);
  return (channels) => {
    const frames = channels[0]?.length ?? 0;
    const bytes = new Uint8Array(frames * channels.length * bytesPerSample(depth));
    let at = 0;
    for (let i = 0; i < frames; i++)
      for (const channel of channels) {
        const value = Math.round(channel[i]! * full + (dither ? noise() + noise() - 1 : 0));
        const step = value < -full ? -full : value >= full ? full - 1 : value;
        bytes[at++] = step;
        bytes[at++] = step >> 8;
        if (depth === '24') bytes[at++] = step >> 16;
      }
    return bytes;
  };
}

function interleaved(channels: readonly Float32Array[]): Uint8Array {
  const samples = new Float32Array((channels[0]?.length ?? 0) * channels.length);
  channels.forEach((channel, c) => {
    for (let i = 0, to = c; i < channel.length; i++, to += channels.length) samples[to] = channel[i]!;
  });
  return new Uint8Array(samples.buffer);
}

/**
 * Numbers from 0 to 1 that look random and are the same for every seed (a 32-bit linear congruential generator).
 * @param skip how many of them are left out at the beginning
 */
export function seededRandom(seed: number, skip = 0): () => number {
  let state = seed >>> 0;
  // A step is a product and a sum; two steps in a row are one of such again, and so on (F. B. Brown, 1994; from memory).
  let [by, and] = [1_664_525, 1_013_904_223];
  for (let left = skip; left > 0; left = Math.floor(left / 2)) {
    if (left % 2 === 1) state = (Math.imul(state, by) + and) >>> 0;
    and = (Math.imul(and, by) + and) >>> 0;
    by = Math.imul(by, by) >>> 0;
  }
  return () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
}
