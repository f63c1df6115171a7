import { MIX_RATE, PIECE_SECONDS } from '@old-echo/core/contracts/sound';
import { factorToDb } from '@old-echo/core/signal/sound';

import { MixPieces, type PlayedMix } from './mix-pieces';

/** How long it takes to go from one to the other, in seconds: short enough to hear at once, long enough not to click. */
const CROSSFADE = 0.008;

/** How long the way to the loudspeaker may take to open, in ms: a browser that has none keeps one waiting for ever. */
const MAX_OPENING_MS = 3000;

/** Samples of a piece. */
const PIECE = PIECE_SECONDS * MIX_RATE;
/** What sounds is planned so far ahead, in samples: a page in the background looks only once a second. */
const AHEAD = 3 * MIX_RATE;
/** So often it is looked whether more has to be planned, in ms. */
const LOOK_MS = 100;
/** Pieces that are asked for ahead of what is planned. */
const ASKED = 4;
/** With fewer of them there, what comes next may not be there in time; not yet to be said right after the beginning, in seconds. */
const [FEW, BEGINNING] = [2, 1];
/** Once it had to wait, it goes on with so many, so that it does not wait again at once. */
const AFTER_WAITING = 3;
/** How fast levels are matched anew while it plays, in dB a second: too slow to be heard. */
const MATCHING = 0.1;
/** From the touch to the first sample, in seconds. */
const LEAD_IN = 0.03;
/** What is to go on without a gap is planned before so much is left, in samples: what plays it is ahead of the clock. */
const IN_TIME = 0.02 * MIX_RATE;
/** Times are kept a millionth of a sample early, so that no rounding makes one begin a sample late. */
const EARLY = 1e-6 / MIX_RATE;

export type AbSide = 'A' | 'B';
const SIDES: readonly AbSide[] = ['A', 'B'];

/** Part of the song that sounds without a gap: samples since playing began, and of the song. */
interface Stretch {
  readonly at: number;
  readonly song: number;
  readonly count: number;
}

/** What plays, from the touch until it is stopped. */
interface Run {
  /** Context time of its first sample. */
  readonly zero: number;
  stretches: Stretch[];
  /** Samples that are planned. */
  planned: number;
  /** The sample of the song that comes next. */
  next: number;
  readonly sources: Set<AudioBufferSourceNode>;
  readonly gains: Readonly<Record<AbSide, GainNode>>;
}

/** Plays A and B together, piece by piece as they come, and lets one of them be heard. */
export class AbPlayer {
  private run: Run | null = null;
  /** Where it stands while nothing sounds, in samples. */
  private at = 0;
  private wanted = false;
  /** Counts what begins or ends playing: whoever waited for the loudspeaker meanwhile is too late. */
  private turn = 0;
  private levels: Readonly<Record<AbSide, number>> = { A: 1, B: 1 };
  /** What the levels go towards. */
  private target = this.levels;
  /** When they were looked at last, in context time. */
  private leveled = 0;
  private hasWaited = false;
  private ready = false;
  private loop: readonly [number, number] | null = null;
  private readonly pieces: Readonly<Record<AbSide, MixPieces>>;
  private readonly frames: number;
  private looking: ReturnType<typeof setInterval> | undefined;
  heard: AbSide = 'A';

  /**
   * @param context the way to the loudspeaker; whoever made it closes it
   * @param from where it begins, in seconds
   * @param tell is told once both can begin, when the way to the loudspeaker did not open to play, and when a piece could not be had
   */
  constructor(
    private readonly context: AudioContext,
    mixes: Readonly<Record<AbSide, PlayedMix>>,
    from: number,
    private readonly tell: { readonly ready: () => void; readonly silent: () => void; readonly failed: () => void },
  ) {
    this.frames = Math.round(Math.min(mixes.A.seconds, mixes.B.seconds) * MIX_RATE);
    this.at = Math.round(Math.max(0, Math.min(from, this.seconds - 1 / MIX_RATE)) * MIX_RATE);
    const loaded = () => {
      this.look();
      if (this.ready || !this.both(this.pieceOf(this.at))) return;
      this.ready = true;
      tell.ready();
    };
    const piecesOf = (mix: PlayedMix) => new MixPieces(context, mix, loaded, tell.failed);
    const a = piecesOf(mixes.A);
    this.pieces = { A: a, B: mixes.B === mixes.A ? a : piecesOf(mixes.B) };
    // Whoever has it before them may press Play next.
    this.askFrom(this.at);
  }

  /** Whether both could begin. */
  get isReady(): boolean {
    return this.ready;
  }

  get playing(): boolean {
    return this.wanted;
  }

  /** Whether it is to play, and waits for what is not there yet. */
  get waiting(): boolean {
    return this.wanted && !this.run;
  }

  /** Whether it may have to wait soon: what comes next is rendered slower than it plays. */
  get late(): boolean {
    const { run } = this;
    if (!run || this.now(run) < BEGINNING * MIX_RATE) return false;
    const pieces = this.piecesFrom(run.next);
    return pieces.slice(0, FEW).some((piece) => !this.both(piece));
  }

  get seconds(): number {
    return this.frames / MIX_RATE;
  }

  /** Where it is, in seconds. */
  get place(): number {
    return this.placeInFrames / MIX_RATE;
  }

  async play(from = this.place): Promise<void> {
    this.pause();
    const turn = this.turn;
    this.at = from >= this.seconds - 0.01 ? 0 : Math.round(from * MIX_RATE);
    this.wanted = true;
    const opened = await this.open();
    if (turn !== this.turn) return;
    if (!opened) {
      this.wanted = false;
      return this.tell.silent();
    }
    this.looking = setInterval(() => this.look(), LOOK_MS);
    this.look();
  }

  pause(): void {
    this.turn++;
    this.wanted = false;
    this.hasWaited = false;
    clearInterval(this.looking);
    this.silence();
  }

  async seek(to: number): Promise<void> {
    const place = Math.max(0, Math.min(to, this.seconds));
    if (this.wanted) return this.play(place);
    this.at = Math.round(place * MIX_RATE);
    this.askFrom(this.at);
  }

  /** Goes over to one of them; a level that is still on its way is there at once, where everything changes anyway. */
  hear(letter: AbSide): void {
    this.heard = letter;
    this.level(this.target);
  }

  /**
   * Sets how loud each is, as factors.
   * @param gradually while it plays, so slowly that nobody hears it
   */
  level(levels: Readonly<Record<AbSide, number>>, { gradually = false } = {}): void {
    this.target = levels;
    this.leveled = this.context.currentTime;
    if (gradually && this.run) return;
    this.levels = levels;
    this.crossfade();
  }

  /** Repeats from one second to another; null plays on. */
  async repeat(loop: readonly [number, number] | null): Promise<void> {
    this.loop = loop && [Math.round(loop[0] * MIX_RATE), Math.min(this.frames, Math.round(loop[1] * MIX_RATE))];
    if (this.wanted && !this.isStillRight()) await this.play(this.place);
  }

  /** Lets go of everything. */
  close(): void {
    this.pause();
    for (const side of SIDES) this.pieces[side].close();
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

  /** Whether what is planned is what is to come. */
  private isStillRight(): boolean {
    const { run, loop } = this;
    if (!run) return false;
    const ahead = run.stretches.filter(({ at, count }) => at + count > this.now(run));
    const goesRound = ahead.some(({ song }, n) => {
      const before = ahead[n - 1];
      return before !== undefined && song !== before.song + before.count;
    });
    return !goesRound && run.next <= (loop?.[1] ?? this.frames);
  }

  private get placeInFrames(): number {
    const { run } = this;
    if (!run) return this.at;
    const now = Math.max(0, this.now(run));
    const stretch = run.stretches.find(({ at, count }) => now < at + count) ?? run.stretches.at(-1);
    return stretch ? stretch.song + Math.min(stretch.count, Math.max(0, now - stretch.at)) : this.at;
  }

  /** Samples since playing began. */
  private now = ({ zero }: Run): number => (this.context.currentTime - zero) * MIX_RATE;

  private pieceOf = (frame: number): number => Math.floor(frame / PIECE);

  /** A piece of both, where both are there; what is not is asked for. */
  private both(piece: number): Readonly<Record<AbSide, AudioBuffer>> | undefined {
    const [A, B] = [this.pieces.A.get(piece), this.pieces.B.get(piece)];
    return A && B && { A, B };
  }

  /** Plans what sounds next, as far as it is there; asks for what comes behind it. */
  private look(): void {
    if (!this.wanted) return;
    const run = this.run ?? this.begin();
    if (!run) return;
    const now = this.now(run);
    run.stretches = run.stretches.filter(({ at, count }) => at + count > now - MIX_RATE);
    this.match();
    // What comes too late to follow without a gap begins anew: planned in the past it would sound over what follows.
    if (run.planned > now + IN_TIME) while (run.planned - now < AHEAD && this.planNext(run));
    const isOver = run.next >= this.frames && !this.loop;
    if (run.planned <= now) {
      // All that was planned has sounded: the end, or what comes next is not there in time.
      this.silence();
      if (isOver) {
        this.pause();
        this.at = 0;
      } else {
        this.at = run.next;
        this.hasWaited = true;
      }
      return;
    }
    this.askFrom(run.next);
  }

  /** Asks for what comes next, and lets go of what is far from there. */
  private askFrom(frame: number): void {
    const pieces = this.piecesFrom(frame);
    for (const piece of pieces) this.both(piece);
    const [next = 0] = pieces;
    const places = [next, ...(this.loop ? [this.pieceOf(this.loop[0])] : [])];
    for (const side of SIDES) this.pieces[side].keepNear(...places);
  }

  /** The next pieces from a sample of the song on, as far as there are some. */
  private piecesFrom(frame: number): readonly number[] {
    const first = this.pieceOf(this.loop && frame >= this.loop[1] ? this.loop[0] : frame);
    const count = Math.min(ASKED, this.pieces.A.count - first);
    return Array.from({ length: Math.max(0, count) }, (_, ahead) => first + ahead);
  }

  /** How much softer one of them is at the moment than it was mixed, in dB. */
  softerBy(side: AbSide): number {
    return -factorToDb(this.levels[side]);
  }

  /** Goes on towards the levels that are to be, by as much as nobody hears. */
  private match(): void {
    const at = this.context.currentTime;
    const most = 10 ** ((MATCHING * (at - this.leveled)) / 20);
    this.leveled = at;
    const { levels, target } = this;
    if (SIDES.every((side) => levels[side] === target[side])) return;
    const towards = (side: AbSide) => Math.max(levels[side] / most, Math.min(levels[side] * most, target[side]));
    this.levels = { A: towards('A'), B: towards('B') };
    this.crossfade(LOOK_MS / 1000);
  }

  /** Begins to sound, if the first piece is there. */
  private begin(): Run | undefined {
    const start = this.loop && this.at >= this.loop[1] ? this.loop[0] : this.at;
    const needed = this.piecesFrom(start).slice(0, this.hasWaited ? AFTER_WAITING : 1);
    if (needed.some((piece) => !this.both(piece))) return undefined;
    this.hasWaited = false;
    this.levels = this.target;
    this.run = {
      zero: Math.ceil((this.context.currentTime + LEAD_IN) * MIX_RATE) / MIX_RATE,
      stretches: [],
      planned: 0,
      next: start,
      sources: new Set(),
      gains: { A: this.gainOf('A'), B: this.gainOf('B') },
    };
    return this.run;
  }

  private gainOf(side: AbSide): GainNode {
    const gain = this.context.createGain();
    gain.gain.value = side === this.heard ? this.levels[side] : 0;
    gain.connect(this.context.destination);
    return gain;
  }

  /** Plans the next stretch within a piece; returns whether there was one. */
  private planNext(run: Run): boolean {
    const song = this.loop && run.next >= this.loop[1] ? this.loop[0] : run.next;
    const end = this.loop && song < this.loop[1] ? this.loop[1] : this.frames;
    if (song >= end) return false;
    const piece = this.pieceOf(song);
    const both = this.both(piece);
    if (!both) return false;
    const [from, to] = [song - piece * PIECE, Math.min(end - piece * PIECE, PIECE)];
    const at = run.zero + run.planned / MIX_RATE - EARLY;
    for (const side of SIDES) {
      const source = this.context.createBufferSource();
      source.buffer = this.partOf(both[side], from, to);
      source.connect(run.gains[side]);
      source.onended = () => run.sources.delete(source);
      run.sources.add(source);
      source.start(Math.max(0, at));
    }
    run.stretches.push({ at: run.planned, song, count: to - from });
    run.planned += to - from;
    run.next = song + to - from;
    return true;
  }

  /** Part of a piece as a sound of its own, so that it begins and ends at whole samples whatever a browser makes of times. */
  private partOf(piece: AudioBuffer, from: number, to: number): AudioBuffer {
    if (from === 0 && to >= piece.length) return piece;
    const part = this.context.createBuffer(piece.numberOfChannels, to - from, piece.sampleRate);
    for (let c = 0; c < piece.numberOfChannels; c++) part.copyToChannel(piece.getChannelData(c).subarray(from, to), c);
    return part;
  }

  /** Fades out what sounds, and remembers where it was. */
  private silence(): void {
    const { run } = this;
    if (!run) return;
    this.at = Math.round(this.placeInFrames);
    this.run = null;
    const now = this.context.currentTime;
    for (const side of SIDES) goTo(run.gains[side], 0, now, CROSSFADE);
    for (const source of run.sources) {
      source.onended = null;
      source.stop(now + CROSSFADE);
    }
  }

  /** Goes over to what is to be heard, as loud as it is to be. */
  private crossfade(seconds = CROSSFADE): void {
    const { run } = this;
    if (!run) return;
    const at = this.context.currentTime;
    for (const side of SIDES) goTo(run.gains[side], side === this.heard ? this.levels[side] : 0, at, seconds);
  }
}

function goTo({ gain }: GainNode, level: number, at: number, seconds: number): void {
  gain.cancelScheduledValues(at);
  gain.setValueAtTime(gain.value, at);
  gain.linearRampToValueAtTime(level, at + seconds);
}
