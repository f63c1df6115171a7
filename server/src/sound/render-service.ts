import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';

import type { Logger } from 'pino';

import { sceneTitle } from '@old-echo/core/contracts/scene';
import { MIX_RATE, type RenderRequest, type RenderView, TAIL_SECONDS } from '@old-echo/core/contracts/sound';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { type State, validateSettings, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { OUTPUT_FAMILIES } from '@old-echo/core/signal/path-gain';
import { render } from '@old-echo/core/sound/render';
import { buildRenderGraph, type RenderGraph, type StemInput } from '@old-echo/core/sound/render-graph';

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
import { RenderCache } from './render-cache';
import { RenderScheduler } from './render-scheduler';
import { deleteUnusedRenders, renderView, saveMeasurements, touchRender } from './render-store';
import { stemRows } from './stem-store';
import type { WorkerPool } from './worker-pool';

/** Mixes that nobody asked for in this time go, in ms. */
const RETENTION_MS = 7 * 24 * 3_600_000;
/** Time between two notes of how far a render is, in ms. */
const PROGRESS_INTERVAL_MS = 200;

interface Tools {
  readonly db: Database;
  readonly files: FileStore;
  readonly pool: WorkerPool;
  readonly sessions: DeskConnections;
  readonly log: Logger;
}

/** Works out mixes from stems. What is the same sound is worked out once, by whoever asks. */
export class RenderService {
  private readonly memory = new RenderCache();
  private readonly steps: RenderScheduler;
  /** Mixes that are being worked out here, by their id. */
  private readonly atWork = new Map<string, Promise<void>>();
  private readonly ending = new AbortController();

  constructor(private readonly tools: Tools) {
    this.steps = new RenderScheduler(tools.pool, this.memory, () => this.rest());
  }

  /** Removes mixes that nobody asked for in a week. */
  async pruneUnused(now: Date): Promise<void> {
    const { db, files } = this.tools;
    for (const id of await deleteUnusedRenders(db, new Date(now.getTime() - RETENTION_MS), now))
      await rm(files.mix(id), { force: true });
  }

  /** Begins to work out a mix, or finds it done or at work already. @throws Fault `refused-input`, `not-found`, `link-lost` */
  async start(request: RenderRequest): Promise<RenderView> {
    const { db, files } = this.tools;
    const plan = await this.plan(request);
    const id = plan.nodes.at(-1)?.key ?? '';
    await touchRender(db, id);
    if (await claimJob(db, id, 0, !existsSync(files.mix(id))))
      this.atWork.set(
        id,
        this.work(id, plan).finally(() => {
          this.atWork.delete(id);
          this.rest();
        }),
      );
    return renderView(db, id);
  }

  /** How far a mix is, after so many ms, or as soon as it has ended where it is worked out here. @throws Fault `not-found` */
  async poll(id: string, wait: number): Promise<RenderView> {
    const view = await renderView(this.tools.db, id);
    if (view.status !== 'running' || wait === 0) return view;
    const ended = new AbortController();
    void this.atWork.get(id)?.finally(() => ended.abort());
    await setTimeout(wait, undefined, { signal: ended.signal }).catch(() => undefined);
    return renderView(this.tools.db, id);
  }

  async close(): Promise<void> {
    this.ending.abort(new Fault('unavailable', 'Old Echo was stopped.', 'Start it again.'));
    await Promise.all(this.atWork.values());
  }

  private async plan(request: RenderRequest): Promise<RenderGraph> {
    const { db } = this.tools;
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
    if (rows.length === 0)
      throw new Fault('refused-input', 'No stems to listen to.', 'Attach WAV files to the strips first.');
    const stems = Object.fromEntries(
      rows.map(({ strip, hash, frames, rate, recorded_gain_db: gain }): [string, StemInput] => [
        strip,
        { hash, gain, frames: Math.ceil((frames * MIX_RATE) / rate) },
      ]),
    );
    const longest = Math.max(...Object.values(stems).map(({ frames }) => frames));
    return buildRenderGraph(profile, state, {
      output,
      solo,
      stems,
      law,
      rate: MIX_RATE,
      frames: longest + TAIL_SECONDS * MIX_RATE,
    });
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

  private async work(id: string, plan: RenderGraph): Promise<void> {
    const { db, files, pool, log } = this.tools;
    const { frames, rate } = plan;
    const cancelled = new AbortController();
    const signal = AbortSignal.any([cancelled.signal, this.ending.signal]);
    let [done, total] = [0, plan.nodes.length];
    // What belongs to this mix is kept before all else, also what it does not ask for while only another strip has changed.
    for (const { key } of plan.nodes) this.memory.get(key);
    const note = async () => {
      if (await reportProgress(db, id, done, total)) cancelled.abort(CANCELLED);
    };
    const notes = setInterval(
      () => void note().catch((error: unknown) => log.warn(error, 'a render could not be noted')),
      PROGRESS_INTERVAL_MS,
    );
    try {
      const channels = await render(plan, {
        stem: (hash) => this.steps.stem(hash, files.stem(hash), rate),
        run: (step, inputs) => this.steps.run(step, inputs, frames, rate),
        known: (key) => this.memory.get(key),
        onProgress: (steps, of) => ([done, total] = [steps, of]),
        signal,
      });
      const { measured } = await pool.run({
        do: 'finish',
        channels,
        rate,
        file: files.mix(id),
        part: join(files.arriving, newId()),
      });
      signal.throwIfAborted();
      clearInterval(notes);
      await saveMeasurements(db, id, measured);
      await endJob(db, id, 'done');
    } catch (error) {
      clearInterval(notes);
      if (error !== CANCELLED && !(error instanceof Fault)) log.error(error, 'a mix could not be worked out');
      const why = error instanceof Fault ? error.message : 'Old Echo failed during it.';
      const [status, words] = error === CANCELLED ? (['cancelled', ''] as const) : (['failed', why] as const);
      await endJob(db, id, status, words).catch((worse: unknown) =>
        log.error(worse, 'the end of a render could not be written'),
      );
    }
  }

  /** Once nothing at all is at work, nobody reads what the memory has let go. */
  private rest(): void {
    if (this.atWork.size === 0 && !this.steps.areBusy) this.memory.rest();
  }
}

const CANCELLED = new Error('cancelled');

const wrongProfileFault = (): Fault =>
  new Fault('refused-input', 'That mix belongs to a different desk model.', 'Choose one of the same desk model.');
