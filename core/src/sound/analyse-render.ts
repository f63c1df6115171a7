import type { PcmAudio } from '../signal/sound';
import { correlationOverTime } from './correlation';
import type { Loudness } from './loudness';
import { thirdOctaveLevels } from './spectrum';

/** What is known of a finished mix besides its samples. */
export interface RenderMeasurements {
  readonly loudness: Loudness;
  /** The highest level in each of 400 equal parts, 0 … 1. */
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

/** What is shown of a mix besides. */
export const analyseRender = (sound: PcmAudio): RenderAnalysis => ({
  spectrum: thirdOctaveLevels(sound).map((level) => (Number.isFinite(level) ? level : null)),
  correlation: correlationOverTime(sound),
});
