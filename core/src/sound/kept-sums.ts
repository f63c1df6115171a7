import { fingerprint } from '../desk/fingerprint';
import {
  type Feed,
  feedKeyParts,
  NOTHING,
  passedOn,
  type RenderGraph,
  type RenderNode,
  type SummingNode,
} from './render-graph';

/** All strips of a bus as they were summed before: a recording of its own. */
export interface KeptSum {
  /** By which the recording is found. */
  readonly hash: string;
  /** The sample of the mix that it begins at. */
  readonly start: number;
}

/** A mix that was worked out before, and what is kept of it: the strip sums of buses. */
export interface KeptMix {
  readonly graph: RenderGraph;
  readonly sums: ReadonlyMap<string, KeptSum>;
}

/** A strip sum with the bus that it is of. */
export type StripSum = SummingNode & { readonly bus: string };

export const isStripSum = (node: RenderNode): node is StripSum => node.kind !== 'stem' && node.bus !== undefined;

/**
 * A mix that takes the strip sums of another and adds what differs: of strips that did not change nothing is worked out again.
 * Its sound is the same within rounding. Undefined where too little is the same.
 * @returns the mix, and how many ways of strips into buses differ
 */
export function reuseStripSums(
  graph: RenderGraph,
  kept: KeptMix,
): { readonly graph: RenderGraph; readonly differing: number } | undefined {
  if (graph.frames !== kept.graph.frames || graph.rate !== kept.graph.rate) return undefined;
  const before = new Map(kept.graph.nodes.filter(isStripSum).map((node) => [node.bus, node]));
  const [own, others] = [byKey(graph), byKey(kept.graph)];
  const more: RenderNode[] = [];
  let differing = 0;
  const nodes = graph.nodes.map((node): RenderNode => {
    if (!isStripSum(node)) return node;
    const [old, sum] = [before.get(node.bus), kept.sums.get(node.bus)];
    const [now, then] = [stripFeeds(node, own), old ? stripFeeds(old, others) : []];
    const [added, gone] = [without(now, then), without(then, now)];
    const changes = added.length + gone.length;
    // Where half of the strips differ it is no longer less to do.
    const isWorthIt = old?.kind === node.kind && old.law === node.law && changes < now.length;
    differing += isWorthIt && sum ? changes : now.length;
    if (!isWorthIt || !sum) return node;
    const key = fingerprint(['kept', sum.hash]);
    more.push({ kind: 'stem', key, hash: sum.hash, start: sum.start, gain: 0, strip: NOTHING });
    more.push(...gone.flatMap(({ from }) => others.get(from) ?? []));
    const isMono = node.kind === 'mono strip sum';
    return { ...node, feeds: [passedOn(key, isMono), ...gone.map((feed) => ({ ...feed, by: -feed.by })), ...added] };
  });
  return more.length > 0 ? { graph: { ...graph, nodes: [...more, ...nodes] }, differing } : undefined;
}

const byKey = ({ nodes }: RenderGraph): ReadonlyMap<string, RenderNode> =>
  new Map(nodes.map((node) => [node.key, node]));

/** What the strips of a strip sum bring into it, through the sums of some of them. */
const stripFeeds = ({ feeds }: SummingNode, nodes: ReadonlyMap<string, RenderNode>): readonly Feed[] =>
  feeds.flatMap(({ from }) => {
    const sum = nodes.get(from);
    return sum && sum.kind !== 'stem' ? sum.feeds : [];
  });

/** Those of some feeds that are not among others; two alike count as two. */
function without(feeds: readonly Feed[], others: readonly Feed[]): readonly Feed[] {
  const left = new Map<string, number>();
  for (const feed of others) left.set(keyOf(feed), (left.get(keyOf(feed)) ?? 0) + 1);
  return feeds.filter((feed) => {
    const count = left.get(keyOf(feed)) ?? 0;
    left.set(keyOf(feed), count - 1);
    return count <= 0;
  });
}

const keys = new WeakMap<Feed, string>();

/** Equal for equal feeds. Remembered per feed, which is never changed. */
function keyOf(feed: Feed): string {
  const known = keys.get(feed);
  if (known !== undefined) return known;
  const key = JSON.stringify(feedKeyParts(feed));
  keys.set(feed, key);
  return key;
}
