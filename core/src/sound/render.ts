import type { Fed, MixNode, MixPlan } from './mix-plan';

export type Channels = readonly Float32Array[];

/** What is worked out at once: one node of a plan, or sums that the same recordings feed. */
export type RenderStep = readonly MixNode[];

export interface RenderTools {
  /** The channels of a recording at the rate of the plan. */
  readonly stem: (hash: string) => Promise<Channels>;
  /** Works out one step, here or in a worker; returns the sound of each of its nodes. */
  readonly run: (step: RenderStep, inputs: Readonly<Record<string, Channels>>) => Promise<readonly Channels[]>;
  /** What was worked out before, by key. */
  readonly known: (key: string) => Channels | undefined;
  /** Called after each step. */
  readonly onProgress?: (done: number, total: number) => void;
  readonly signal?: AbortSignal;
}

/**
 * Works through a plan: every step as soon as what it depends on is there, those that are known already not at all.
 * @returns the channels of its last step
 * @throws the signal's reason once it is aborted, or what a step throws
 */
export function render(plan: MixPlan, tools: RenderTools): Promise<Channels> {
  const { stem, run, known, onProgress, signal } = tools;
  const { steps, before } = stepsOf(plan, known);
  const byKey = new Map(steps.flatMap((step) => step.map(({ key }) => [key, step])));
  const sounds = new Map<string, Promise<Channels>>();
  let done = 0;
  const soundOf = (key: string): Promise<Channels> => {
    const started = sounds.get(key);
    if (started) return started;
    const step = byKey.get(key);
    if (step) begin(step);
    return sounds.get(key) ?? Promise.resolve(before.get(key) ?? []);
  };
  const begin = (step: RenderStep): void => {
    const made = work(step);
    step.forEach(({ key }, n) => {
      const sound = made.then((channels) => channels[n] ?? []);
      // Whoever waits for it hears of a failure; one that nobody has come to wait for yet is no news.
      sound.catch(() => undefined);
      sounds.set(key, sound);
    });
  };
  const work = async (step: RenderStep): Promise<readonly Channels[]> => {
    const inputs: Record<string, Channels> = {};
    // All of them are begun at once; whoever runs them decides how many at a time.
    const needed = step.flatMap((node) =>
      node.kind === 'stem'
        ? [[node.hash, stem(node.hash)] as const]
        : node.feeds.map(({ from }) => [from, soundOf(from)] as const),
    );
    for (const [key, sound] of needed) inputs[key] = await sound;
    signal?.throwIfAborted();
    const made = await run(step, inputs);
    signal?.throwIfAborted();
    onProgress?.(++done, steps.length);
    return made;
  };
  const last = plan.nodes.at(-1);
  return last ? soundOf(last.key) : Promise.reject(new Error('a plan without steps'));
}

/** The steps that have to be worked out, where sums of the same part of the strips are one; and what is there already. */
function stepsOf(
  { nodes }: MixPlan,
  known: RenderTools['known'],
): { steps: readonly RenderStep[]; before: ReadonlyMap<string, Channels> } {
  const byKey = new Map(nodes.map((node) => [node.key, node]));
  const before = new Map<string, Channels>();
  const needed = new Set<MixNode>();
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
  const parts = new Map<string, Fed[]>();
  const steps: RenderStep[] = [];
  for (const node of needed) {
    if (node.kind === 'stem' || node.part === undefined) {
      steps.push([node]);
      continue;
    }
    // Effects do not have to wait for what goes straight to a bus.
    const name = `${node.kind} ${node.part}`;
    const part = parts.get(name) ?? [];
    if (part.length === 0) steps.push(part);
    part.push(node);
    parts.set(name, part);
  }
  return { steps, before };
}
