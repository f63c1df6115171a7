import { WavRecording } from './wav-recording';
import { WavWriter } from './wav-writer';

/** Samples of each channel that are resampled at once. */
const PIECE = 65_536;

/**
 * Writes a recording at another rate, by libsamplerate's best filter, a piece at a time.
 * @param rate Hz
 * @throws Fault `refused-input` for what cannot be read
 */
export async function resampleStem(from: string, rate: number, file: string, part: string): Promise<void> {
  // It takes as long to load as all else of a thread, and most recordings are at the rate of the mix.
  const { default: libsamplerate } = await import('@alexanderolsen/libsamplerate-js');
  const recording = new WavRecording(from);
  const { channels, info } = recording;
  const frames = Math.ceil((info.frames * rate) / info.rate);
  const converter = await libsamplerate.create(channels, info.rate, rate, {
    converterType: libsamplerate.ConverterType.SRC_SINC_BEST_QUALITY,
  });
  const writer = new WavWriter({ file, part, rate, channels, frames, depth: 'float', dither: false });
  try {
    let written = 0;
    // Silence behind it brings out what the converter still holds.
    for (let at = 0; written < frames; at += PIECE) {
      const read = recording.read(at, PIECE);
      const piece = new Float32Array(PIECE * channels);
      read.forEach((channel, c) => {
        for (let i = 0, to = c; i < channel.length; i++, to += channels) piece[to] = channel[i] ?? 0;
      });
      const made = converter.full(piece);
      const count = Math.min(frames - written, Math.floor(made.length / channels));
      writer.add(
        Array.from({ length: channels }, (_, c) =>
          Float32Array.from({ length: count }, (_, i) => made[i * channels + c] ?? 0),
        ),
      );
      written += count;
    }
    writer.end();
  } catch (error) {
    writer.discard();
    throw error;
  } finally {
    converter.destroy();
    recording.close();
  }
}
