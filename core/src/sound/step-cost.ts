import { activeBands } from '../signal/eq-curve';
import { activeInserts } from './channel-strip';
import { isPlainSum, type RenderNode } from './render-graph';
import type { RenderStep } from './render-node';

/** About how long a step takes for each sample, in nanoseconds, so that threads can share steps evenly; measured on one machine. */
export const stepCost = (step: RenderStep): number => step.reduce((sum, node) => sum + nodeCost(node), 0);

function nodeCost(node: RenderNode): number {
  if (node.kind === 'stem') return 6 + stripCost(node);
  const feeds = 1 + 0.8 * node.feeds.length;
  if (isPlainSum(node)) return feeds;
  // What is listened to is measured and written too.
  return feeds + 2 * stripCost(node) + (node.kind === 'bus' ? 0 : 20);
}

function stripCost({ kind, strip }: RenderNode): number {
  const bands = 1.5 * activeBands(strip).length;
  const dynamics = (strip['gate/on'] === true ? 8 : 0) + (strip['compressor/on'] === true ? 8 : 0);
  return bands + dynamics + (kind === 'effect' ? 0 : 10 * activeInserts(strip).length);
}
