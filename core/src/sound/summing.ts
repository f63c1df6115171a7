import { type BlockProcessor, samplesAt } from './block-processor';
import { type Envelope, levelEnvelope, muteEnvelope, valueEnvelope } from './envelope';
import { balanceGains, panGains, type PanLaw } from './pan-law';
import type { Channels } from './recording';
import type { FaderStage, SummingNode } from './render-graph';
import { kernels } from './wasm-kernels';

/** Adds the block that lies in the kernels to one of their sums; it is the part of its sound from a sample on. */
type BlockMixer = (from: number, frames: number) => void;

/** Effect inputs are summed to mono at −3 dB, so that a pair keeps its level. */
const isMono = ({ kind }: SummingNode): boolean =>
  kind === 'effect' || kind === 'mono sum' || kind === 'mono strip sum';

/**
 * What makes the sums of some steps, each in the kernels' sum of its place, block by block.
 * What feeds several of them is read once.
 * @param window the window of what feeds them, by its key
 */
export function createSummer(
  steps: readonly SummingNode[],
  window: (key: string) => Channels,
  rate: number,
): BlockProcessor {
  const { at, clearSums, singles, addFeeds } = kernels();
  const bySource = new Map<string, SharedInput>();
  steps.forEach((step, sum) => {
    for (const feed of step.feeds) {
      const channels = window(feed.from);
      if (!channels[0]) throw new Error('a feed without a channel');
      const source: SharedInput = bySource.get(feed.from) ?? { channels, fixed: new Map(), moving: [] };
      bySource.set(feed.from, source);
      const way = mixGains(feed, { pair: channels.length > 1, mono: isMono(step), law: step.law, sum }, rate);
      if (typeof way === 'function') source.moving.push(way);
      else source.fixed.set(sum, addGains(way, source.fixed.get(sum)));
    }
  });
  const read = pairMonoInputs([...bySource.values()]);
  const table = read.flatMap(({ fixed }) => [...fixed].map(([sum, way]) => [sum, ...way]));
  if (table.length > at.MOST_FEEDS) throw new Error(`${table.length} feeds are more than can be summed at once`);
  singles(at.FEEDS, 5 * table.length).set(table.flat());
  return {
    run: (frames, from) => {
      clearSums(steps.length);
      let row = 0;
      for (const { channels, fixed, moving } of read) {
        loadBlock(channels, from, frames);
        addFeeds(frames, row, fixed.size);
        row += fixed.size;
        for (const add of moving) add(from, frames);
      }
    },
    memory: [[at.FEEDS, 20 * table.length]],
  };
}

/** Identical strips share one node and may feed a bus more than once. */
const addGains = (one: Gains, other: Gains = [0, 0, 0, 0]): Gains => [
  one[0] + other[0],
  one[1] + other[1],
  one[2] + other[2],
  one[3] + other[3],
];

/** What is read at once, and what becomes of it. */
interface SharedInput {
  readonly channels: Channels;
  /** Ways of a fixed level, by the number of the sum that they lead to. */
  readonly fixed: Map<number, Gains>;
  readonly moving: BlockMixer[];
}

/** Puts two sources of one channel each that nothing moves side by side, as if they were the left and right of one. */
function pairMonoInputs(sources: readonly SharedInput[]): readonly SharedInput[] {
  const isPlain = ({ channels, moving }: SharedInput) => channels.length === 1 && moving.length === 0;
  const plain = sources.filter(isPlain);
  const read = sources.filter((source) => !isPlain(source));
  for (let i = 0; i < plain.length; i += 2) {
    const [one, other] = [plain[i]!, plain[i + 1]];
    const fixed = new Map(one.fixed);
    for (const [sum, [ll, , lr]] of other?.fixed ?? []) {
      fixed.set(sum, addGains([0, ll, 0, lr], fixed.get(sum)));
    }
    const both = [one, ...(other ? [other] : [])];
    read.push({ channels: both.flatMap(({ channels }) => channels), fixed, moving: [] });
  }
  return read;
}

/** Puts channels into the kernels, as many as there are and no silence beside them: nothing of it would be added. */
function loadBlock([one, other]: Channels, from: number, frames: number): void {
  const { left, right } = kernels();
  if (one) left.set(samplesAt(one, from, frames));
  if (other) right.set(samplesAt(other, from, frames));
}

/** A step that passes the block on as a strip's fader does. */
export function createFaderStage(passage: FaderStage, rate: number): BlockProcessor {
  const { addFixed, clearSums, takeSums } = kernels();
  const way = mixGains(passage, { pair: true, mono: false, law: 'linear', sum: 0 }, rate);
  const add: BlockMixer = typeof way === 'function' ? way : (_, count) => addFixed(count, 0, ...way);
  return {
    run: (count, from) => {
      clearSums(1);
      add(from, count);
      takeSums(count, 0);
    },
  };
}

/** How much of left and right goes to the left, and how much of each to the right. */
type Gains = readonly [ll: number, rl: number, lr: number, rr: number];

interface MixGainOptions {
  /** Whether left and right come in. */
  readonly pair: boolean;
  /** Whether both go into one channel. */
  readonly mono: boolean;
  readonly law: PanLaw;
  readonly sum: number;
}

function mixGains(passage: FaderStage, { pair, mono, law, sum }: MixGainOptions, rate: number): Gains | BlockMixer {
  const { at, left, right, singles, addShaped, place } = kernels();
  // A narrower pair keeps its own share on each side and takes the rest from the other; one channel goes to both sides.
  const [own, across] = pair ? [(1 + passage.width) / 2, (1 - passage.width) / 2] : [1, 0];
  const gain = gainOf(passage, rate);
  if (typeof gain === 'number' && typeof passage.pan === 'number') {
    const [toLeft, toRight] = sides(law, pair, passage.pan);
    const [l, r] = [toLeft * gain, toRight * gain];
    const [ll, rl, lr, rr]: Gains = pair ? [own * l, across * l, across * r, own * r] : [l, 0, r, 0];
    return mono ? [ll + lr, rl + rr, 0, 0] : [ll, rl, lr, rr];
  }
  const gains = singles(at.GAINS, at.BLOCK);
  const [moving, by] = typeof gain === 'number' ? [undefined, gain] : [gain.moving, gain.by];
  const position = typeof passage.pan === 'number' ? passage.pan : valueEnvelope(passage.pan, rate);
  const positions = new Float32Array(at.BLOCK);
  const sidesAt = (percent: number) => sides(law, pair, percent / PERCENT).map((side) => side * by);
  const still = typeof position === 'number' ? sidesAt(position * PERCENT) : undefined;
  return (start, count) => {
    if (!pair) right.set(left);
    if (moving) moving(gains, start);
    else gains.fill(1);
    if (typeof position === 'number') {
      const [l = 0, r = 0] = still ?? [];
      place(0, count, l, r, 0, 0);
    } else {
      position(positions, start);
      let [l = 0, r = 0] = sidesAt(positions[0]!);
      for (let from = 0; from < count; from += PAN_STEP) {
        const to = Math.min(count, from + PAN_STEP);
        const [nextL = 0, nextR = 0] = sidesAt(positions[Math.min(to, count - 1)]!);
        place(from, to, l, r, (nextL - l) / (to - from), (nextR - r) / (to - from));
        [l, r] = [nextL, nextR];
      }
    }
    addShaped(count, sum, own, across);
  };
}

const PERCENT = 100;
/** Samples over which a moving pan goes straight from one pair of gains to the next. */
const PAN_STEP = 32;

const sides = (law: PanLaw, pair: boolean, position: number): readonly [number, number] =>
  pair ? balanceGains(position) : panGains(law, position);

/** A passage's gain: one number, or what it is at each sample where anything moves it, and a factor besides. */
function gainOf({ level, by, off, mutes }: FaderStage, rate: number): number | { moving: Envelope; by: number } {
  const open = mutes.length > 0 ? muteEnvelope(mutes, rate) : undefined;
  if (typeof level === 'number') return open ? { moving: open, by: level * by } : level * by;
  const levels = levelEnvelope(level, off, rate);
  if (!open) return { moving: levels, by };
  const opened = new Float32Array(kernels().at.BLOCK);
  const moving: Envelope = (into, from) => {
    levels(into, from);
    open(opened, from);
    for (let i = 0; i < into.length; i++) into[i] = into[i]! * opened[i]!;
  };
  return { moving, by };
}
