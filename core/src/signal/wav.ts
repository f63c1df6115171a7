import { utf8ToBytes } from '@noble/hashes/utils.js';

import { Fault } from '../fault/fault';
import { frameCount, type PcmAudio } from './sound';

/** How samples are stored: 16 or 24 bits, or 32-bit floats. */
export const DEPTHS = ['16', '24', 'float'] as const;
export type BitDepth = (typeof DEPTHS)[number];

export interface WavInfo {
  readonly rate: number;
  readonly channels: number;
  readonly depth: BitDepth;
  readonly frames: number;
  /** Where the samples begin and end, in bytes. */
  readonly at: number;
  readonly end: number;
}

type Format = Pick<WavInfo, 'rate' | 'channels' | 'depth'>;

/** The lowest and the highest sample rate that is read, in Hz. */
const RATES = [44_100, 96_000] as const;
/** The most channels that are read: 5.1. */
const MOST_CHANNELS = 6;
const [PCM, FLOAT, EXTENSIBLE] = [1, 3, 0xfffe];

const refuse = (why: string, advice = 'Nothing was saved. Export it again as a WAV file.'): Fault =>
  new Fault('refused-input', why, advice);

/**
 * What a WAV file holds, from its first bytes.
 * @param head at least the bytes before the samples
 * @param size the whole file, in bytes
 * @throws Fault `refused-input` with a sentence that says what is wrong
 */
export function parseWavHeader(head: Uint8Array, size: number): WavInfo {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const name = (at: number) => String.fromCharCode(...head.subarray(at, at + 4));
  if (head.length < 12 || name(0) !== 'RIFF' || name(8) !== 'WAVE') throw refuse('Not a WAV file.');
  let format: Format | undefined;
  for (let at = 12; at + 8 <= head.length;) {
    const [chunk, length] = [name(at), view.getUint32(at + 4, true)];
    if (chunk === 'fmt ') {
      if (length < 16 || at + 8 + length > head.length) throw refuse('The WAV header is incomplete.');
      format = readFormat(view, at + 8, length);
    }
    if (chunk === 'data') {
      if (!format) throw refuse('The WAV file does not say how its samples are stored.');
      const frame = format.channels * bytesOf(format.depth);
      if (at + 8 + length > size)
        throw refuse(`The WAV file is cut off: ${missing(at + 8 + length - size)} of it are missing.`);
      if (length < frame) throw refuse('The WAV file has no samples in it.');
      const frames = Math.floor(length / frame);
      return { ...format, frames, at: at + 8, end: at + 8 + frames * frame };
    }
    at += 8 + length + (length % 2);
  }
  throw refuse('The WAV file has no samples in it.');
}

const missing = (bytes: number): string => (bytes < 10_000 ? `${bytes} bytes` : `${(bytes / 1e6).toFixed(1)} MB`);
const bytesOf = (depth: BitDepth): number => ({ '16': 2, '24': 3, float: 4 })[depth];

function readFormat(view: DataView, at: number, length: number): Format {
  const [channels, rate, bits] = [
    view.getUint16(at + 2, true),
    view.getUint32(at + 4, true),
    view.getUint16(at + 14, true),
  ];
  const code = view.getUint16(at, true);
  // An extensible description names its real format in the first two bytes of its last part.
  const kind = code === EXTENSIBLE && length >= 26 ? view.getUint16(at + 24, true) : code;
  const depth =
    kind === PCM && bits === 16
      ? '16'
      : kind === PCM && bits === 24
        ? '24'
        : kind === FLOAT && bits === 32
          ? 'float'
          : undefined;
  if (!depth)
    throw refuse(
      `Unsupported sample format (${kind}, ${bits} bits).`,
      'Export it with 16 or 24 bits or as 32-bit float.',
    );
  if (rate < RATES[0] || rate > RATES[1])
    throw refuse(`Its sample rate is ${rate} Hz.`, 'Export it with 44.1 to 96 kHz.');
  if (channels < 1 || channels > MOST_CHANNELS)
    throw refuse(`It has ${channels} channels.`, `Export it with 1 to ${MOST_CHANNELS}.`);
  return { rate, channels, depth };
}

/** Makes room for samples. */
type Allocate = (count: number) => Float32Array;

const inMemory: Allocate = (count) => new Float32Array(count);

/** Samples in the order in which they are stored; every machine that runs this puts the low byte first. */
function samplesOf(stored: Uint8Array, depth: BitDepth, make: Allocate): Int16Array | Float32Array {
  // Numbers of several bytes have to begin at a multiple of as many.
  const { buffer, byteOffset, length } = stored.byteOffset % 4 === 0 ? stored : new Uint8Array(stored);
  if (depth === '16') return new Int16Array(buffer, byteOffset, length / 2);
  if (depth === 'float') return new Float32Array(buffer, byteOffset, length / 4);
  const samples = make(length / 3);
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
const FULL_SCALE: Readonly<Record<BitDepth, number>> = { '16': 2 ** 15, '24': 1, float: 1 };

/** What a recording of nothing may hold: two steps of 16 bits, as much as dither makes; −84 dB of full scale. */
export const SILENT_STEM_PEAK = 2 ** -14;

/** The highest sample among samples as they are stored, as a part of full scale. */
export function peakOf(stored: Uint8Array, depth: BitDepth): number {
  let peak = 0;
  for (const sample of samplesOf(stored, depth, inMemory))
    // What is no number is no peak: whoever mixes it is told.
    if (Math.abs(sample) > peak) peak = Math.abs(sample);
  return peak / FULL_SCALE[depth];
}

/**
 * Reads a whole WAV file.
 * @param make makes room for the samples of a channel
 * @throws Fault `refused-input` with a sentence that says what is wrong
 */
export function readWav(bytes: Uint8Array, make: Allocate = inMemory): PcmAudio {
  const { rate, channels, depth, frames, at, end } = parseWavHeader(bytes, bytes.length);
  const samples = samplesOf(bytes.subarray(at, end), depth, channels === 1 ? make : inMemory);
  if (depth === '24' && channels === 1) return { rate, channels: [samples as Float32Array] };
  const by = 1 / FULL_SCALE[depth];
  const read = Array.from({ length: channels }, (_, c) => {
    const channel = make(frames);
    deinterleaveChannel(samples, c, channels, by, channel);
    return channel;
  });
  if (depth === 'float' && !read.every(areFinite)) throw refuse('The WAV file has samples that are not numbers.');
  return { rate, channels: read };
}

function deinterleaveChannel(
  from: Int16Array | Float32Array,
  first: number,
  n: number,
  by: number,
  into: Float32Array,
): void {
  for (let i = 0, at = first; i < into.length; i++, at += n) into[i] = from[at]! * by;
}

/** Whether none is infinite or no number: times nothing they would not be nothing. */
function areFinite(samples: Float32Array): boolean {
  let nothing = 0;
  for (let i = 0; i < samples.length; i++) nothing += samples[i]! * 0;
  return nothing === 0;
}

/**
 * Writes a WAV file. What does not fit 16 or 24 bits is held at full scale.
 * @param dither adds triangular noise of two steps where bits are lost, so that what gets quieter turns into noise and not
 * into distortion; the same sound always gets the same noise
 */
export function writeWav(sound: PcmAudio, depth: BitDepth, dither: boolean): Uint8Array {
  const { rate, channels } = sound;
  const [frames, width] = [frameCount(sound), bytesOf(depth)];
  const length = frames * channels.length * width;
  const bytes = new Uint8Array(44 + length + (length % 2));
  const view = new DataView(bytes.buffer);
  const put = (at: number, name: string) => bytes.set(utf8ToBytes(name), at);
  put(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  put(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, depth === 'float' ? FLOAT : PCM, true);
  view.setUint16(22, channels.length, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * channels.length * width, true);
  view.setUint16(32, channels.length * width, true);
  view.setUint16(34, width * 8, true);
  put(36, 'data');
  view.setUint32(40, length, true);
  if (depth === 'float') {
    const samples = new Float32Array(bytes.buffer, 44);
    channels.forEach((channel, c) => {
      for (let i = 0, to = c; i < frames; i++, to += channels.length) samples[to] = channel[i]!;
    });
    return bytes;
  }
  const full = depth === '16' ? 32_768 : 8_388_608;
  const noise = seededRandom(1);
  const steps = (value: number) =>
    Math.max(-full, Math.min(full - 1, Math.round(value * full + (dither ? noise() + noise() - 1 : 0))));
  let at = 44;
  for (let i = 0; i < frames; i++)
    for (const channel of channels) {
      const step = steps(channel[i]!);
      view.setUint16(at, step & 0xffff, true);
      if (depth === '24') view.setInt8(at + 2, step >> 16);
      at += width;
    }
  return bytes;
}

/** Numbers from 0 to 1 that look random and are the same for every seed (a 32-bit linear congruential generator). */
export function seededRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
}
