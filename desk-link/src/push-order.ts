import type { SettingsByAddress } from '@old-echo/core/desk/state';

/**
 * Keeps pushes in order. Datagrams overtake one another, so each value counts only when nothing newer is known of its
 * setting; and numbers that did not arrive are remembered until they do.
 */
export class PushSequencer {
  private readonly newest = new Map<string, number>();
  private readonly missing = new Set<number>();
  /** The newest number the desk has named. */
  last = 0;

  /** Begins anew at the number the desk names when the watch starts. */
  restart(at: number): void {
    this.newest.clear();
    this.missing.clear();
    this.last = at;
  }

  /** The values among `settings`, as of number `at`, that are not older than what is known. */
  take(settings: SettingsByAddress, at: number): SettingsByAddress {
    const taken: Record<string, SettingsByAddress[string]> = {};
    for (const [address, value] of Object.entries(settings)) {
      if ((this.newest.get(address) ?? 0) > at) continue;
      this.newest.set(address, at);
      taken[address] = value;
    }
    return taken;
  }

  /** Notes that push `number` arrived; whatever lies between it and the last one is missing from now on. Whether it is new. */
  arrived(number: number): boolean {
    this.reached(number);
    return this.missing.delete(number);
  }

  /** Notes that the desk has pushed up to `number`. */
  reached(number: number): void {
    for (let n = this.last + 1; n <= number; n++) this.missing.add(n);
    this.last = Math.max(this.last, number);
  }

  /** The numbers that did not arrive, as few unbroken runs. */
  gaps(): [from: number, to: number][] {
    const runs: [number, number][] = [];
    for (const n of [...this.missing].sort((a, b) => a - b)) {
      const run = runs.at(-1);
      if (run && run[1] === n - 1) run[1] = n;
      else runs.push([n, n]);
    }
    return runs;
  }

  /** Whether everything up to `number` has arrived. */
  complete(number: number): boolean {
    return this.last >= number && [...this.missing].every((n) => n > number);
  }

  /** The newest number up to which nothing is missing. */
  get unbroken(): number {
    return this.missing.size > 0 ? Math.min(...this.missing) - 1 : this.last;
  }

  /** Gives up on everything up to `number`. */
  forget(number: number): void {
    for (const n of this.missing) if (n <= number) this.missing.delete(n);
  }
}
