import { HALVED_HEADER, PIECE_SECONDS } from '@old-echo/core/contracts/sound';

/** A mix that can be listened to: how long it is, and where its pieces are had. */
export interface PlayedMix {
  readonly seconds: number;
  /** The address of a piece. */
  readonly address: (piece: number) => string;
}

/** Pieces that are held around the place that is heard, to either side. */
const HELD = 12;
/** A piece that could not be had is asked for again so often, after so many ms more each time. */
const [TRIES, AGAIN_MS] = [4, 400];

/** The pieces of a mix around the place that is heard, unpacked. */
export class MixPieces {
  private readonly pieces = new Map<number, AudioBuffer>();
  private readonly loading = new Map<number, AbortController>();

  /**
   * @param onLoaded is told when one more is there
   * @param onFailed is told when one could not be had
   */
  constructor(
    private readonly context: BaseAudioContext,
    private readonly mix: PlayedMix,
    private readonly onLoaded: () => void,
    private readonly onFailed: () => void,
  ) {}

  /** How many there are. */
  get count(): number {
    return Math.ceil(this.mix.seconds / PIECE_SECONDS);
  }

  /** A piece, where it is there; where not it is asked for. */
  get(piece: number): AudioBuffer | undefined {
    const found = this.pieces.get(piece);
    if (!found && !this.loading.has(piece)) void this.load(piece);
    return found;
  }

  /** Lets go of what is far from some pieces. */
  keepNear(...places: readonly number[]): void {
    const isNear = (piece: number) => places.some((place) => Math.abs(piece - place) <= HELD);
    for (const piece of this.pieces.keys()) if (!isNear(piece)) this.pieces.delete(piece);
    for (const [piece, load] of this.loading) if (!isNear(piece)) load.abort();
  }

  close(): void {
    for (const load of this.loading.values()) load.abort();
    this.pieces.clear();
  }

  private async load(piece: number): Promise<void> {
    const cancelled = new AbortController();
    this.loading.set(piece, cancelled);
    try {
      this.pieces.set(piece, await this.fetched(piece, cancelled.signal));
      this.loading.delete(piece);
      this.onLoaded();
    } catch {
      this.loading.delete(piece);
      if (!cancelled.signal.aborted) this.onFailed();
    }
  }

  /** Asks for a piece until it is there, or cannot be had. */
  private async fetched(piece: number, signal: AbortSignal): Promise<AudioBuffer> {
    for (let failed = 0; !signal.aborted;) {
      const answer = await fetch(this.mix.address(piece), { signal }).catch(() => undefined);
      if (answer?.ok) {
        const sound = await this.context.decodeAudioData(await answer.arrayBuffer());
        return doubled(sound, Number(answer.headers.get(HALVED_HEADER) ?? 0));
      }
      // Not rendered that far yet: it was waited for at the server, unless that has no time for it.
      if (answer?.status === NOT_YET) {
        await pause(NOT_YET_MS);
        continue;
      }
      if (++failed === TRIES) throw new Error(`${answer?.status ?? 'no answer'}`);
      await pause(failed * AGAIN_MS);
    }
    throw new Error('nobody wants it any more');
  }
}

const NOT_YET = 503;
const NOT_YET_MS = 100;

const pause = (ms: number) => new Promise((later) => setTimeout(later, ms));

/** A sound as loud as it was before it was halved so often. */
function doubled(sound: AudioBuffer, times: number): AudioBuffer {
  if (times > 0)
    for (let c = 0; c < sound.numberOfChannels; c++) {
      const samples = sound.getChannelData(c);
      for (let i = 0; i < samples.length; i++) samples[i] = (samples[i] ?? 0) * 2 ** times;
    }
  return sound;
}
