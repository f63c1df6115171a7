import { sectionOf } from './address';

const LANES = 'automation/';

/**
 * The setting that a lane of automation moves, or whose processor it moves, by its key: `automation/fader` →
 * `fader/level`, `automation/fx.1` → `sends/fx.1/level`, `automation/inserts/2` → `inserts/2/kind`. Undefined for a key
 * that is no lane.
 */
export function movedByLane(key: string): string | undefined {
  if (sectionOf(key) !== 'automation') return undefined;
  const of = key.slice(LANES.length);
  if (of === 'inserts' || of.startsWith('inserts/')) return `${of}/kind`;
  if (of === 'fader') return 'fader/level';
  if (of === 'mute') return 'mute/on';
  if (of === 'pan') return 'pan/position';
  return `sends/${of}/level`;
}

/** The lane of the processor that a key names: `inserts/2/kind` → `automation/inserts/2`; undefined for any other key. */
export function laneOfProcessor(key: string): string | undefined {
  const slot = /^(inserts(?:\/\d+)?)\/kind$/.exec(key)?.[1];
  return slot && `${LANES}${slot}`;
}
