import { sourceOf, type Source, type Step } from './blocks';
import { levelEnvelope, muteEnvelope, valueEnvelope } from './envelope';
import { kernels } from './kernels';
import type { Fed, Passage } from './mix-plan';
import { balanceGains, panGains, type PanLaw } from './pan';
import type { Channels } from './render';

/** Adds the block that lies in the kernels to one of their sums; it is the part of its sound from a sample on. */
type Adding = (from: number, frames: number) => void;

/** Whether a step adds all that feeds it into one channel, whose level stays what it was in both. */
export const isMono = ({ kind }: Fed): boolean => kind === 'effect' || kind === 'mono sum';

/**
 * What makes the sums of some steps, each in the kernels' sum of its place, block by block.
 * What feeds several of them is read once.
 */
export function summing(steps: readonly Fed[], input: (key: string) => Channels, frames: number, rate: number): Adding {
  const bySource = new Map<string, { take: Source; adding: Adding[] }>();
  steps.forEach((step, sum) => {
    for (const feed of step.feeds) {
      const channels = input(feed.from);
      if (!channels[0]) throw new Error('a feed without a channel');
      const source = bySource.get(feed.from) ?? { take: sourceOf(channels), adding: [] };
      const pair = channels.length > 1;
      source.adding.push(addingOf(feed, { pair, mono: isMono(step), law: step.law, sum }, frames, rate));
      bySource.set(feed.from, source);
    }
  });
  const sources = [...bySource.values()];
  return (from, count) => {
    kernels().clearSums(steps.length);
    for (const { take, adding } of sources) {
      take(from, count);
      for (const add of adding) add(from, count);
    }
  };
}

/** A step that passes the block on as a strip's fader does. It has to run through all of a sound. */
export function passing(passage: Passage, frames: number, rate: number): Step {
  const { clearSums, takeSums } = kernels();
  const add = addingOf(passage, { pair: true, mono: false, law: 'linear', sum: 0 }, frames, rate);
  let from = 0;
  return (count) => {
    clearSums(1);
    add(from, count);
    takeSums(count, 0);
    from += count;
  };
}

interface Way {
  /** Whether left and right come in. */
  readonly pair: boolean;
  /** Whether both go into one channel. */
  readonly mono: boolean;
  readonly law: PanLaw;
  readonly sum: number;
}

function addingOf(passage: Passage, { pair, mono, law, sum }: Way, frames: number, rate: number): Adding {
  const { at, left, right, singles, addFixed, addShaped } = kernels();
  // A narrower pair keeps its own share on each side and takes the rest from the other; one channel goes to both sides.
  const [own, across] = pair ? [(1 + passage.width) / 2, (1 - passage.width) / 2] : [1, 0];
  const gain = gainOf(passage, frames, rate);
  if (typeof gain === 'number' && typeof passage.pan === 'number') {
    const [l, r] = sides(law, pair, passage.pan).map((by) => by * gain) as [number, number];
    const [ll, rl, lr, rr] = pair ? [own * l, across * l, across * r, own * r] : [l, 0, r, 0];
    if (mono) return (_, count) => addFixed(count, sum, ll + lr, rl + rr, 0, 0);
    return (_, count) => addFixed(count, sum, ll, rl, lr, rr);
  }
  const places = typeof passage.pan === 'number' ? passage.pan / PERCENT : valueEnvelope(passage.pan, frames, rate);
  const [shapeL, shapeR] = [singles(at.SHAPES, at.BLOCK), singles(at.SHAPES + 4 * at.BLOCK, at.BLOCK)];
  return (start, count) => {
    if (!pair) right.set(left);
    for (let from = 0; from < count; from += PAN_STEP) {
      const to = Math.min(count, from + PAN_STEP);
      const placeAt = (i: number) => (typeof places === 'number' ? places : (places[start + i] as number)) * PERCENT;
      let [l, r] = sides(law, pair, placeAt(from));
      const [nextL, nextR] = sides(law, pair, placeAt(to - 1));
      const [stepL, stepR] = [(nextL - l) / (to - from), (nextR - r) / (to - from)];
      for (let i = from; i < to; i++, l += stepL, r += stepR) {
        const by = typeof gain === 'number' ? gain : (gain[start + i] as number);
        shapeL[i] = l * by;
        shapeR[i] = r * by;
      }
    }
    addShaped(count, sum, own, across);
  };
}

const PERCENT = 1 / 100;
/** Samples over which a moving pan goes straight from one pair of gains to the next. */
const PAN_STEP = 32;

const sides = (law: PanLaw, pair: boolean, position: number): readonly [number, number] =>
  pair ? balanceGains(position) : panGains(law, position);

/** A feed's gain: one number, or one for each sample where anything moves it. */
function gainOf({ level, by, off, mutes }: Passage, frames: number, rate: number): number | Float32Array {
  if (typeof level === 'number' && mutes.length === 0) return level * by;
  const envelope =
    typeof level === 'number' ? new Float32Array(frames).fill(level) : levelEnvelope(level, off, frames, rate);
  const open = mutes.length > 0 ? muteEnvelope(mutes, frames, rate) : undefined;
  for (let i = 0; i < frames; i++) envelope[i] = (envelope[i] as number) * by * (open ? (open[i] as number) : 1);
  return envelope;
}
