import { frameCount, type PcmAudio } from './sound';
import { type BitDepth, parseWavHeader, refuseWav, wavHeader } from './wav-header';
import { areFinite, decodeSamples, sampleEncoder } from './wav-samples';

/** Reads a whole WAV file. @throws Fault `refused-input` with a sentence that says what is wrong */
export function readWav(bytes: Uint8Array): PcmAudio {
  const { rate, channels, depth, at, end } = parseWavHeader(bytes, bytes.length);
  const read = decodeSamples(bytes.subarray(at, end), depth, channels);
  if (depth === 'float' && !read.every(areFinite)) throw refuseWav('The WAV file has samples that are not numbers.');
  return { rate, channels: read };
}

/** Writes a whole WAV file; see {@link sampleEncoder}. */
export function writeWav(sound: PcmAudio, depth: BitDepth, dither: boolean): Uint8Array {
  const { rate, channels } = sound;
  const head = wavHeader({ rate, channels: channels.length, depth, frames: frameCount(sound) });
  const samples = sampleEncoder(depth, dither)(channels);
  const bytes = new Uint8Array(head.length + samples.length + (samples.length % 2));
  bytes.set(head);
  bytes.set(samples, head.length);
  return bytes;
}
