import { closeSync, openSync, readSync } from 'node:fs';

import { MAX_STEM_BYTES, stemTooLargeFault } from '@old-echo/core/contracts/sound';
import { Fault } from '@old-echo/core/fault/fault';

import { flacTimeReference } from './flac-time-reference';
import { libflac } from './libflac';
import { WavWriter } from './wav-writer';

/** How a FLAC file begins (RFC 9639, section 6). */
const MARK = 'fLaC';
/** Bits of a sample that the library hands over as they are. */
const BITS: readonly number[] = [8, 16, 24];

const refuse = (why: string): Fault =>
  new Fault('refused-input', why, 'Nothing was saved. Export it again as a FLAC or WAV file.');

export function isFlac(file: string): boolean {
  const open = openSync(file, 'r');
  try {
    const head = Buffer.alloc(MARK.length);
    readSync(open, head, 0, head.length, 0);
    return head.toString('latin1') === MARK;
  } finally {
    closeSync(open);
  }
}

/**
 * Writes what is in a FLAC file as a WAV file of 16 or 24 bits, a frame at a time; its samples are held against the MD5 that it has.
 * @throws Fault `refused-input` with a sentence, where nothing is left of the WAV file
 */
export async function unpackFlac(from: string, to: string): Promise<void> {
  const flac = await libflac();
  const decoder = flac.create_libflac_decoder(true);
  const file = openSync(from, 'r');
  const out: { writer?: WavWriter } = {};
  let [written, all] = [0, 0];
  /** Nothing may be thrown through what the library calls. */
  let fault: Error | undefined;
  const orStop = (work: () => void): void => {
    if (fault !== undefined) return;
    try {
      work();
    } catch (error) {
      fault = error instanceof Error ? error : new Error(String(error));
    }
  };
  try {
    const state = flac.init_decoder_stream(
      decoder,
      (most) => {
        const bytes = new Uint8Array(most);
        const readDataLength = fault === undefined ? readSync(file, bytes, 0, most, null) : 0;
        return { buffer: bytes.subarray(0, readDataLength), readDataLength, error: fault !== undefined };
      },
      (channels, { bitsPerSample }) =>
        orStop(() => {
          const samples = channels.map((bytes) => samplesOf(bytes, bitsPerSample));
          written += samples[0]?.length ?? 0;
          if (written > all) throw refuse('The FLAC file is longer than it says.');
          out.writer?.add(samples);
        }),
      () => orStop(() => damaged()),
      (said) =>
        orStop(() => {
          if (!said || out.writer) return;
          const { sampleRate: rate, channels, bitsPerSample: bits, total_samples: frames } = said;
          if (!BITS.includes(bits)) throw refuse(`The FLAC file has ${bits} bits a sample; 8, 16 and 24 are read.`);
          if (frames === 0) throw refuse('The FLAC file does not say how long it is.');
          const depth = bits <= 16 ? '16' : '24';
          const size = frames * channels * (Number(depth) / 8);
          if (size > MAX_STEM_BYTES) throw stemTooLargeFault(size);
          all = frames;
          const timeReference = flacTimeReference(from);
          out.writer = new WavWriter({
            file: to,
            part: to,
            rate,
            channels,
            frames,
            depth,
            dither: false,
            timeReference,
          });
        }),
    );
    if (state !== 0) throw new Error('the FLAC file could not be opened');
    const isThrough = flac.FLAC__stream_decoder_process_until_end_of_stream(decoder);
    const isWhole = flac.FLAC__stream_decoder_finish(decoder);
    if (fault !== undefined) throw fault;
    if (!out.writer || !isThrough || !isWhole) damaged();
    if (written < all) throw refuse(`The FLAC file is cut off: ${all - written} of ${all} samples are missing.`);
    out.writer.end();
  } catch (error) {
    out.writer?.discard();
    throw error;
  } finally {
    flac.FLAC__stream_decoder_delete(decoder);
    closeSync(file);
  }
}

function damaged(): never {
  throw refuse('The FLAC file is damaged: its samples are not what it says they are.');
}

/** Samples −1 … 1 of one channel, from whole numbers of 16 or 32 bits as the library gives them. */
function samplesOf(bytes: Uint8Array, bits: number): Float32Array {
  const width = bits <= 16 ? 2 : 4;
  const view = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
  return Float32Array.from(
    { length: bytes.length / width },
    (_, n) => view.readIntLE(n * width, width) / 2 ** (bits - 1),
  );
}
