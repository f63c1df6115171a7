/** How long it takes to go from one to the other, in seconds: short enough to hear at once, long enough not to click. */
const CROSSFADE = 0.008;

/** How long the way to the loudspeaker may take to open, in ms: a browser that has none keeps one waiting for ever. */
const MAX_OPENING_MS = 3000;

export type AbSide = 'A' | 'B';

interface Played {
  readonly sources: readonly AudioBufferSourceNode[];
  readonly gains: Readonly<Record<AbSide, GainNode>>;
}

/**
 * Starts two sounds at the same sample, one of them heard. Works on any audio context, one that only calculates included.
 * @param levels factors for A and B
 */
function startPair(
  context: BaseAudioContext,
  buffers: Readonly<Record<AbSide, AudioBuffer>>,
  levels: Readonly<Record<AbSide, number>>,
  heard: AbSide,
  at: number,
  from: number,
  loop: readonly [number, number] | null,
): Played {
  const gains = { A: context.createGain(), B: context.createGain() };
  const sources = (['A', 'B'] as const).map((letter) => {
    const source = context.createBufferSource();
    source.buffer = buffers[letter];
    if (loop) [source.loop, source.loopStart, source.loopEnd] = [true, ...loop];
    const gain = gains[letter];
    gain.gain.value = letter === heard ? levels[letter] : 0;
    source.connect(gain).connect(context.destination);
    source.start(at, from);
    return source;
  });
  return { sources, gains };
}

/** Goes from one to the other, beginning at `at` seconds of the context's time. */
function crossfadeTo(
  { gains }: Pick<Played, 'gains'>,
  levels: Readonly<Record<AbSide, number>>,
  heard: AbSide,
  at: number,
): void {
  for (const letter of ['A', 'B'] as const) {
    const { gain } = gains[letter];
    gain.cancelScheduledValues(at);
    gain.setValueAtTime(gain.value, at);
    gain.linearRampToValueAtTime(letter === heard ? levels[letter] : 0, at + CROSSFADE);
  }
}

/** Plays A and B together and lets one of them be heard. */
export class AbPlayer {
  private played: Played | null = null;
  /** Context time at which second 0 would have started. */
  private zero = 0;
  private at = 0;
  /** Counts what begins or ends playing: whoever waited for the loudspeaker meanwhile is too late. */
  private turn = 0;
  private levels: Readonly<Record<AbSide, number>> = { A: 1, B: 1 };
  private loop: readonly [number, number] | null = null;
  heard: AbSide = 'A';

  /**
   * @param context the way to the loudspeaker; whoever made it closes it
   * @param onSilent is told when it was to play, and the way to the loudspeaker did not open
   */
  constructor(
    private readonly context: AudioContext,
    private readonly buffers: Readonly<Record<AbSide, AudioBuffer>>,
    private readonly onSilent: () => void = () => undefined,
  ) {}

  get playing(): boolean {
    return this.played !== null;
  }

  get seconds(): number {
    return this.buffers.A.duration;
  }

  /** Where it is, in seconds. */
  get place(): number {
    if (!this.played) return this.at;
    const now = this.context.currentTime - this.zero;
    if (!this.loop) return Math.min(now, this.seconds);
    const [from, to] = this.loop;
    return now < to ? now : from + ((now - from) % (to - from));
  }

  async play(from = this.at): Promise<void> {
    this.pause();
    const turn = this.turn;
    const opened = await this.open();
    if (turn !== this.turn) return;
    if (!opened) return this.onSilent();
    const start = this.context.currentTime + 0.02;
    this.at = from >= this.seconds - 0.01 ? 0 : from;
    this.zero = start - this.at;
    this.played = startPair(this.context, this.buffers, this.levels, this.heard, start, this.at, this.loop);
    const [source] = this.played.sources;
    const { played } = this;
    if (source)
      source.onended = () => {
        if (this.played === played) [this.played, this.at] = [null, 0];
      };
  }

  /** Whether the way to the loudspeaker opens in time. */
  private open(): Promise<boolean> {
    return new Promise((resolve) => {
      const late = setTimeout(() => resolve(false), MAX_OPENING_MS);
      const settle = (opened: boolean) => {
        clearTimeout(late);
        resolve(opened);
      };
      this.context.resume().then(
        () => settle(true),
        () => settle(false),
      );
    });
  }

  pause(): void {
    this.turn++;
    if (!this.played) return;
    this.at = this.place;
    const { sources } = this.played;
    this.played = null;
    for (const source of sources) source.stop();
  }

  async seek(to: number): Promise<void> {
    this.at = Math.max(0, Math.min(to, this.seconds));
    if (this.played) await this.play(this.at);
  }

  hear(letter: AbSide): void {
    this.heard = letter;
    if (this.played) crossfadeTo(this.played, this.levels, letter, this.context.currentTime);
  }

  /** Sets how loud each is, as factors. */
  level(levels: Readonly<Record<AbSide, number>>): void {
    this.levels = levels;
    if (this.played) crossfadeTo(this.played, levels, this.heard, this.context.currentTime);
  }

  /** Repeats from one second to another; null plays on. */
  async repeat(loop: readonly [number, number] | null): Promise<void> {
    this.loop = loop;
    if (this.played) await this.play(this.place);
  }
}
