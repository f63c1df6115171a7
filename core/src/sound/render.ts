import type { MixNode, MixPlan } from './mix-plan';

export type Channels = readonly Float32Array[];

export interface RenderTools {
  /** The channels of a recording at the rate of the plan. */
  readonly stem: (hash: string) => Promise<Channels>;
  /** Works out one step, here or in a worker. */
  readonly run: (node: MixNode, inputs: Readonly<Record<string, Channels>>) => Promise<Channels>;
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
  const wanted = neededOf(plan, (key) => known(key) !== undefined);
  const byKey = new Map(plan.nodes.map((node) => [node.key, node]));
  const sounds = new Map<string, Promise<Channels>>();
  let done = 0;
  const soundOf = (key: string): Promise<Channels> => {
    const started = sounds.get(key);
    if (started) return started;
    const before = known(key);
    const node = byKey.get(key);
    const sound = before ? Promise.resolve(before) : node ? work(node) : Promise.reject(new Error(`no step ${key}`));
    // Whoever waits for it hears of a failure; one that nobody has come to wait for yet is no news.
    sound.catch(() => undefined);
    sounds.set(key, sound);
    return sound;
  };
  const work = async (node: MixNode): Promise<Channels> => {
    const inputs: Record<string, Channels> = {};
    if (node.kind === 'stem') inputs[node.hash] = await stem(node.hash);
    // All of them are begun at once; whoever runs them decides how many at a time.
    else
      for (const [key, sound] of node.feeds.map(({ from }) => [from, soundOf(from)] as const))
        inputs[key] = await sound;
    signal?.throwIfAborted();
    const sound = await run(node, inputs);
    signal?.throwIfAborted();
    onProgress?.(++done, wanted);
    return sound;
  };
  const last = plan.nodes.at(-1);
  if (!last) return Promise.reject(new Error('a plan without steps'));
  return soundOf(last.key);
}

/** How many steps have to be worked out. */
function neededOf({ nodes }: MixPlan, isKnown: (key: string) => boolean): number {
  const needed = new Set<string>();
  const byKey = new Map(nodes.map((node) => [node.key, node]));
  const visit = (key: string): void => {
    const node = byKey.get(key);
    if (!node || needed.has(key) || isKnown(key)) return;
    needed.add(key);
    if (node.kind !== 'stem') for (const { from } of node.feeds) visit(from);
  };
  visit(nodes.at(-1)?.key ?? '');
  return needed.size;
}
