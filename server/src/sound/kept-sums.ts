import { rmSync, statfsSync } from 'node:fs';
import { join } from 'node:path';

import { isStripSum, type KeptMix, type KeptSum, reuseStripSums } from '@old-echo/core/sound/kept-sums';
import type { RenderGraph } from '@old-echo/core/sound/render-graph';
import { planStream, type StreamPlan } from '@old-echo/core/sound/stream-plan';

import { MIN_FREE_BYTES } from '../database/disk-room';
import { newId } from '../database/new-id';
import type { LaneProgress } from './lane-progress';
import type { StemFile } from './stem-file';

/** What strip sums may take on the disk, in bytes: those of about six mixes of a hundred strips and six minutes. */
const KEPT_BYTES = 4e9;
const SAMPLE_BYTES = Float32Array.BYTES_PER_ELEMENT;
/** A sum that is still being written is read so far behind its end, in seconds. */
const BEHIND = 1;

/** A strip sum on the disk, and the node that it is the sound of. */
interface SumOnDisk extends StemFile {
  readonly key: string;
  readonly step: number;
  /** The sample of the mix that it begins at. */
  readonly start: number;
}

/** Mixes that are worked out, or were, whose strip sums are on the disk. */
interface Run {
  readonly graphs: readonly RenderGraph[];
  readonly plan: StreamPlan;
  readonly progress: LaneProgress;
  /** What was read, by hash: of what changes, the sound before is taken away. */
  readonly stems: Readonly<Record<string, StemFile>>;
  readonly sums: readonly SumOnDisk[];
  readonly bytes: number;
}

/** Mixes that take what is kept of others. */
export interface Reusing {
  readonly graphs: readonly RenderGraph[];
  /** What they read besides the stems, by hash. */
  readonly recordings: Readonly<Record<string, StemFile>>;
  /** The sample up to which there is enough of it. */
  readonly end: number;
  /** Has nobody take it again. */
  readonly forget: () => void;
}

/**
 * Strip sums of the last mixes, on the disk while the program runs: where one fader of a hundred moves, only that strip and what
 * hears it are worked out again.
 */
export class KeptSums {
  /** The last that was of use at the end. */
  private runs: Run[] = [];

  constructor(
    private readonly folder: string,
    private readonly limit = KEPT_BYTES,
  ) {}

  /** Where the strip sums of mixes that are about to be worked out are to be written, by their steps; what is older goes. */
  keep({ graphs, plan, progress, stems }: Omit<Run, 'sums' | 'bytes'>): ReadonlyMap<number, string> {
    const sums = plan.steps.flatMap(({ nodes: [node], begin: start }, step): SumOnDisk[] => {
      if (!node || !isStripSum(node)) return [];
      const channels = plan.windows.find(({ key }) => key === node.key)?.channels ?? 0;
      return [{ key: node.key, step, start, channels, file: join(this.folder, newId()), grows: true }];
    });
    const bytes = sums.reduce((all, { channels, start }) => all + channels * (plan.frames - start) * SAMPLE_BYTES, 0);
    const { bavail, bsize } = statfsSync(this.folder);
    if (sums.length === 0 || bytes > Math.min(this.limit, bavail * bsize - MIN_FREE_BYTES)) return new Map();
    let taken = this.runs.reduce((sum, run) => sum + run.bytes, bytes);
    for (const run of this.runs) {
      if (taken <= this.limit) break;
      taken -= run.bytes;
      this.forget(run);
    }
    this.runs.push({ graphs, plan, progress, stems, sums, bytes });
    return new Map(sums.map(({ step, file }) => [step, file]));
  }

  /**
   * Mixes that need as little work from a sample on as can be; undefined where nothing is kept for all of them that reaches at least
   * to another sample.
   */
  reuse(graphs: readonly RenderGraph[], start: number, to: number): Reusing | undefined {
    const found = graphs.flatMap((graph) => this.best(graph, start, to) ?? []);
    if (found.length < graphs.length) return undefined;
    const used = new Set(found.map(({ run }) => run));
    this.runs = [...this.runs.filter((run) => !used.has(run)), ...used];
    return {
      graphs: found.map(({ graph }) => graph),
      recordings: Object.fromEntries([...used].flatMap(recordingsOf)),
      end: Math.min(...found.map(({ end }) => end)),
      forget: () => used.forEach((run) => this.forget(run)),
    };
  }

  /** What a mix becomes with the strip sums of that of the others which differs least. */
  private best(
    graph: RenderGraph,
    start: number,
    to: number,
  ): { graph: RenderGraph; run: Run; end: number } | undefined {
    const found = this.runs.flatMap((run) => {
      const end = endOf(run);
      if (end < to) return [];
      return run.graphs.flatMap((other) => {
        const reused = reuseStripSums(graph, keptMix(run, other));
        return reused ? [{ ...reused, run, end }] : [];
      });
    });
    return found
      .sort((one, other) => one.differing - other.differing)
      .find(({ graph, run }) => isThere(graph, run, start));
  }

  /** Removes all of it. */
  clear(): void {
    for (const run of this.runs) this.forget(run);
  }

  private forget(run: Run): void {
    this.runs = this.runs.filter((one) => one !== run);
    for (const { file } of run.sums) rmSync(file, { force: true });
  }
}

function keptMix({ sums }: Run, graph: RenderGraph): KeptMix {
  const kept = graph.nodes.filter(isStripSum).flatMap(({ key, bus }): [string, KeptSum][] => {
    const sum = sums.find((one) => one.key === key);
    return sum ? [[bus, { hash: sum.file, start: sum.start }]] : [];
  });
  return { graph, sums: new Map(kept) };
}

const recordingsOf = ({ stems, sums }: Run): [string, StemFile][] => [
  ...Object.entries(stems),
  ...sums.map((sum): [string, StemFile] => [sum.file, sum]),
];

/** The sample up to which a run can be read. */
function endOf({ plan, progress, sums }: Run): number {
  const done = Math.min(...sums.map(({ step }) => Atomics.load(progress, step)));
  return done >= plan.frames ? plan.frames : done - BEHIND * plan.rate;
}

/** Whether what a mix reads of a run begins early enough for the mix to be right from a sample on. */
function isThere(graph: RenderGraph, { sums }: Run, start: number): boolean {
  const kept = new Set(sums.map(({ file }) => file));
  return planStream([graph], { channelsOf: () => 1, start }).steps.every(
    ({ nodes: [node], begin }) => node?.kind !== 'stem' || !kept.has(node.hash) || node.start <= begin,
  );
}
