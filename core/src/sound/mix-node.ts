import { levelEnvelope, muteEnvelope, valueEnvelope } from './envelope';
import { processStrip, runEffect } from './chain';
import type { Feed, MixNode } from './mix-plan';
import { balanceGains, panGains, type PanLaw } from './pan';
import { factor } from './sound';

type Channels = readonly Float32Array[];

/**
 * Works out one step of a mix.
 * @param input the channels of what it depends on, by key: of other steps, or of a recording by its hash
 * @returns one or two channels of `frames` samples; what is shorter is filled with silence
 */
export function renderNode(node: MixNode, input: (key: string) => Channels, frames: number, rate: number): Channels {
  if (node.kind === 'stem') {
    const by = factor(node.gain);
    const channels = input(node.hash)
      .slice(0, 2)
      .map((samples) => {
        const copy = new Float32Array(frames);
        copy.set(samples.subarray(0, frames));
        if (by !== 1) for (let i = 0; i < copy.length; i++) copy[i] = (copy[i] as number) * by;
        return copy;
      });
    processStrip(node.strip, channels, rate);
    return channels;
  }
  // Summed in double precision, and rounded once.
  const sum = [new Float64Array(frames), new Float64Array(frames)] as const;
  for (const feed of node.feeds) addFeed(sum, feed, input(feed.from), node.law, rate);
  if (node.kind === 'effect') {
    const [left, right] = sum;
    for (let i = 0; i < frames; i++) left[i] = ((left[i] as number) + (right[i] as number)) * Math.SQRT1_2;
    const wet = runEffect(node.strip, Float32Array.from(left), rate);
    processStrip(withoutInserts(node.strip), wet, rate);
    return wet;
  }
  const channels = sum.map((side) => new Float32Array(side));
  if (node.kind === 'bus') processStrip(node.strip, channels, rate);
  return channels;
}

/** The inserts of an effect return are the effect itself. */
const withoutInserts = (strip: MixNode['strip']): MixNode['strip'] =>
  Object.fromEntries(Object.entries(strip).filter(([key]) => !key.startsWith('inserts/')));

function addFeed(
  sum: readonly [Float64Array, Float64Array],
  feed: Feed,
  from: Channels,
  law: PanLaw,
  rate: number,
): void {
  const [left, right] = sum;
  const [one, other] = [from[0] as Float32Array, from[1]];
  const frames = left.length;
  const gain = gainOf(feed, frames, rate);
  const level = typeof gain === 'number' ? gain : 1;
  const envelope = typeof gain === 'number' ? undefined : gain;
  if (typeof feed.pan !== 'number') {
    const places = valueEnvelope(feed.pan, frames, rate);
    const second = other ?? one;
    for (let from = 0; from < frames; from += PAN_STEP) {
      const to = Math.min(frames, from + PAN_STEP);
      let [l, r] = sides(law, other !== undefined, (places[from] as number) / 100);
      const [nextL, nextR] = sides(law, other !== undefined, (places[to - 1] as number) / 100);
      const [stepL, stepR] = [(nextL - l) / (to - from), (nextR - r) / (to - from)];
      for (let i = from; i < to; i++, l += stepL, r += stepR) {
        const by = envelope ? (envelope[i] as number) : level;
        left[i] = (left[i] as number) + (one[i] as number) * l * by;
        right[i] = (right[i] as number) + (second[i] as number) * r * by;
      }
    }
    return;
  }
  const [l, r] = sides(law, other !== undefined, feed.pan);
  // A narrower pair keeps its own share on each side and takes the rest from the other.
  const [own, across] = other ? [(1 + feed.width) / 2, (1 - feed.width) / 2] : [1, 0];
  const second = other ?? one;
  if (!envelope && across === 0) {
    if (l !== 0) addTo(left, one, l * level);
    if (r !== 0) addTo(right, second, r * level);
    return;
  }
  for (let i = 0; i < frames; i++) {
    const by = envelope ? (envelope[i] as number) : level;
    const [x, y] = [one[i] as number, second[i] as number];
    left[i] = (left[i] as number) + (x * own + y * across) * l * by;
    right[i] = (right[i] as number) + (y * own + x * across) * r * by;
  }
}

function addTo(side: Float64Array, from: Float32Array, level: number): void {
  for (let i = 0; i < side.length; i++) side[i] = (side[i] as number) + (from[i] as number) * level;
}

/** Samples over which a moving pan goes straight from one pair of gains to the next. */
const PAN_STEP = 32;

const sides = (law: PanLaw, pair: boolean, position: number): readonly [number, number] =>
  pair ? balanceGains(position) : panGains(law, position);

/** A feed's gain: one number, or one for each sample where anything moves it. */
function gainOf({ level, by, off, mutes }: Feed, frames: number, rate: number): number | Float32Array {
  if (typeof level === 'number' && mutes.length === 0) return level * by;
  const envelope =
    typeof level === 'number' ? new Float32Array(frames).fill(level) : levelEnvelope(level, off, frames, rate);
  const open = mutes.length > 0 ? muteEnvelope(mutes, frames, rate) : undefined;
  for (let i = 0; i < frames; i++) envelope[i] = (envelope[i] as number) * by * (open ? (open[i] as number) : 1);
  return envelope;
}
