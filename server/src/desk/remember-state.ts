import type { Logger } from 'pino';

import type { Database } from '../database/connect';
import type { DeskConnections } from './desk-connections';
import type { DeskMirror } from './desk-mirror';
import { noteHeard } from './last-heard';

/** While a desk moves, what is heard of it is written at most this often, in ms. */
const EVERY = 3000;

/** That a desk that rests was heard is written this often, in ms: a server that is killed is wrong by no more than that. */
const RESTING = 30_000;

/** Writes down what is heard of the desks, so that a page or a server opened while one does not answer knows it. */
export class Remember {
  private readonly timers = new Map<string, NodeJS.Timeout>();
  private readonly unwritten = new Map<string, Date>();
  private readonly linked = new Set<string>();
  private readonly resting: NodeJS.Timeout;
  private work: Promise<unknown> = Promise.resolve();

  /** `onWritten` is told of each desk that was written down. */
  constructor(
    private readonly db: Database,
    private readonly sessions: DeskConnections,
    private readonly log: Logger,
    private readonly onWritten: (deskId: string) => void,
  ) {
    sessions.listen((deskId, event) => {
      if (event.type === 'full-state' || event.type === 'settings-changed') this.soon(deskId);
      else if (event.type === 'link') this.onLink(deskId, sessions.of(deskId).linkStatus.state === 'linked');
    });
    this.resting = setInterval(() => this.linked.forEach((deskId) => this.soon(deskId)), RESTING);
  }

  async close(): Promise<void> {
    clearInterval(this.resting);
    for (const deskId of this.linked) this.onLink(deskId, false);
    await this.work;
  }

  /** A desk was heard for as long as it was linked, whether or not anything moved. */
  private onLink(deskId: string, isLinked: boolean): void {
    if (isLinked) this.linked.add(deskId);
    else if (this.linked.delete(deskId)) {
      this.unwritten.set(deskId, new Date());
      this.now(deskId);
    }
  }

  private soon(deskId: string): void {
    this.unwritten.set(deskId, new Date());
    if (!this.timers.has(deskId))
      this.timers.set(
        deskId,
        setTimeout(() => this.now(deskId), EVERY),
      );
  }

  private now(deskId: string): void {
    clearTimeout(this.timers.get(deskId));
    this.timers.delete(deskId);
    const at = this.unwritten.get(deskId);
    if (!at) return;
    this.unwritten.delete(deskId);
    const { state }: Pick<DeskMirror, 'state'> = this.sessions.of(deskId);
    this.work = this.work
      .then(() => noteHeard(this.db, deskId, { state, at }))
      .then(
        () => this.onWritten(deskId),
        (error: unknown) => this.log.error(error, 'what was heard of a desk could not be written down'),
      );
  }
}
