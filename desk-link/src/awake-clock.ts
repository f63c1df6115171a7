/** How often it is looked whether this program is held up, in ms. */
const TICK_MS = 25;
/** Longer than this between two looks, in ms, it was held up: several such times in a row are still shorter than a message may be late. */
const LONGEST_TICK_MS = 75;

/**
 * A clock that stands still while this program is held up: what a desk says in such a time waits to be heard, so that the time says nothing
 * of the desk.
 */
export class AwakeClock {
  private readonly ticking = setInterval(() => this.now(), TICK_MS);
  private last: number;
  private heldUp = 0;

  /** @param time a clock that never stands still, in ms */
  constructor(private readonly time: () => number = () => performance.now()) {
    this.last = time();
  }

  /** The time in ms, counted from any moment. */
  now(): number {
    const time = this.time();
    if (time - this.last > LONGEST_TICK_MS) this.heldUp += time - this.last - TICK_MS;
    this.last = time;
    return time - this.heldUp;
  }

  stop(): void {
    clearInterval(this.ticking);
  }
}
