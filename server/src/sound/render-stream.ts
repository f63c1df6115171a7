import type { RenderMeasurements } from '@old-echo/core/sound/analyse-render';
import type { Channels } from '@old-echo/core/sound/recording';
import type { RenderGraph } from '@old-echo/core/sound/render-graph';
import type { MeterRoom } from '@old-echo/core/sound/render-meter';
import { planStream, type StreamPlan } from '@old-echo/core/sound/stream-plan';

import type { KeptSums } from './kept-sums';
import { type LaneProgress, newProgress, pauseLanes, resumeLanes, stopLanes } from './lane-progress';
import { KEPT_BYTES, type RenderCache } from './render-cache';
import { allocateShared } from './shared-samples';
import type { StemFile } from './stem-file';
import type { WorkerPool } from './worker-pool';

/** A mix that is to be worked out. */
export interface StreamedMix {
  readonly graph: RenderGraph;
  /** What its file is called once it is whole, and until then. */
  readonly file: string;
  readonly part: string;
}

interface StreamOptions {
  /** What every node makes is kept where all of it takes no more than this, in bytes. */
  readonly kept?: number;
  /** The sample that the mixes are worked out from; their files begin with it. */
  readonly start?: number;
  /** The sample behind the last that they are worked out to. */
  readonly end?: number;
  /** Where what is measured of each of them so far is put. */
  readonly rooms?: readonly MeterRoom[];
  /** Whether somebody waits to hear it: it does not wait for whole mixes to end. */
  readonly isListenedTo?: boolean;
  /** What keeps the strip sums of mixes that are too long for all of them to be kept; by their own graphs. */
  readonly sums?: { readonly in: KeptSums; readonly of: readonly RenderGraph[] };
}

/** Works out mixes of the same recordings together, in threads: what is the same in several of them once. */
export class RenderStream {
  private readonly plan: StreamPlan;
  private readonly progress: LaneProgress;
  /** What was made before, by key. */
  private readonly known = new Map<string, Channels>();
  /** Whether all of what every node makes is kept. */
  readonly isWhole: boolean;

  constructor(
    private readonly pool: WorkerPool,
    private readonly memory: RenderCache,
    private readonly mixes: readonly StreamedMix[],
    /** By their hashes. */
    private readonly stems: Readonly<Record<string, StemFile>>,
    private readonly options: StreamOptions = {},
  ) {
    const { kept = KEPT_BYTES, start = 0, end } = options;
    const graphs = mixes.map(({ graph }) => graph);
    const channelsOf = (hash: string) => stems[hash]?.channels ?? 1;
    const outputs = new Set(graphs.map(({ nodes }) => nodes.at(-1)?.key));
    // Asked for is all that belongs to these mixes, also what they do not need while only another strip has changed: so it stays.
    for (const { key } of graphs.flatMap(({ nodes }) => nodes)) {
      const sound = outputs.has(key) ? undefined : memory.get(key);
      if (sound) this.known.set(key, sound);
    }
    const plan = (whole: boolean) =>
      planStream(graphs, {
        channelsOf,
        lanes: pool.cores,
        start,
        ...(end === undefined ? {} : { end }),
        whole,
        known: (key) => this.known.get(key),
      });
    const whole = start === 0 ? plan(true) : undefined;
    this.isWhole = whole !== undefined && bytesOf(whole) <= kept;
    this.plan = whole && this.isWhole ? whole : plan(false);
    this.progress = newProgress(this.plan);
  }

  /** How far a mix is, in samples of the song, by its place. */
  done(mix: number): number {
    return Atomics.load(this.progress, this.plan.outputs[mix] ?? 0);
  }

  stop(): void {
    stopLanes(this.progress);
  }

  pause(): void {
    pauseLanes(this.progress);
  }

  resume(): void {
    resumeLanes(this.progress);
  }

  /** What was measured of each mix. @throws what a thread met; nothing of any mix is left then */
  async run(): Promise<readonly RenderMeasurements[]> {
    const { plan, pool, progress, mixes, isWhole } = this;
    const { rooms, sums, isListenedTo = false } = this.options;
    const allocate = isWhole ? (room: number) => this.memory.allocate(room) : allocateShared;
    const made = new Map(
      plan.windows
        .filter(({ shared }) => shared)
        .map(({ key, channels, room }) => [key, Array.from({ length: channels }, () => allocate(room))]),
    );
    const windows = Object.fromEntries([...this.known, ...made]);
    const kept =
      sums && !isWhole
        ? sums.in.keep({ graphs: sums.of, plan, progress, stems: this.stems })
        : new Map<number, string>();
    const lanes = [...new Set(plan.steps.map(({ lane }) => lane))];
    const tasks = lanes.map(
      (lane) =>
        ({
          do: 'lane',
          plan,
          lane,
          windows,
          recordings: this.stems,
          mixes: mixes.map(({ file, part }, mix) => ({ file, part, room: rooms?.[mix] })),
          sums: kept,
          isListenedTo,
          progress,
        }) as const,
    );
    const results = await pool.runTogether(tasks, () => this.stop());
    if (isWhole) for (const [key, channels] of made) this.memory.set(key, channels);
    const measured = Object.assign({}, ...results.map(({ lane }) => lane)) as Record<number, RenderMeasurements>;
    return mixes.map((_, mix) => {
      const found = measured[mix];
      if (!found) throw new Error('a mix was not measured');
      return found;
    });
  }
}

/** What the windows of a plan take, in bytes. */
const bytesOf = ({ windows }: StreamPlan): number =>
  windows.reduce((sum, { channels, room }) => sum + channels * room * Float32Array.BYTES_PER_ELEMENT, 0);
