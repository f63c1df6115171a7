import { OVERVIEW, type Analysis, type Measured } from '../contracts/sound';
import { correlationOverTime } from './correlation';
import { measureLoudness } from './loudness';
import { framesOf, type Sound } from '../signal/sound';
import { thirdOctaveLevels } from './spectrum';

/** What has to be known of a mix before it is played. */
export const measure = (sound: Sound): Measured => ({
  loudness: measureLoudness(sound),
  overview: overviewOf(sound),
  seconds: framesOf(sound) / sound.rate,
});

/** What is shown of a mix besides. */
export const analyse = (sound: Sound): Analysis => ({
  spectrum: thirdOctaveLevels(sound).map((level) => (Number.isFinite(level) ? level : null)),
  correlation: correlationOverTime(sound),
});

/** The highest level of any channel in each of {@link OVERVIEW} equal parts. */
function overviewOf(sound: Sound): number[] {
  const frames = framesOf(sound);
  const highest = (from: number, to: number) =>
    sound.channels.reduce((most, channel) => Math.max(most, highestOf(channel, from, to)), 0);
  return Array.from({ length: OVERVIEW }, (_, part) =>
    Number(highest(Math.floor((part * frames) / OVERVIEW), Math.floor(((part + 1) * frames) / OVERVIEW)).toFixed(4)),
  );
}

function highestOf(samples: Float32Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) {
    const level = Math.abs(samples[i] as number);
    if (level > most) most = level;
  }
  return most;
}
