import { inBlocks } from './blocks';
import { levelEnvelope, muteEnvelope, valueEnvelope } from './envelope';
import { processStrip, runEffect } from './chain';
import { kernels } from './kernels';
import type { Feed, MixNode } from './mix-plan';
import { balanceGains, panGains, type PanLaw } from './pan';
import { factor } from './sound';

type Channels = readonly Float32Array[];
type Four = [number, number, number, number];
type Fed = Exclude<MixNode, { readonly kind: 'stem' }>;

/**
 * Works out one step of a mix.
 * @param input the channels of what it depends on, by key: of other steps, or of a recording by its hash
 * @param make makes room for samples, silent at first
 * @returns one or two channels of `frames` samples; what is shorter is filled with silence
 */
export function renderNode(
  node: MixNode,
  input: (key: string) => Channels,
  frames: number,
  rate: number,
  make: (count: number) => Float32Array = (count) => new Float32Array(count),
): Channels {
  if (node.kind === 'stem') {
    const recording = input(node.hash).slice(0, 2);
    const channels = recording.map((samples) => {
      const copy = make(frames);
      copy.set(samples.subarray(0, frames));
      return copy;
    });
    processStrip(node.strip, channels, rate, factor(node.gain));
    return channels;
  }
  if (node.kind === 'effect' || node.kind === 'mono sum') {
    const sum = make(frames);
    addFeeds([sum], node, input, rate);
    if (node.kind === 'mono sum') return [sum];
    const wet = runEffect(node.strip, sum, rate);
    processStrip(withoutInserts(node.strip), wet, rate);
    return wet;
  }
  const channels = [make(frames), make(frames)];
  addFeeds(channels, node, input, rate);
  if (node.kind === 'bus') processStrip(node.strip, channels, rate);
  return channels;
}

/** Adds all that feeds a step to left and right, or both to one channel, whose level stays what it was in both. */
function addFeeds(
  into: readonly Float32Array[],
  { feeds, law }: Fed,
  input: (key: string) => Channels,
  rate: number,
): void {
  const { at, clearSums, takeOneSum, takeSums } = kernels();
  const frames = into[0]?.length ?? 0;
  const mono = into.length === 1;
  const ways = feeds.map((feed) => wayOf(feed, input(feed.from), law, mono, frames, rate));
  let from = 0;
  inBlocks(into, (count) => {
    clearSums();
    for (const add of ways) add(from, count);
    if (mono) takeOneSum(count);
    else takeSums(count);
    from += at.BLOCK;
  });
}

/** The inserts of an effect return are the effect itself. */
const withoutInserts = (strip: MixNode['strip']): MixNode['strip'] =>
  Object.fromEntries(Object.entries(strip).filter(([key]) => !key.startsWith('inserts/')));

/** Adds a block of a feed, from a sample on, to the kernels' sums. */
type Adding = (from: number, count: number) => void;

function wayOf(feed: Feed, [one, other]: Channels, law: PanLaw, mono: boolean, frames: number, rate: number): Adding {
  if (!one) throw new Error('a feed without a channel');
  const { at, left, right, singles, addFixed, addShaped } = kernels();
  const take = (from: number, count: number) => {
    left.set(one.subarray(from, from + count));
    if (other) right.set(other.subarray(from, from + count));
  };
  // A narrower pair keeps its own share on each side and takes the rest from the other.
  const pair = other !== undefined;
  const [own, across] = pair ? [(1 + feed.width) / 2, (1 - feed.width) / 2] : [1, 0];
  const gain = gainOf(feed, frames, rate);
  if (typeof gain === 'number' && typeof feed.pan === 'number') {
    const [l, r] = sides(law, pair, feed.pan);
    const [ll, rl, lr, rr] = [own * l, across * l, across * r, own * r].map((by) => by * gain) as Four;
    return (from, count) => {
      take(from, count);
      if (mono) addFixed(count, ll + lr, rl + rr, 0, 0);
      else addFixed(count, ll, rl, lr, rr);
    };
  }
  const places = typeof feed.pan === 'number' ? feed.pan / PERCENT : valueEnvelope(feed.pan, frames, rate);
  const [shapeL, shapeR] = [singles(at.SHAPES, at.BLOCK), singles(at.SHAPES + 4 * at.BLOCK, at.BLOCK)];
  return (start, count) => {
    take(start, count);
    if (!other) right.set(left);
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
    addShaped(count, own, across);
  };
}

const PERCENT = 1 / 100;
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
