import type { Logger } from 'pino';

/** Work that goes on after its request was answered, so that the server does not close under it. */
export class BackgroundTasks {
  private readonly all = new Set<Promise<unknown>>();

  constructor(private readonly log: Logger) {}

  /** Looks after work to its end. Nobody waits for it, so where it fails the log says so and nothing else ends with it. */
  add(work: Promise<unknown>): void {
    const looked = work
      .catch((error: unknown) => this.log.error(error, 'work in the background failed'))
      .finally(() => this.all.delete(looked));
    this.all.add(looked);
  }

  /** Resolves when nothing is left at work. */
  async whenIdle(): Promise<void> {
    while (this.all.size > 0) await Promise.all(this.all);
  }
}
