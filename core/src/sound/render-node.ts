import { dbToFactor } from '../signal/sound';
import { createStripProcessors, hasActiveInserts, renderEffectReturn, runInserts } from './channel-strip';
import { processInPlace, renderBlocks, sourceOf } from './process-blocks';
import type { Channels, Flow, RenderStep } from './render';
import type { RenderNode, SummingNode } from './render-graph';
import { createFaderStage, createSummer } from './summing';
import { kernels } from './wasm-kernels';

/** Memory for what a step makes: one or two channels for each of its nodes. */
export const allocateOutputs = (
  step: RenderStep,
  input: (key: string) => Channels,
  frames: number,
  make: (count: number) => Float32Array = (count) => new Float32Array(count),
): Channels[] =>
  step.map((node) => {
    const count = node.kind === 'stem' ? input(node.hash).length : node.kind === 'mono sum' ? 1 : 2;
    return Array.from({ length: Math.min(2, count) }, () => make(frames));
  });

/** Alone, everything is there before a step begins, and nobody waits for what it makes. */
const NO_SYNC: Flow = { reached: () => undefined, made: () => undefined };

/**
 * Works out one step of a mix: one node, or sums of the same strips.
 * @param input the channels of what it depends on, by key: of other nodes, or of a recording by its hash
 * @param into {@link allocateOutputs} it; all of it is written over, with silence behind the end of what is shorter
 * @param flow how it keeps behind what it depends on
 */
export function renderStep(
  step: RenderStep,
  input: (key: string) => Channels,
  into: readonly Channels[],
  rate: number,
  flow = NO_SYNC,
): void {
  const sums = step.filter((node): node is SummingNode => node.kind === 'sum' || node.kind === 'mono sum');
  if (sums.length === step.length) return renderSums(sums, input, into, rate, flow);
  step.forEach((node, n) => {
    const channels = into[n] ?? [];
    if (node.kind === 'stem') renderStem(node, input(node.hash), channels, rate, flow);
    else renderBus(node, input, channels, rate, flow);
  });
}

type Stem = Exclude<RenderNode, SummingNode>;

function renderStem(node: Stem, recording: Channels, channels: Channels, rate: number, flow: Flow): void {
  const steps = createStripProcessors(node.strip, rate, dbToFactor(node.gain), channels.length === 1);
  renderBlocks(channels, sourceOf(recording.slice(0, 2)), steps, hasActiveInserts(node.strip) ? undefined : flow.made);
  runInserts(node.strip, channels, rate);
}

function renderBus(
  node: SummingNode,
  input: (key: string) => Channels,
  channels: Channels,
  rate: number,
  { reached, made }: Flow,
): void {
  const { takeOneSum, takeSums } = kernels();
  const sum = createSummer([node], input, rate, reached);
  const source = (from: number, count: number) => {
    sum(from, count);
    if (node.kind === 'effect') takeOneSum(count, 0);
    else takeSums(count, 0);
  };
  if (node.kind === 'effect') return renderEffectReturn(node.strip, source, channels, rate, made);
  const steps = createStripProcessors(node.strip, rate, 1, false);
  const behind = node.behind ? [createFaderStage(node.behind, rate)] : [];
  if (!hasActiveInserts(node.strip)) return renderBlocks(channels, source, [...steps, ...behind], made);
  renderBlocks(channels, source, steps);
  runInserts(node.strip, channels, rate);
  processInPlace(channels, ...behind);
}

/** Works out several sums at once, so that what feeds more than one of them is read once. */
function renderSums(
  nodes: readonly SummingNode[],
  input: (key: string) => Channels,
  into: readonly Channels[],
  rate: number,
  { reached, made }: Flow,
): void {
  const { at, left, right, takeOneSum, takeSums } = kernels();
  const frames = into[0]?.[0]?.length ?? 0;
  const most = at.MOST_SUMS;
  if (nodes.length > most) {
    renderSums(nodes.slice(most), input, into.slice(most), rate, { reached, made: NO_SYNC.made });
    return renderSums(nodes.slice(0, most), input, into, rate, { reached, made });
  }
  const sum = createSummer(nodes, input, rate, reached);
  for (let from = 0; from < frames; from += at.BLOCK) {
    const count = Math.min(at.BLOCK, frames - from);
    sum(from, count);
    nodes.forEach((_, n) => {
      const [one, other] = into[n] ?? [];
      if (other) takeSums(count, n);
      else takeOneSum(count, n);
      one?.set(left.subarray(0, count), from);
      other?.set(right.subarray(0, count), from);
    });
    made(from + count);
  }
}
