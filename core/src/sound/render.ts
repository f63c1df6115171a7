import type { RenderGraph, RenderNode, SummingNode } from './render-graph';

export type Channels = readonly Float32Array[];

/** What is worked out at once: one node of a plan, or sums that the same recordings feed. */
export type RenderStep = readonly RenderNode[];

/** Lets steps that run in parallel wait for each other's samples, block by block. */
export interface Flow {
  /** Waits until so many samples of what a step depends on are there. @throws where they never will be */
  readonly reached: (key: string, frames: number) => void;
  /** Says that so many samples of what the step makes are there, and stay as they are. */
  readonly made: (frames: number) => void;
}

/** A step that has begun. */
export interface RunningStep {
  /** The sound of each of its nodes: memory that is still written to. */
  readonly sounds: readonly Channels[];
  /** Once all of it is written. */
  readonly done: Promise<unknown>;
}

interface RenderHost {
  /** The channels of a recording at the rate of the plan. */
  readonly stem: (hash: string) => Promise<Channels>;
  /** Begins with one step, here or in a thread, as soon as there is room for it. */
  readonly run: (step: RenderStep, inputs: Readonly<Record<string, Channels>>) => Promise<RunningStep>;
  /** What was worked out before, by key. */
  readonly known: (key: string) => Channels | undefined;
  /** Called after each step. */
  readonly onProgress?: (done: number, total: number) => void;
  readonly signal?: AbortSignal;
}

/**
 * Works through a plan: every step as soon as what it depends on has begun, those that are known already not at all.
 * @returns the channels of its last step
 * @throws the signal's reason once it is aborted, or what a step throws
 */
export async function render(plan: RenderGraph, tools: RenderHost): Promise<Channels> {
  const { stem, run, known, onProgress, signal } = tools;
  const { steps, before } = stepsOf(plan, known);
  const byKey = new Map(steps.flatMap((step) => step.map(({ key }) => [key, step])));
  const begun = new Map<RenderStep, Promise<RunningStep>>();
  const begin = async (step: RenderStep): Promise<RunningStep> => {
    const inputs: Record<string, Channels> = {};
    // All of them are begun at once; whoever runs them decides how many at a time.
    const needed = step.flatMap((node) =>
      node.kind === 'stem'
        ? [[node.hash, stem(node.hash)] as const]
        : node.feeds.map(({ from }) => [from, soundOf(from)] as const),
    );
    await Promise.all(needed.map(async ([key, sound]) => (inputs[key] = await sound)));
    signal?.throwIfAborted();
    return run(step, inputs);
  };
  const begunOnce = (step: RenderStep): Promise<RunningStep> => {
    const known = begun.get(step) ?? begin(step);
    begun.set(step, known);
    return known;
  };
  const soundOf = async (key: string): Promise<Channels> => {
    const step = byKey.get(key);
    if (!step) return before.get(key) ?? [];
    const { sounds } = await begunOnce(step);
    return sounds[step.findIndex((node) => node.key === key)] ?? [];
  };
  let ended = 0;
  const toTheEnd = async (step: RenderStep): Promise<void> => {
    await (
      await begunOnce(step)
    ).done;
    signal?.throwIfAborted();
    onProgress?.(++ended, steps.length);
  };
  await Promise.all(steps.map(toTheEnd));
  return soundOf(plan.nodes.at(-1)?.key ?? '');
}

/** The steps that have to be worked out, where sums of the same part of the strips are one; and what is there already. */
function stepsOf(
  { nodes }: RenderGraph,
  known: RenderHost['known'],
): { steps: readonly RenderStep[]; before: ReadonlyMap<string, Channels> } {
  const byKey = new Map(nodes.map((node) => [node.key, node]));
  const before = new Map<string, Channels>();
  const needed = new Set<RenderNode>();
  const visit = (key: string): void => {
    const node = byKey.get(key);
    if (!node || needed.has(node) || before.has(key)) return;
    const sound = known(key);
    if (sound) {
      before.set(key, sound);
      return;
    }
    needed.add(node);
    if (node.kind !== 'stem') for (const { from } of node.feeds) visit(from);
  };
  visit(nodes.at(-1)?.key ?? '');
  const parts = new Map<number, SummingNode[]>();
  const steps: RenderStep[] = [];
  for (const node of needed) {
    if (node.kind === 'stem' || node.part === undefined) {
      steps.push([node]);
      continue;
    }
    const part = parts.get(node.part) ?? [];
    if (part.length === 0) steps.push(part);
    part.push(node);
    parts.set(node.part, part);
  }
  return { steps, before };
}
