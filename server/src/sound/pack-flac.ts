import { closeSync, openSync, rmSync, writeSync } from 'node:fs';

import { sampleEncoder } from '@old-echo/core/signal/wav-samples';
import type { Channels } from '@old-echo/core/sound/recording';

import type { Bounce } from './bounce-file';
import { libflac } from './libflac';
import { WavRecording } from './wav-recording';

/** Sound as a FLAC file of 24 bits (RFC 9639). */
export interface PackedSound {
  readonly bytes: Uint8Array;
  /** How often it was halved so that nothing of it is over full scale: what is unpacked is to be doubled as often. */
  readonly halved: number;
}

interface FlacFormat {
  readonly rate: number;
  readonly channels: number;
  readonly bits: 16 | 24;
  readonly frames: number;
}

/** libFLAC's usual one: higher ones take much longer for little. */
const COMPRESSION = 5;
/** Samples of each channel that are packed at once. */
const PIECE = 65_536;

/** Packs sound without loss but for what lies under 24 bits. */
export async function packFlac(channels: Channels, rate: number): Promise<PackedSound> {
  const frames = channels[0]?.length ?? 0;
  const halved = Math.max(0, Math.ceil(Math.log2(Math.max(1, highest(channels)))));
  const parts: Uint8Array[] = [];
  const format: FlacFormat = { rate, channels: channels.length, bits: 24, frames };
  const encode = sampleEncoder('24', false);
  const softer = channels.map((channel) => channel.map((x) => x / 2 ** halved));
  await pack(format, [wholeNumbers(encode(softer), 24)], (bytes) => void parts.push(bytes));
  return { bytes: Buffer.concat(parts), halved };
}

/** Writes a mix as a FLAC file of 16 or 24 bits. @throws Fault `refused-input` for a mix that cannot be read */
export async function packFlacFile({ file, depth, dither }: Bounce, to: string): Promise<void> {
  const bits = depth === '16' ? 16 : 24;
  const mix = new WavRecording(file);
  const open = openSync(to, 'w');
  try {
    const { rate, frames } = mix.info;
    const encode = sampleEncoder(depth, dither);
    const pieces = function* () {
      for (let at = 0; at < frames; at += PIECE) yield wholeNumbers(encode(mix.read(at, PIECE)), bits);
    };
    const summary = await pack({ rate, channels: mix.channels, bits, frames }, pieces(), (bytes) =>
      writeAll(open, bytes),
    );
    // What is known of it only now belongs to its beginning (RFC 9639, section 8.2).
    writeSync(open, summary.sizes, 0, summary.sizes.length, 12);
    writeSync(open, summary.md5, 0, summary.md5.length, 26);
  } catch (error) {
    rmSync(to, { force: true });
    throw error;
  } finally {
    closeSync(open);
    mix.close();
  }
}

/** What the head of a FLAC file says of all of it. */
interface FlacSummary {
  /** The sizes of its smallest and largest frame, in bytes, of 24 bits each. */
  readonly sizes: Uint8Array;
  /** The MD5 of its samples. */
  readonly md5: Uint8Array;
}

async function pack(
  { rate, channels, bits, frames }: FlacFormat,
  pieces: Iterable<Int32Array<ArrayBuffer>>,
  take: (bytes: Uint8Array) => void,
): Promise<FlacSummary> {
  const flac = await libflac();
  const encoder = flac.create_libflac_encoder(rate, channels, bits, COMPRESSION, frames, false, 0);
  const failed = () => new Error('the sound could not be packed');
  if (encoder === 0) throw failed();
  try {
    let summary: FlacSummary | undefined;
    const state = flac.init_encoder_stream(
      encoder,
      (bytes) => take(Uint8Array.from(bytes)),
      (said) => {
        const sizes = Buffer.alloc(6);
        sizes.writeUIntBE(said?.min_framesize ?? 0, 0, 3);
        sizes.writeUIntBE(said?.max_framesize ?? 0, 3, 3);
        summary = { sizes, md5: Buffer.from(said?.md5sum ?? '', 'hex') };
      },
    );
    if (state !== 0) throw failed();
    for (const piece of pieces)
      if (!flac.FLAC__stream_encoder_process_interleaved(encoder, piece, piece.length / channels)) throw failed();
    if (!flac.FLAC__stream_encoder_finish(encoder) || !summary) throw failed();
    return summary;
  } finally {
    flac.FLAC__stream_encoder_delete(encoder);
  }
}

const highest = (channels: Channels): number =>
  channels.reduce((most, channel) => channel.reduce((high, x) => Math.max(high, Math.abs(x)), most), 0);

/** Samples as they stand in a WAV file, as whole numbers. */
function wholeNumbers(stored: Uint8Array, bits: 16 | 24): Int32Array<ArrayBuffer> {
  const [view, width] = [Buffer.from(stored.buffer, stored.byteOffset, stored.length), bits / 8];
  return Int32Array.from({ length: stored.length / width }, (_, n) => view.readIntLE(n * width, width));
}

function writeAll(file: number, bytes: Uint8Array): void {
  for (let from = 0; from < bytes.length;) from += writeSync(file, bytes, from);
}
