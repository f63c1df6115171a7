/** Work that goes on after its request was answered, so that the server does not close under it. */
export class AtWork {
  private readonly all = new Set<Promise<unknown>>();

  add(work: Promise<unknown>): void {
    this.all.add(work);
    void work.finally(() => this.all.delete(work));
  }

  /** Resolves when nothing is left at work. */
  async ended(): Promise<void> {
    while (this.all.size > 0) await Promise.all(this.all);
  }
}
