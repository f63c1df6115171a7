import type { RequestHandler, Response } from 'express';

import { isTimeout, sendProblem, silentFault } from './problem-details';

/** How often it is asked whether the database answers, and how long one waits for it, in ms. */
const ASK_EVERY_MS = 1000;
const PATIENCE_MS = 6000;

/**
 * Tells whoever waits for a database that has stopped answering. What they asked for is not broken off: it may still be done when the
 * database answers again. Requests that need no database are not held up.
 */
export class SilentDatabase {
  private readonly waiting = new Map<Response, number>();
  /** Since when it has been asked without an answer. */
  private askedAt: number | undefined;
  private isAsking = false;
  private readonly timer = setInterval(() => this.look(), ASK_EVERY_MS);

  /** @param ask resolves when the database answers */
  constructor(private readonly ask: () => Promise<unknown>) {}

  /** Keeps an eye on every request until it is answered. */
  readonly watch: RequestHandler = (_, res, next) => {
    this.waiting.set(res, performance.now());
    res.once('close', () => this.waiting.delete(res));
    next();
  };

  close(): void {
    clearInterval(this.timer);
  }

  private look(): void {
    const now = performance.now();
    this.askedAt ??= now;
    if (!this.isAsking) {
      this.isAsking = true;
      void this.ask()
        // One that is gone, and not only silent, is told by the requests themselves.
        .then(
          () => (this.askedAt = undefined),
          (error: unknown) => (this.askedAt = isTimeout(error) ? this.askedAt : undefined),
        )
        .finally(() => (this.isAsking = false));
    }
    if (now - this.askedAt < PATIENCE_MS) return;
    for (const [res, since] of this.waiting)
      if (!res.headersSent && now - since > PATIENCE_MS)
        sendProblem(res, silentFault(`for ${Math.round((now - this.askedAt) / 1000)} seconds`));
  }
}
