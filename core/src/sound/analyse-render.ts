import { frameCount, type PcmAudio } from '../signal/sound';
import { correlationOverTime } from './correlation';
import { type Loudness, measureLoudness } from './loudness';
import { thirdOctaveLevels } from './spectrum';

/** What is known of a finished mix besides its samples. */
export interface RenderMeasurements {
  readonly loudness: Loudness;
  /** The highest level in each of {@link OVERVIEW_BARS} equal parts, 0 … 1. */
  readonly overview: readonly number[];
  readonly seconds: number;
}

/** What is worked out of a finished mix once somebody wants to look at it. */
export interface RenderAnalysis {
  /** dB in each third octave from 20 Hz. */
  readonly spectrum: readonly (number | null)[];
  /** How alike left and right are, every 100 ms over 400 ms. */
  readonly correlation: readonly (number | null)[];
}

/** Parts of a waveform overview. */
const OVERVIEW_BARS = 400;

/** What has to be known of a mix before it is played. */
export const measure = (sound: PcmAudio): RenderMeasurements => ({
  loudness: measureLoudness(sound),
  overview: overviewOf(sound),
  seconds: frameCount(sound) / sound.rate,
});

/** What is shown of a mix besides. */
export const analyseRender = (sound: PcmAudio): RenderAnalysis => ({
  spectrum: thirdOctaveLevels(sound).map((level) => (Number.isFinite(level) ? level : null)),
  correlation: correlationOverTime(sound),
});

/** The highest level of any channel in each of {@link OVERVIEW_BARS} equal parts. */
function overviewOf(sound: PcmAudio): number[] {
  const frames = frameCount(sound);
  const highest = (from: number, to: number) =>
    sound.channels.reduce((most, channel) => Math.max(most, highestOf(channel, from, to)), 0);
  return Array.from({ length: OVERVIEW_BARS }, (_, part) =>
    Number(
      highest(Math.floor((part * frames) / OVERVIEW_BARS), Math.floor(((part + 1) * frames) / OVERVIEW_BARS)).toFixed(
        4,
      ),
    ),
  );
}

function highestOf(samples: Float32Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) {
    const level = Math.abs(samples[i]!);
    if (level > most) most = level;
  }
  return most;
}
