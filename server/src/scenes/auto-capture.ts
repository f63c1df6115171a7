import type { SceneKind } from '@old-echo/core/contracts/scene';
import { stripFingerprints } from '@old-echo/core/desk/fingerprint';
import type { State } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';
import type { DeskConnections } from '../desk/desk-connections';
import { readWhole } from '../desk/desk-lease';
import type { DeskMirror } from '../desk/desk-mirror';
import { deskRow } from '../desk/desk-store';
import { readStoredProfile } from '../desk/profile-store';
import { fingerprintsOf } from '../desk/scene-states';
import type { LiveChannel } from '../live/live-channel';
import { insertScene } from './insert-scene';
import { pruneAutosaves } from './prune-autosaves';
import { sceneRow } from './scene-store';

/** How often what was kept is thinned out, in ms. */
const PRUNE_INTERVAL_MS = 3_600_000;

interface KeeperOptions {
  /** How long a desk must not have moved before what drifted is kept, in ms. */
  readonly rest: number;
  /** How long it may hold a desk to read it, in ms. */
  readonly lease: number;
  readonly clock: () => Date;
}

const AUTOSAVE_NAMES = {
  rested: 'Autosaved while idle',
  'link ended': 'Autosaved when the desk disconnected',
} as const;

/**
 * Autosaves when a drifted desk is idle or disconnects, and prunes old autosaves.
 */
export class AutoCapture {
  private readonly timers = new Map<string, NodeJS.Timeout>();
  private readonly wasLinked = new Set<string>();
  private readonly thinning: NodeJS.Timeout;
  private work: Promise<unknown> = Promise.resolve();
  private closed = false;

  constructor(
    private readonly db: Database,
    private readonly sessions: DeskConnections,
    private readonly live: LiveChannel,
    private readonly options: KeeperOptions,
  ) {
    sessions.listen((deskId, event) => {
      if (event.type === 'settings-changed') this.restartIdleTimer(deskId);
      if (event.type !== 'link') return;
      const { state } = sessions.of(deskId).linkStatus;
      if (state === 'linked') {
        this.wasLinked.add(deskId);
        this.restartIdleTimer(deskId);
      } else if (state === 'unlinked' && this.wasLinked.delete(deskId)) {
        this.endWait(deskId);
        this.enqueue(() => this.capture(sessions.of(deskId), 'link ended'));
      }
    });
    this.thinning = setInterval(() => this.enqueue(() => this.pruneAll()), PRUNE_INTERVAL_MS);
    this.enqueue(() => this.pruneAll());
  }

  async close(): Promise<void> {
    this.closed = true;
    clearInterval(this.thinning);
    for (const deskId of [...this.timers.keys()]) this.endWait(deskId);
    await this.work;
  }

  private restartIdleTimer(deskId: string): void {
    this.endWait(deskId);
    const timer = setTimeout(() => this.enqueue(() => this.captureRested(deskId, timer)), this.options.rest);
    this.timers.set(deskId, timer);
  }

  /** What cannot be kept now, because the desk is held or does not answer, is tried again after another rest. */
  private async captureRested(deskId: string, timer: NodeJS.Timeout): Promise<void> {
    let isDone = false;
    try {
      isDone = await this.capture(this.sessions.of(deskId), 'rested');
    } finally {
      // What moved meanwhile has begun a rest of its own.
      if (!isDone && !this.closed && this.timers.get(deskId) === timer) this.restartIdleTimer(deskId);
    }
  }

  private endWait(deskId: string): void {
    clearTimeout(this.timers.get(deskId));
    this.timers.delete(deskId);
  }

  /** One thing after the other, so that two reasons at once do not keep the same twice. */
  private enqueue(work: () => Promise<unknown>): void {
    this.work = this.work.then(async () => {
      if (!this.closed) await work().catch((error: unknown) => this.live.log.error(error, 'keeping by itself failed'));
    });
  }

  /** Returns whether nothing is left to be kept; false while the desk is held. */
  private async capture(session: DeskMirror, why: Exclude<SceneKind, 'scene' | 'way back'>): Promise<boolean> {
    const { db } = this;
    const desk = await deskRow(db, session.deskId);
    if (desk.current_scene_id === null) return true;
    if (desk.lease_until !== null && desk.lease_until > new Date()) return false;
    const standing = await sceneRow(db, desk.current_scene_id);
    const newest = await db('scenes')
      .where({ production_id: standing.production_id })
      .orderBy('ordinal', 'desc')
      .first('id');
    const { lease } = this.options;
    const state =
      why === 'rested' && session.linkStatus.state === 'linked' ? await readWhole(db, session, lease) : session.state;
    for (const id of new Set([standing.id, newest?.id ?? standing.id]))
      if (await this.hasSameState(id, state)) return true;
    if (standing.binned_at) return true;
    const madeAt = this.options.clock();
    await insertScene(db, session.profile, {
      versionId: standing.version_id,
      name: AUTOSAVE_NAMES[why],
      note: '',
      milestone: '',
      kind: why,
      parents: [standing.id],
      state,
      madeAt,
    });
    await pruneAutosaves(db, session.profile, standing.production_id, madeAt);
    await this.live.scenesChanged(standing.production_id);
    return true;
  }

  private async hasSameState(sceneId: string, state: State): Promise<boolean> {
    const [there, here] = [await fingerprintsOf(this.db, sceneId), stripFingerprints(state)];
    return Object.entries(here).every(([strip, print]) => there.get(strip) === print);
  }

  private async pruneAll(): Promise<void> {
    const productions = await this.db('productions')
      .join('desks', 'desks.id', 'productions.desk_id')
      .select<{ id: string; profile_id: string }[]>('productions.id', 'profile_id');
    for (const { id, profile_id } of productions)
      if ((await pruneAutosaves(this.db, await readStoredProfile(this.db, profile_id), id, this.options.clock())) > 0)
        await this.live.scenesChanged(id);
  }
}
