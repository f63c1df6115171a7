import { rmSync } from 'node:fs';
import { join } from 'node:path';

import { MIX_RATE, PIECE_SECONDS } from '@old-echo/core/contracts/sound';
import type { RenderMeasurements } from '@old-echo/core/sound/analyse-render';
import { measuredSoFar, type MeterRoom, newMeterRoom } from '@old-echo/core/sound/render-meter';

import { newId } from '../database/new-id';
import type { KeptSums } from './kept-sums';
import type { RenderCache } from './render-cache';
import { RenderStream, type StreamedMix } from './render-stream';
import type { PiecePlace } from './send-piece';
import { allocateShared } from './shared-samples';
import type { StemFile } from './stem-file';
import type { Turns } from './turns';
import type { WorkerPool } from './worker-pool';

/** Samples of a piece. */
const PIECE = PIECE_SECONDS * MIX_RATE;
/** What is no further ahead, in samples, comes soon enough by itself. */
const NEAR = 6 * PIECE;
/** Stretches of mixes that are kept besides the mixes themselves, while those are worked out. */
const MOST_STRETCHES = 4;

interface Tools {
  readonly pool: WorkerPool;
  readonly memory: RenderCache;
  readonly sums: KeptSums;
  readonly turns: Turns;
  /** Where files are until they are whole. */
  readonly arriving: string;
  /** What every node makes is kept where all of it takes no more than this, in bytes. */
  readonly kept?: number;
}

/** Mixes as they are worked out from where somebody listens, while all of them waits. */
interface Listening {
  readonly stream: RenderStream;
  /** The first sample, and the one behind the last. */
  readonly start: number;
  readonly end: number;
  readonly files: readonly string[];
  isAtWork: boolean;
}

/** Mixes that are worked out together from their beginning; meanwhile from another place on, where somebody listens there. */
export class MixesAtWork {
  private readonly stream: RenderStream;
  private readonly rooms: readonly MeterRoom[];
  /** The last to begin at the end. */
  private listened: Listening[] = [];
  private isOver = false;
  /** Whether nothing that was looked for last is kept of any mix: it is not looked for again with every question. */
  private isUnlikeAll = false;

  constructor(
    private readonly tools: Tools,
    private readonly mixes: readonly StreamedMix[],
    private readonly stems: Readonly<Record<string, StemFile>>,
    private readonly failed: (error: unknown) => void,
  ) {
    this.rooms = mixes.map(({ graph }) => newMeterRoom(graph.frames, graph.rate, allocateShared));
    const { pool, memory, kept } = tools;
    this.stream = new RenderStream(pool, memory, mixes, stems, {
      rooms: this.rooms,
      sums: this.keepSums(),
      ...(kept ? { kept } : {}),
    });
  }

  /** What was measured of each mix. @throws what a thread met; nothing of any mix is left then */
  async run(): Promise<readonly RenderMeasurements[]> {
    this.tools.turns.begin(this.stream);
    try {
      return await this.stream.run();
    } finally {
      this.isOver = true;
      this.tools.turns.end(this.stream);
      this.endListening();
      for (const { files } of this.listened.splice(0)) removeAll(files);
    }
  }

  stop(): void {
    this.stream.stop();
  }

  /** How far a mix is, in samples from its beginning. */
  done(mix: number): number {
    return this.stream.done(mix);
  }

  /** What can be measured of what is there of a mix. */
  soFar(mix: number): RenderMeasurements | null {
    const [room, graph] = [this.rooms[mix], this.mixes[mix]?.graph];
    return room && graph ? measuredSoFar(room, graph.frames, graph.rate) : null;
  }

  /** Where a piece of a mix is, once it is there; what would be long in coming is worked out next. */
  find(mix: number, piece: number): PiecePlace | undefined {
    const [from, part] = [piece * PIECE, this.mixes[mix]?.part];
    const to = Math.min(from + PIECE, this.mixes[mix]?.graph.frames ?? 0);
    if (part !== undefined && this.done(mix) >= to) return { file: part, from, grows: true };
    for (const { stream, start, files } of this.listened) {
      const file = files[mix];
      if (file !== undefined && start <= from && stream.done(mix) >= to)
        return { file, from: from - start, grows: true };
    }
    if (!this.comesSoon(mix, from, to)) this.listenFrom(from, from <= this.done(mix) + NEAR);
    return undefined;
  }

  /** Whether what is worked out next anyway gets to a piece in a moment. */
  private comesSoon(mix: number, from: number, to: number): boolean {
    const at = this.listened.find(({ isAtWork }) => isAtWork);
    if (!at || from < at.start) return false;
    // What lies behind its end can wait until it is there.
    return to > at.end || from <= Math.max(at.start, at.stream.done(mix)) + NEAR;
  }

  /** @param comes whether the mixes themselves will be there soon: then only what is there sooner is begun */
  private listenFrom(start: number, comes: boolean): void {
    // What is kept whole is short, and there in a moment.
    if (this.isOver || this.stream.isWhole) return;
    if (comes && this.isUnlikeAll) return this.stream.resume();
    const { pool, memory, sums, turns, arriving } = this.tools;
    const graphs = this.mixes.map(({ graph }) => graph);
    const frames = graphs[0]?.frames ?? 0;
    const reused = sums.reuse(graphs, start, Math.min(frames, start + NEAR));
    this.isUnlikeAll = !reused;
    if (comes && !reused) return this.stream.resume();
    this.endListening();
    const files = this.mixes.map(() => join(arriving, newId()));
    const mixes = (reused?.graphs ?? graphs).map((graph, n) => ({ graph, file: files[n] ?? '', part: files[n] ?? '' }));
    const end = reused?.end ?? frames;
    const stems = { ...this.stems, ...reused?.recordings };
    const stream = new RenderStream(pool, memory, mixes, stems, {
      rooms: this.rooms,
      start,
      end,
      sums: this.keepSums(),
      isListenedTo: true,
    });
    const listening: Listening = { stream, start, end, files, isAtWork: true };
    this.listened.push(listening);
    for (const { files } of this.listened.splice(0, Math.max(0, this.listened.length - MOST_STRETCHES)))
      removeAll(files);
    turns.listen(stream);
    stream
      .run()
      .catch((error: unknown) => {
        removeAll(files);
        if (!this.listened.includes(listening)) return;
        // Whoever waits gets it without what is kept, or from the mix itself, later.
        reused?.forget();
        this.leave(listening);
        this.failed(error);
      })
      .finally(() => {
        turns.listened(stream);
        listening.isAtWork = false;
      });
  }

  /** Ends what is at work from where somebody listens; what is through stays to be heard. */
  private endListening(): void {
    const atWork = this.listened.find(({ isAtWork }) => isAtWork);
    if (atWork) this.leave(atWork);
  }

  private leave(listening: Listening): void {
    this.listened = this.listened.filter((one) => one !== listening);
    listening.stream.stop();
    removeAll(listening.files);
    this.tools.turns.listened(listening.stream);
  }

  private keepSums() {
    return { in: this.tools.sums, of: this.mixes.map(({ graph }) => graph) };
  }
}

const removeAll = (files: readonly string[]): void => files.forEach((file) => rmSync(file, { force: true }));
