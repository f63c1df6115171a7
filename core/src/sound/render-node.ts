import { dbToFactor } from '../signal/sound';
import { BlockChain, type BlockProcessor, loadFrom, samplesAt, storeInto } from './block-processor';
import { createEffectReturn, createInsertPasses, createStripProcessors, type Pass } from './channel-strip';
import type { Channels, Recording } from './recording';
import { isPlainSum, type RenderNode, type SummingNode } from './render-graph';
import { createFaderStage, createSummer } from './summing';
import { kernels } from './wasm-kernels';

/** What is worked out at once: one node of a plan, or sums that the same recordings feed. */
export type RenderStep = readonly RenderNode[];

/** Where a step reads and writes. */
export interface StepRooms {
  /** The window of a node, by its key. */
  readonly window: (key: string) => Channels;
  /** A recording by its hash. */
  readonly recording: (hash: string) => Recording;
  /** Samples of the whole sound. */
  readonly frames: number;
  readonly rate: number;
}

/** Works out a step up to a sample, from where it began or the last call ended. What feeds it has to be there that far. */
export type Advance = (to: number) => void;

/**
 * What works out one step of a mix: one node, or sums of the same strips.
 * @param begin the first sample that is made, a multiple of the kernels' block
 */
export function createStep(step: RenderStep, rooms: StepRooms, begin: number): Advance {
  const sums = step.filter(isPlainSum);
  if (sums.length === step.length) return advanceAll(sumPasses(sums, rooms), rooms.frames, begin);
  const [node] = step;
  if (!node || step.length > 1) throw new Error('only sums are worked out together');
  const passes = node.kind === 'stem' ? stemPasses(node, rooms) : busPasses(node, rooms);
  return advanceAll(passes, rooms.frames, begin);
}

/** Runs passes one behind the other, those before one that looks ahead a block further. */
function advanceAll(passes: readonly Pass[], frames: number, begin: number): Advance {
  const { BLOCK } = kernels().at;
  const chains = passes.map(({ make }, n) => ({
    chain: new BlockChain(make),
    further: BLOCK * passes.slice(n + 1).filter(({ looksAhead }) => looksAhead).length,
    at: begin,
  }));
  return (to) => {
    for (const one of chains) {
      const end = Math.min(frames, to + one.further);
      if (end <= one.at) continue;
      one.chain.runThrough(one.at, end);
      one.at = end;
    }
  };
}

const plain = (make: Pass['make']): Pass => ({ make, looksAhead: false });

type Stem = Exclude<RenderNode, SummingNode>;

function stemPasses({ key, hash, start, gain, strip }: Stem, rooms: StepRooms): Pass[] {
  const { frames, rate } = rooms;
  const windows = rooms.window(key);
  const steps = () => createStripProcessors(strip, rate, dbToFactor(gain), windows.length === 1);
  return [
    plain(() => [readFrom(rooms.recording(hash), start), ...steps(), storeInto(windows)]),
    ...createInsertPasses(strip, windows, frames, rate),
  ];
}

/** Loads the block from a recording that begins at a sample of the mix; silence before it, and behind its end. */
function readFrom(recording: Recording, start: number): BlockProcessor {
  const { left, right } = kernels();
  return {
    run: (frames, from) => {
      const before = Math.min(frames, Math.max(0, start - from));
      const channels = recording.read(Math.max(0, from - start), frames - before);
      [left, right].forEach((side, c) => {
        const samples = channels[c];
        side.fill(0, 0, before);
        if (samples) side.set(samples, before);
        side.fill(0, before + (samples?.length ?? 0), frames);
      });
    },
  };
}

function busPasses(node: SummingNode, rooms: StepRooms): Pass[] {
  const { takeOneSum, takeSums } = kernels();
  const { frames, rate } = rooms;
  const { strip, behind } = node;
  const windows = rooms.window(node.key);
  const sum = (): BlockProcessor[] => [
    createSummer([node], rooms.window, rate),
    { run: (count) => (node.kind === 'effect' ? takeOneSum(count, 0) : takeSums(count, 0)) },
  ];
  if (node.kind === 'effect') return [plain(() => [...sum(), ...createEffectReturn(strip, rate), storeInto(windows)])];
  const summed = () => [...sum(), ...createStripProcessors(strip, rate, 1, false)];
  const faded = () => (behind ? [createFaderStage(behind, rate)] : []);
  const inserts = createInsertPasses(strip, windows, frames, rate);
  if (inserts.length === 0) return [plain(() => [...summed(), ...faded(), storeInto(windows)])];
  return [
    plain(() => [...summed(), storeInto(windows)]),
    ...inserts,
    plain(() => [loadFrom(windows), ...faded(), storeInto(windows)]),
  ];
}

/** Several sums at once, so that what feeds more than one of them is read once. */
function sumPasses(nodes: readonly SummingNode[], rooms: StepRooms): Pass[] {
  const { at, left, right, takeOneSum, takeSums } = kernels();
  const together = nodes.slice(0, at.MOST_SUMS);
  const windows = together.map(({ key }) => rooms.window(key));
  const take: BlockProcessor = {
    run: (count, from) =>
      windows.forEach(([one, other], n) => {
        if (together[n]?.kind === 'mono sum') takeOneSum(count, n);
        else takeSums(count, n);
        if (one) samplesAt(one, from, count).set(left.subarray(0, count));
        if (other) samplesAt(other, from, count).set(right.subarray(0, count));
      }),
  };
  const rest = nodes.slice(at.MOST_SUMS);
  return [
    plain(() => [createSummer(together, rooms.window, rooms.rate), take]),
    ...(rest.length > 0 ? sumPasses(rest, rooms) : []),
  ];
}
