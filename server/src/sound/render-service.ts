import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';

import type { Logger } from 'pino';

import { sceneTitle } from '@old-echo/core/contracts/scene';
import { MIX_RATE, type RenderRequest, type RenderView, TAIL_SECONDS } from '@old-echo/core/contracts/sound';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { type State, validateSettings, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { OUTPUT_FAMILIES } from '@old-echo/core/signal/path-gain';
import { buildRenderGraph, type StemInput } from '@old-echo/core/sound/render-graph';

import { runRecipe } from '../combine/combination-store';
import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { newId } from '../database/new-id';
import type { DeskConnections } from '../desk/desk-connections';
import { loadState } from '../desk/scene-states';
import { claimJob, endJob, reportProgress } from '../jobs/job-store';
import { planRecall } from '../recall/plan-recall';
import { profileOfProduction } from '../scenes/production-store';
import { sceneView } from '../scenes/scene-store';
import { KeptSums } from './kept-sums';
import { MixesAtWork } from './mixes-at-work';
import type { PackedSound } from './pack-flac';
import { pruneRenders } from './prune-renders';
import { RenderCache } from './render-cache';
import { renderView, saveMeasurements, touchRender } from './render-store';
import type { StreamedMix } from './render-stream';
import { packedPiece, pieceOf } from './send-piece';
import type { StemFile } from './stem-file';
import { startsOf, stemRows } from './stem-store';
import { Turns } from './turns';
import type { WorkerPool } from './worker-pool';

/** Time between two notes of how far a render is, in ms. */
const PROGRESS_INTERVAL_MS = 200;

interface Tools {
  readonly db: Database;
  readonly files: FileStore;
  readonly pool: WorkerPool;
  readonly sessions: DeskConnections;
  readonly log: Logger;
  /** The most that mixes may take on the disk, in bytes. */
  readonly kept: number;
}

/** Mixes that were asked for within this time of one another are worked out together, in ms. */
const TOGETHER_MS = 100;
/** The most mixes that are worked out together. */
const MOST_TOGETHER = 4;
/** So often one looks how far a mix is, in ms. */
const LOOK_MS = 50;
/** So long after the last mix all that was kept of it in memory is forgotten, in ms. */
const FORGET_MS = 5 * 60_000;

/** Mixes that nobody asked about for so long need not be worked out while others wait, in ms: whoever wants one asks every second. */
const UNASKED_MS = 5000;

/** A mix that is worked out here. */
interface AtWork {
  /** When somebody asked for it last, in ms. */
  askedAt: number;
  readonly ended: Promise<void>;
  /** Samples of each channel of it. */
  readonly frames: number;
  /** The mixes that it is worked out with, and its place among them; undefined until that has begun. */
  among: { readonly mixes: MixesAtWork; readonly place: number } | undefined;
}

/** A mix that is asked for. */
interface Wanted extends StreamedMix {
  readonly id: string;
  readonly productionId: string;
  readonly stems: Readonly<Record<string, StemFile & { readonly rate: number }>>;
  readonly end: () => void;
}

/** Works out mixes from stems. What is the same sound is worked out once, by whoever asks. */
export class RenderService {
  private readonly memory = new RenderCache();
  private readonly sums: KeptSums;
  private readonly turns = new Turns();
  /** Mixes that are being worked out here, or will be at once, by their id. */
  private readonly atWork = new Map<string, AtWork>();
  private readonly wanted: Wanted[] = [];
  /** How many requests are being understood: what they want is worked out with what is wanted already. */
  private asking = 0;
  private readonly ending = new AbortController();
  private forgetting: NodeJS.Timeout | undefined;

  constructor(private readonly tools: Tools) {
    this.sums = new KeptSums(tools.files.arriving);
  }

  /** Removes what nobody has asked for in a while, and what is too much. */
  prune(now: Date): Promise<void> {
    const { db, files, kept } = this.tools;
    return pruneRenders(db, files, kept, now);
  }

  /** Begins to work out a mix, or finds it done or at work already. @throws Fault `refused-input`, `not-found`, `link-lost` */
  async start(request: RenderRequest): Promise<RenderView> {
    const { db, files } = this.tools;
    this.asking++;
    try {
      const { graph, stems } = await this.plan(request);
      const id = graph.nodes.at(-1)?.key ?? '';
      await touchRender(db, id);
      this.ask(id);
      if (await claimJob(db, id, graph.frames, !existsSync(files.mix(id))))
        this.want({ id, productionId: request.productionId, graph, stems });
      return await renderView(db, id);
    } finally {
      this.asking--;
      if (this.asking === 0) this.beginWanted();
    }
  }

  private want(mix: Pick<Wanted, 'id' | 'productionId' | 'graph' | 'stems'>): void {
    const { files } = this.tools;
    const { id } = mix;
    const worked = new Promise<void>((end) =>
      this.wanted.push({ ...mix, file: files.mix(id), part: join(files.arriving, newId()), end }),
    );
    const work: AtWork = {
      askedAt: performance.now(),
      frames: mix.graph.frames,
      among: undefined,
      ended: worked.finally(() => {
        // It may have been cancelled, and asked for again.
        if (this.atWork.get(id) === work) this.atWork.delete(id);
        this.rest();
      }),
    };
    this.atWork.set(id, work);
    setTimeout(() => this.beginWanted(), TOGETHER_MS);
  }

  /** Notes that somebody wants a mix that is worked out here. */
  private ask(id: string): AtWork | undefined {
    const work = this.atWork.get(id);
    if (work) work.askedAt = performance.now();
    return work;
  }

  /** Whether nobody asks about a mix any more, while another is wanted: it would take that one's time. */
  private isUnwanted(id: string): boolean {
    const isAsked = ({ askedAt }: AtWork) => performance.now() - askedAt <= UNASKED_MS;
    const work = this.atWork.get(id);
    return work !== undefined && !isAsked(work) && [...this.atWork.values()].some(isAsked);
  }

  /** Begins with all that is wanted: what is of one production, and as long, together. */
  private beginWanted(): void {
    for (let [first] = this.wanted; first; [first] = this.wanted) {
      const { productionId, graph } = first;
      const isAlike = (mix: Wanted) => mix.productionId === productionId && mix.graph.frames === graph.frames;
      const together = this.wanted.filter(isAlike).slice(0, MOST_TOGETHER);
      for (const one of together) this.wanted.splice(this.wanted.indexOf(one), 1);
      void this.work(together).finally(() => together.forEach(({ end }) => end()));
    }
  }

  /** How far a mix is, after so many ms, or as soon as it has ended where it is worked out here. @throws Fault `not-found` */
  async poll(id: string, wait: number): Promise<RenderView> {
    const view = await renderView(this.tools.db, id);
    const work = this.ask(id);
    if (view.status !== 'running' || wait === 0) return view;
    const late = new AbortController();
    await Promise.race([
      pause(wait, undefined, { signal: late.signal }).catch(() => undefined),
      ...(work ? [work.ended] : []),
    ]);
    late.abort();
    const after = await renderView(this.tools.db, id);
    if (after.status !== 'running' || !work?.among) return after;
    const { mixes, place } = work.among;
    return { ...after, done: mixes.done(place), measured: mixes.soFar(place) };
  }

  /**
   * A piece of a mix, as soon as it is worked out, within so many ms; what is far ahead is worked out next.
   * @throws Fault `not-found` for what is not rendered or behind its end, `try-later` for what is not there yet
   */
  async piece(id: string, piece: number, wait: number): Promise<PackedSound> {
    const { files, pool } = this.tools;
    const whole = pieceOf(files.mix(id), piece);
    for (const until = performance.now() + wait; ;) {
      const work = this.ask(id);
      if (!work || whole.from >= work.frames || existsSync(whole.file)) return packedPiece(pool, whole);
      const there = work.among?.mixes.find(work.among.place, piece);
      // It may have got its name meanwhile, or be worked out elsewhere.
      const packed = there && (await packedPiece(pool, there).catch(() => undefined));
      if (packed) return packed;
      if (performance.now() >= until)
        throw new Fault('try-later', 'This part of the mix is not rendered yet.', 'It will be in a moment.');
      await Promise.race([work.ended, pause(LOOK_MS)]);
    }
  }

  async close(): Promise<void> {
    this.ending.abort(new Fault('unavailable', 'Old Echo was stopped.', 'Start it again.'));
    await Promise.all([...this.atWork.values()].map(({ ended }) => ended));
    this.sums.clear();
  }

  private async plan(request: RenderRequest): Promise<Pick<Wanted, 'graph' | 'stems'>> {
    const { db, files } = this.tools;
    const { productionId, output, solo, law } = request;
    const { profile, state: before } = await this.stateOf(request);
    const state = request.settings ? withSettings(before, validateSettings(profile, request.settings)) : before;
    if (!OUTPUT_FAMILIES.includes(stripFamily(profile, output)?.id ?? ''))
      throw new Fault(
        'refused-input',
        `${profile.name} has no output ${output}.`,
        'Choose a main, a mix or a matrix.',
        'output',
      );
    const rows = await stemRows(db, productionId);
    const starts = startsOf(rows);
    if (rows.length === 0)
      throw new Fault('refused-input', 'No stems to listen to.', 'Attach recordings to the strips first.');
    // What is gone from the disk is said with the stems; the rest is heard.
    const heard = rows
      .map((row, n) => ({ ...row, start: starts[n] ?? 0 }))
      .filter(({ hash }) => existsSync(files.stem(hash)));
    if (heard.length === 0)
      throw new Fault('refused-input', 'The files of all stems are missing on the disk.', 'Attach them again.');
    const stems = Object.fromEntries(
      heard.map(({ strip, hash, frames, rate, start, recorded_gain_db: gain }): [string, StemInput] => [
        strip,
        { hash, gain, frames: Math.ceil((frames * MIX_RATE) / rate), start: Math.round(start * MIX_RATE) },
      ]),
    );
    const longest = Math.max(...Object.values(stems).map(({ frames, start = 0 }) => start + frames));
    const graph = buildRenderGraph(profile, state, {
      output,
      solo,
      stems,
      law,
      rate: MIX_RATE,
      frames: longest + TAIL_SECONDS * MIX_RATE,
    });
    const recordings = rows.map(({ hash, rate, channels }) => [hash, { file: files.stem(hash), channels, rate }]);
    return { graph, stems: Object.fromEntries(recordings) as Wanted['stems'] };
  }

  private async stateOf({
    productionId,
    sceneId,
    recipe,
    deskId,
    recall,
  }: RenderRequest): Promise<{ profile: Profile; state: State }> {
    const { db, sessions } = this.tools;
    const profile = await profileOfProduction(db, productionId);
    if (sceneId !== undefined) {
      const scene = await sceneView(db, sceneId);
      const own = await profileOfProduction(db, scene.productionId);
      if (own.id !== profile.id) throw wrongProfileFault();
      if (scene.partial)
        throw new Fault(
          'refused-input',
          `${sceneTitle(scene)} is only a part of a desk, so it cannot be heard by itself.`,
          'Preview it on the desk: there it is heard with everything else.',
        );
      return { profile, state: await loadState(db, sceneId) };
    }
    if (recipe) {
      const { profile: own, combined } = await runRecipe(db, recipe);
      if (own.id !== profile.id) throw wrongProfileFault();
      return { profile, state: combined.state };
    }
    const session = sessions.of(deskId ?? '');
    session.assertLinked();
    if (session.profile.id !== profile.id) throw wrongProfileFault();
    if (!recall) return { profile, state: session.state };
    const { preview } = await planRecall(db, session, recall);
    const to = Object.fromEntries(preview.changes.map((change) => [change.address, change.to]));
    return { profile, state: withSettings(session.state, to) };
  }

  private async work(mixes: readonly Wanted[]): Promise<void> {
    const { db, pool, log, files } = this.tools;
    const cancelled = new Set<string>();
    const signal = this.ending.signal;
    let atWork: MixesAtWork | undefined;
    const stop = () => atWork?.stop();
    const note = async () => {
      for (const [place, { id, graph }] of mixes.entries()) {
        if (cancelled.has(id)) continue;
        const isStopped = await reportProgress(db, id, atWork?.done(place) ?? 0, graph.frames);
        if (isStopped || this.isUnwanted(id)) {
          cancelled.add(id);
          // The others go on; whoever does not want this one any more need not wait for them.
          await endJob(db, id, 'cancelled');
        }
      }
      if (cancelled.size === mixes.length) stop();
    };
    const notes = setInterval(
      () => void note().catch((error: unknown) => log.warn(error, 'a render could not be noted')),
      PROGRESS_INTERVAL_MS,
    );
    signal.addEventListener('abort', stop);
    const endAll = (ends: (mix: Wanted, place: number) => Promise<unknown>) =>
      Promise.all(
        mixes.flatMap((mix, place) =>
          cancelled.has(mix.id)
            ? []
            : ends(mix, place).catch((error: unknown) => log.error(error, 'the end of a render could not be written')),
        ),
      );
    try {
      const stems = await this.atRate(mixes);
      signal.throwIfAborted();
      const { memory, sums, turns } = this;
      atWork = new MixesAtWork({ pool, memory, sums, turns, arriving: files.arriving }, mixes, stems, (error) =>
        log.warn(error, 'a mix could not be worked out from where somebody listens'),
      );
      for (const [place, { id }] of mixes.entries()) {
        const work = this.atWork.get(id);
        if (work) work.among = { mixes: atWork, place };
      }
      const measured = await atWork.run();
      clearInterval(notes);
      signal.throwIfAborted();
      await endAll(async ({ id }, place) => {
        await saveMeasurements(db, id, measured[place]);
        await endJob(db, id, 'done');
      });
      await this.prune(new Date()).catch((error: unknown) => log.warn(error, 'mixes could not be tidied up'));
    } catch (thrown) {
      clearInterval(notes);
      const error: unknown = signal.aborted ? signal.reason : thrown;
      if (!(error instanceof Fault) && cancelled.size < mixes.length) log.error(error, 'a mix could not be worked out');
      const why = error instanceof Fault ? error.message : 'Old Echo failed during it.';
      await endAll(({ id }) => endJob(db, id, 'failed', why));
    } finally {
      signal.removeEventListener('abort', stop);
    }
  }

  /** The recordings of some mixes at their rate: resampled where their own is another, once for all. */
  private async atRate(mixes: readonly Wanted[]): Promise<Readonly<Record<string, StemFile>>> {
    const { files, pool } = this.tools;
    const heard = new Set(
      mixes.flatMap(({ graph }) => graph.nodes.flatMap((node) => (node.kind === 'stem' ? [node.hash] : []))),
    );
    const stems = Object.entries(Object.assign({}, ...mixes.map((mix) => mix.stems)) as Wanted['stems']);
    const found = stems
      .filter(([hash]) => heard.has(hash))
      .map(async ([hash, { file, channels, rate }]): Promise<[string, StemFile]> => {
        if (rate === MIX_RATE) return [hash, { file, channels }];
        const resampled = files.resampled(hash, MIX_RATE);
        if (!existsSync(resampled))
          await pool.run({
            do: 'resample',
            from: file,
            rate: MIX_RATE,
            file: resampled,
            part: join(files.arriving, newId()),
          });
        return [hash, { file: resampled, channels }];
      });
    return Object.fromEntries(await Promise.all(found));
  }

  /** Once nothing at all is at work, nobody reads what the memory has let go; a while later it lets all of it go. */
  private rest(): void {
    if (this.atWork.size > 0) return;
    this.memory.rest();
    clearTimeout(this.forgetting);
    this.forgetting = setTimeout(() => (this.atWork.size === 0 ? this.forget() : undefined), FORGET_MS);
    this.forgetting.unref();
  }

  private forget(): void {
    this.memory.clear();
    this.sums.clear();
  }
}

const wrongProfileFault = (): Fault =>
  new Fault('refused-input', 'That mix belongs to a different desk model.', 'Choose one of the same desk model.');
