import { activeInserts } from './channel-strip';
import type { Channels } from './recording';
import { isPlainSum, type RenderGraph, type RenderNode, type SummingNode } from './render-graph';
import type { RenderStep } from './render-node';
import { settlingFrames } from './settling';
import { stepCost } from './step-cost';
import { kernels } from './wasm-kernels';

/** A step of a mix in its place among the others. */
export interface StreamStep {
  readonly nodes: RenderStep;
  /** Which of the threads works it out. */
  readonly lane: number;
  /** The first sample that it makes. */
  readonly begin: number;
  /** Samples by which it is ahead of the mix, for those that look ahead. */
  readonly lead: number;
  /** Samples by which what it reads has to be ahead of it. */
  readonly lookahead: number;
  /** The steps that it reads, and those that read it, by their numbers. */
  readonly reads: readonly number[];
  readonly readBy: readonly number[];
}

/** Room for what a node makes: a ring of its last samples, or all of it. */
export interface WindowSize {
  readonly key: string;
  readonly channels: number;
  /** Samples of each channel. */
  readonly room: number;
  /** Whether other threads read it. */
  readonly shared: boolean;
}

/** How the steps of one mix or several are worked through together, a stretch of sound at a time, by one thread or several. */
export interface StreamPlan {
  /** Each after all that it reads. */
  readonly steps: readonly StreamStep[];
  /** The steps that are listened to, one for each mix, by their numbers. */
  readonly outputs: readonly number[];
  readonly windows: readonly WindowSize[];
  /** The sample that the first step begins with, the first that is wanted, and the one behind the last. */
  readonly begin: number;
  readonly start: number;
  readonly end: number;
  /** Samples of the whole mix. */
  readonly frames: number;
  readonly rate: number;
  /** Samples that all steps go forward by before the first goes on. */
  readonly stretch: number;
}

interface StreamOptions {
  /** How many channels a recording has, by its hash. */
  readonly channelsOf: (hash: string) => number;
  readonly lanes?: number;
  /** The first sample that is wanted, and the one behind the last. */
  readonly start?: number;
  readonly end?: number;
  readonly stretch?: number;
  /** Whether all of what every node makes is kept, rather than the last of it. */
  readonly whole?: boolean;
  /** What was made before, by its key. */
  readonly known?: (key: string) => Channels | undefined;
}

/** Samples of a stretch: what a strip makes of it stays near the processor until it is summed. */
const STRETCH = 8192;
/** Stretches by which one thread may be ahead of another. */
const STRETCHES_AHEAD = 6;

/**
 * Plans how mixes are worked out from `start` on: what has to be worked out, from where, in which order, and by whom. What is the
 * same in several of them is worked out once.
 * @param graphs of the same length and rate
 */
export function planStream(graphs: readonly RenderGraph[], options: StreamOptions): StreamPlan {
  const [{ frames, rate } = { frames: 0, rate: 0 }] = graphs;
  const { channelsOf, lanes = 1, start = 0, end = frames, stretch = STRETCH, whole = false } = options;
  const { BLOCK } = kernels().at;
  const blocks = (count: number) => Math.ceil(count / BLOCK) * BLOCK;
  const order = stepsOf(graphs, options.known ?? (() => undefined));
  const numberOf = new Map(order.flatMap((nodes, n) => nodes.map(({ key }) => [key, n] as const)));
  const reads = order.map((nodes) => [
    ...new Set(nodes.flatMap((node) => feedsOf(node).flatMap((key) => numberOf.get(key) ?? []))),
  ]);
  const readBy = order.map((_, n) => reads.flatMap((read, m) => (read.includes(n) ? [m] : [])));
  const lookahead = order.map((nodes) => BLOCK * Math.max(...nodes.map(blocksAhead)));
  const settling = order.map((nodes) => Math.max(...nodes.map((node) => settlingFrames(node, rate))));
  const lead = order.map(() => 0);
  const begin = order.map(() => start);
  for (let n = order.length - 1; n >= 0; n--) {
    begin[n] = Math.max(0, Math.floor((begin[n]! - settling[n]!) / BLOCK) * BLOCK);
    for (const m of reads[n]!) {
      lead[m] = Math.max(lead[m]!, lead[n]! + lookahead[n]!);
      begin[m] = Math.min(begin[m]!, begin[n]!);
    }
  }
  const laneOf = shareOut(order, lanes);
  const steps = order.map((nodes, n): StreamStep => ({
    nodes,
    lane: laneOf[n]!,
    begin: begin[n]!,
    lead: lead[n]!,
    lookahead: lookahead[n]!,
    reads: reads[n]!,
    readBy: readBy[n]!,
  }));
  const windows = steps.flatMap(({ nodes, lane, lead, lookahead, readBy }) => {
    const shared = whole || readBy.some((m) => steps[m]!.lane !== lane);
    const ring = blocks(stretch) * (shared ? STRETCHES_AHEAD : 1) + lead + lookahead;
    const room = whole ? frames : Math.min(blocks(frames), ring);
    return nodes.map((node): WindowSize => ({ key: node.key, channels: channelCount(node, channelsOf), room, shared }));
  });
  return {
    steps,
    outputs: graphs.map(({ nodes }) => numberOf.get(nodes.at(-1)?.key ?? '') ?? -1),
    windows,
    begin: Math.min(start, ...begin),
    start,
    end: end >= frames ? frames : Math.min(frames, blocks(end)),
    frames,
    rate,
    stretch: blocks(stretch),
  };
}

/** The keys of the nodes that a node reads. */
const feedsOf = (node: RenderNode): string[] => (node.kind === 'stem' ? [] : node.feeds.map(({ from }) => from));

const channelCount = (node: RenderNode, channelsOf: StreamOptions['channelsOf']): number =>
  node.kind === 'stem'
    ? Math.min(2, channelsOf(node.hash))
    : node.kind === 'mono sum' || node.kind === 'mono strip sum'
      ? 1
      : 2;

/** Blocks behind the one that it works on that a node needs. */
const blocksAhead = (node: RenderNode): number =>
  node.kind === 'effect' ? 0 : activeInserts(node.strip).filter(({ kind }) => kind === 'limiter').length;

/** The steps that have to be worked out, where sums of the same part of the strips are one. */
function stepsOf(graphs: readonly RenderGraph[], known: NonNullable<StreamOptions['known']>): readonly RenderStep[] {
  const byKey = new Map(graphs.flatMap(({ nodes }) => nodes.map((node) => [node.key, node] as const)));
  const needed = new Set<RenderNode>();
  const visit = (key: string): void => {
    const node = byKey.get(key);
    if (!node || needed.has(node) || known(key)) return;
    for (const from of feedsOf(node)) visit(from);
    needed.add(node);
  };
  for (const { nodes } of graphs) visit(nodes.at(-1)?.key ?? '');
  const parts = new Map<number, SummingNode[]>();
  const steps: RenderNode[][] = [];
  for (const node of needed) {
    if (node.kind === 'stem' || node.part === undefined) {
      steps.push([node]);
      continue;
    }
    const part = parts.get(node.part);
    if (part) part.push(node);
    else parts.set(node.part, [node]);
  }
  return inOrder([...steps, ...parts.values()]);
}

/** Steps, each after all that it reads; what is read by one only, right before it. */
function inOrder(steps: readonly RenderStep[]): readonly RenderStep[] {
  const stepOf = new Map(steps.flatMap((step) => step.map(({ key }) => [key, step])));
  const placed = new Set<RenderStep>();
  const place = (step: RenderStep | undefined): void => {
    if (!step || placed.has(step)) return;
    for (const node of step) for (const key of feedsOf(node)) place(stepOf.get(key));
    placed.add(step);
  };
  for (const step of steps) place(step);
  return [...placed];
}

/** The lane of each step: as much work for each as can be, with what a part of the strips needs in one of them. */
function shareOut(steps: readonly RenderStep[], lanes: number): readonly number[] {
  const stepOf = new Map(steps.flatMap((step, n) => step.map(({ key }) => [key, n] as const)));
  // Whatever stands alone is a bundle of its own; a recording goes with the first that reads it.
  const bundleOf = steps.map((_, n) => n);
  steps.forEach((step, n) => {
    if (step.every(isPlainSum))
      for (const m of step.flatMap((node) => feedsOf(node).flatMap((key) => stepOf.get(key) ?? [])))
        if (bundleOf[m] === m && steps[m]?.[0]?.kind === 'stem') bundleOf[m] = n;
  });
  const costs = new Map<number, number>();
  steps.forEach((step, n) => costs.set(bundleOf[n]!, (costs.get(bundleOf[n]!) ?? 0) + stepCost(step)));
  const load = new Array<number>(lanes).fill(0);
  const laneOf = new Map(
    [...costs]
      .sort(([, a], [, b]) => b - a)
      .map(([bundle, cost]) => {
        const lane = load.indexOf(Math.min(...load));
        load[lane] = (load[lane] ?? 0) + cost;
        return [bundle, lane];
      }),
  );
  return bundleOf.map((bundle) => laneOf.get(bundle) ?? 0);
}
