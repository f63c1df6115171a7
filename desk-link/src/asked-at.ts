/**
 * When each question was sent that has no answer yet. Answers bear no mark of their question, so each is taken for that of the oldest that
 * it can be the answer to: where one was lost, a newer answer counts for an older question, and never the other way round.
 */
export class AskedAt {
  private readonly open = new Map<string, number[]>();

  /**
   * @param usual how long an answer takes at most, as far as is known, in ms: what waits for longer was lost, unless nothing else waits
   * @param longest after how long no answer comes any more, in ms
   */
  constructor(
    private readonly usual: number,
    private readonly longest: number,
  ) {}

  sent(question: string, now: number): void {
    this.open.set(question, [...this.waiting(question, now), now]);
  }

  /** When the question was sent that an answer is taken for; undefined where nothing was asked. */
  answered(question: string, now: number): number | undefined {
    const waiting = this.waiting(question, now);
    const first = Math.max(
      0,
      waiting.findIndex((at) => now - at <= this.usual),
    );
    this.open.set(question, waiting.slice(first + 1));
    return waiting[first];
  }

  clear(): void {
    this.open.clear();
  }

  private waiting(question: string, now: number): number[] {
    return (this.open.get(question) ?? []).filter((at) => now - at <= this.longest);
  }
}
