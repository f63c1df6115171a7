import { OVERVIEW, type Measured } from '../contracts/sound';
import { correlationOverTime } from './correlation';
import { measureLoudness } from './loudness';
import { framesOf, type Sound } from './sound';
import { thirdOctaveLevels } from './spectrum';

/** Everything that is shown of a mix besides its sound. */
export function measure(sound: Sound): Measured {
  return {
    loudness: measureLoudness(sound),
    spectrum: thirdOctaveLevels(sound).map((level) => (Number.isFinite(level) ? level : null)),
    correlation: correlationOverTime(sound),
    overview: overviewOf(sound),
    seconds: framesOf(sound) / sound.rate,
  };
}

/** The highest level of any channel in each of {@link OVERVIEW} equal parts. */
function overviewOf(sound: Sound): number[] {
  const frames = framesOf(sound);
  return Array.from({ length: OVERVIEW }, (_, part) => {
    const [from, to] = [Math.floor((part * frames) / OVERVIEW), Math.floor(((part + 1) * frames) / OVERVIEW)];
    let most = 0;
    for (const channel of sound.channels)
      for (let i = from; i < to; i++) most = Math.max(most, Math.abs(channel[i] as number));
    return Number(most.toFixed(4));
  });
}
