import type { RenderStream } from './render-stream';

/** Whose turn it is: while anybody listens ahead of whole mixes, all of those wait, so that what is heard next has the processors. */
export class Turns {
  private readonly whole = new Set<RenderStream>();
  private readonly heard = new Set<RenderStream>();

  /** Counts a whole mix in. */
  begin(stream: RenderStream): void {
    this.whole.add(stream);
    if (this.heard.size > 0) stream.pause();
  }

  end(stream: RenderStream): void {
    this.whole.delete(stream);
  }

  /** Has whole mixes wait for one that somebody listens to. */
  listen(stream: RenderStream): void {
    this.heard.add(stream);
    for (const one of this.whole) one.pause();
  }

  /** The last has them go on. */
  listened(stream: RenderStream): void {
    this.heard.delete(stream);
    if (this.heard.size === 0) for (const one of this.whole) one.resume();
  }
}
