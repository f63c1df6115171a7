import { utf8ToBytes } from '@noble/hashes/utils.js';

import { Fault } from '../fault/fault';

/** How samples are written: 16 or 24 bits, or 32-bit floats. */
export const DEPTHS = ['16', '24', 'float'] as const;
export type BitDepth = (typeof DEPTHS)[number];

/** How samples are stored in files that are read. */
export const STORED_DEPTHS = ['16', '24', '32', 'float'] as const;
export type StoredDepth = (typeof STORED_DEPTHS)[number];

export interface WavFormat {
  readonly rate: number;
  readonly channels: number;
  readonly depth: StoredDepth;
  readonly frames: number;
}

export interface WavInfo extends WavFormat {
  /** Samples from midnight to where it begins, as Broadcast Wave says it (EBU Tech 3285); null where nothing does. */
  readonly timeReference: number | null;
  /** Where the samples begin and end, in bytes. */
  readonly at: number;
  readonly end: number;
}

type Format = Pick<WavFormat, 'rate' | 'channels' | 'depth'>;

/** What a Broadcast Wave file says of its loudness, in LUFS, LU and dBTP; null where it is not defined. */
export interface WavLoudness {
  readonly integrated: number | null;
  readonly range: number | null;
  readonly truePeak: number | null;
  readonly momentaryMax: number | null;
  readonly shortTermMax: number | null;
}

/** What a Broadcast Wave file says beside its samples. */
export interface WavBroadcast {
  readonly loudness?: WavLoudness | undefined;
  /** Samples from midnight to where it begins. */
  readonly timeReference?: number | null;
}

/** The lowest and the highest sample rate that is read, in Hz. */
const RATES = [44_100, 192_000] as const;
/** The most channels that are read: 5.1. */
const MOST_CHANNELS = 6;
const [PCM, FLOAT, EXTENSIBLE] = [1, 3, 0xfffe];
/** What a length of 32 bits says where the real one is in a chunk of its own (EBU Tech 3306, ITU-R BS.2088). */
const LENGTH_ELSEWHERE = 0xffff_ffff;
/** Places in a `bext` chunk (EBU Tech 3285, version 2), in bytes. */
const [ORIGINATOR_AT, TIME_REFERENCE_AT, VERSION_AT, LOUDNESS_AT, BEXT_SIZE] = [256, 338, 346, 412, 602];
/** What stands for a loudness that is not defined. */
const NO_LOUDNESS = 0x7fff;
const NOTHING_SAID: WavLoudness = {
  integrated: null,
  range: null,
  truePeak: null,
  momentaryMax: null,
  shortTermMax: null,
};

export const refuseWav = (why: string, advice = 'Nothing was saved. Export it again as a WAV file.'): Fault =>
  new Fault('refused-input', why, advice);

export const bytesPerSample = (depth: StoredDepth): number => ({ '16': 2, '24': 3, '32': 4, float: 4 })[depth];

/**
 * What a WAV file holds, from its first bytes: RIFF, or RF64 and BW64 for what is longer than 4 GB.
 * @param head at least the bytes before the samples
 * @param size the whole file, in bytes
 * @throws Fault `refused-input` with a sentence that says what is wrong
 */
export function parseWavHeader(head: Uint8Array, size: number): WavInfo {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const name = (at: number) => String.fromCharCode(...head.subarray(at, at + 4));
  if (head.length < 12 || !['RIFF', 'RF64', 'BW64'].includes(name(0)) || name(8) !== 'WAVE')
    throw refuseWav('Not a WAV file.');
  let format: Format | undefined;
  let dataLength: number | undefined;
  let timeReference: number | null = null;
  for (let at = 12; at + 8 <= head.length;) {
    const [chunk, said] = [name(at), view.getUint32(at + 4, true)];
    if (chunk === 'ds64' && said >= 24 && at + 32 <= head.length) dataLength = Number(view.getBigUint64(at + 16, true));
    if (chunk === 'bext') timeReference = timeReferenceOf(head.subarray(at));
    if (chunk === 'fmt ') {
      if (said < 16 || at + 8 + said > head.length) throw refuseWav('The WAV header is incomplete.');
      format = readFormat(view, at + 8, said);
    }
    if (chunk === 'data') {
      if (!format) throw refuseWav('The WAV file does not say how its samples are stored.');
      const length = said === LENGTH_ELSEWHERE ? (dataLength ?? said) : said;
      const frame = format.channels * bytesPerSample(format.depth);
      if (at + 8 + length > size)
        throw refuseWav(`The WAV file is cut off: ${missing(at + 8 + length - size)} of it are missing.`);
      if (length < frame) throw refuseWav('The WAV file has no samples in it.');
      const frames = Math.floor(length / frame);
      return { ...format, frames, timeReference, at: at + 8, end: at + 8 + frames * frame };
    }
    at += 8 + said + (said % 2);
  }
  throw refuseWav('The WAV file has no samples in it.');
}

/**
 * Samples from midnight, as a `bext` chunk says it (EBU Tech 3285); null for another chunk, and for what nobody can count.
 * @param chunk from its name on
 */
export function timeReferenceOf(chunk: Uint8Array): number | null {
  const view = new DataView(chunk.buffer, chunk.byteOffset, chunk.byteLength);
  const at = 8 + TIME_REFERENCE_AT;
  if (chunk.length < at + 8 || String.fromCharCode(...chunk.subarray(0, 4)) !== 'bext') return null;
  if (view.getUint32(4, true) < TIME_REFERENCE_AT + 8) return null;
  const said = Number(view.getBigUint64(at, true));
  return Number.isSafeInteger(said) ? said : null;
}

const missing = (bytes: number): string => (bytes < 10_000 ? `${bytes} bytes` : `${(bytes / 1e6).toFixed(1)} MB`);

function readFormat(view: DataView, at: number, length: number): Format {
  const [channels, rate, bits] = [
    view.getUint16(at + 2, true),
    view.getUint32(at + 4, true),
    view.getUint16(at + 14, true),
  ];
  const code = view.getUint16(at, true);
  // An extensible description names its real format in the first two bytes of its last part.
  const kind = code === EXTENSIBLE && length >= 26 ? view.getUint16(at + 24, true) : code;
  const depth = STORED_DEPTHS.find((one) =>
    one === 'float' ? kind === FLOAT && bits === 32 : kind === PCM && bits === Number(one),
  );
  if (!depth)
    throw refuseWav(
      `Unsupported sample format (${kind}, ${bits} bits).`,
      'Export it with 16, 24 or 32 bits or as 32-bit float.',
    );
  if (rate < RATES[0] || rate > RATES[1])
    throw refuseWav(`Its sample rate is ${rate} Hz.`, 'Export it with 44.1 to 192 kHz.');
  if (channels < 1 || channels > MOST_CHANNELS)
    throw refuseWav(`It has ${channels} channels.`, `Export it with 1 to ${MOST_CHANNELS}.`);
  return { rate, channels, depth };
}

/** A chunk's name, and the length of what follows. */
interface Chunk {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/**
 * What stands before the samples of a WAV file. Floats have the longer description and the number of samples that the format
 * asks of whatever is not PCM (Multimedia Data Standards Update, 1994); what is longer than 4 GB is RF64 (EBU Tech 3306).
 * @param broadcast what is said of it in the way of Broadcast Wave
 */
export function wavHeader({ rate, channels, depth, frames }: WavFormat, broadcast: WavBroadcast = {}): Uint8Array {
  const width = bytesPerSample(depth);
  const length = frames * channels * width;
  const format = new DataView(new ArrayBuffer(depth === 'float' ? 18 : 16));
  format.setUint16(0, depth === 'float' ? FLOAT : PCM, true);
  format.setUint16(2, channels, true);
  format.setUint32(4, rate, true);
  format.setUint32(8, rate * channels * width, true);
  format.setUint16(12, channels * width, true);
  format.setUint16(14, width * 8, true);
  const count = new DataView(new ArrayBuffer(4));
  count.setUint32(0, Math.min(frames, LENGTH_ELSEWHERE), true);
  const chunks: Chunk[] = [
    ...(broadcast.loudness || broadcast.timeReference != null ? [broadcastChunk(broadcast)] : []),
    { name: 'fmt ', bytes: new Uint8Array(format.buffer) },
    ...(depth === 'float' ? [{ name: 'fact', bytes: new Uint8Array(count.buffer) }] : []),
  ];
  const before = chunks.reduce((sum, { bytes }) => sum + 8 + bytes.length, 12);
  const size = before + 8 + length + (length % 2);
  const isLong = size - 8 >= LENGTH_ELSEWHERE;
  const all = isLong ? [longLengths(size + 8 + 28, length, frames), ...chunks] : chunks;
  const head = new Uint8Array(before + 8 + (isLong ? 36 : 0));
  const view = new DataView(head.buffer);
  head.set(utf8ToBytes(isLong ? 'RF64' : 'RIFF'));
  view.setUint32(4, isLong ? LENGTH_ELSEWHERE : size - 8, true);
  head.set(utf8ToBytes('WAVE'), 8);
  let at = 12;
  for (const { name, bytes } of all) {
    head.set(utf8ToBytes(name), at);
    view.setUint32(at + 4, bytes.length, true);
    head.set(bytes, at + 8);
    at += 8 + bytes.length;
  }
  head.set(utf8ToBytes('data'), at);
  view.setUint32(at + 4, isLong ? LENGTH_ELSEWHERE : length, true);
  return head;
}

function longLengths(size: number, length: number, frames: number): Chunk {
  const view = new DataView(new ArrayBuffer(28));
  view.setBigUint64(0, BigInt(size - 8), true);
  view.setBigUint64(8, BigInt(length), true);
  view.setBigUint64(16, BigInt(frames), true);
  return { name: 'ds64', bytes: new Uint8Array(view.buffer) };
}

/** EBU Tech 3285, version 2: loudness in hundredths, rounded to the nearest. */
function broadcastChunk({ loudness, timeReference }: WavBroadcast): Chunk {
  const view = new DataView(new ArrayBuffer(BEXT_SIZE));
  const bytes = new Uint8Array(view.buffer);
  bytes.set(utf8ToBytes('Old Echo'), ORIGINATOR_AT);
  view.setBigUint64(TIME_REFERENCE_AT, BigInt(timeReference ?? 0), true);
  view.setUint16(VERSION_AT, 2, true);
  const { integrated, range, truePeak, momentaryMax, shortTermMax } = loudness ?? NOTHING_SAID;
  [integrated, range, truePeak, momentaryMax, shortTermMax].forEach((value, n) =>
    view.setInt16(LOUDNESS_AT + 2 * n, value === null ? NO_LOUDNESS : Math.round(value * 100), true),
  );
  return { name: 'bext', bytes };
}
