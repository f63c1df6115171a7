import type { RenderMeasurements } from './analyse-render';
import { loudnessOf, STEPS_PER_SECOND } from './loudness';
import { LoudnessMeter } from './loudness-meter';
import type { Channels } from './recording';

/** Parts of a waveform overview. */
const OVERVIEW_BARS = 400;

/** What is measured of a mix so far, by whoever works on any part of it. */
export interface MeterRoom {
  /** The weighted mean square in each 100 ms; 0 where nothing is there yet. */
  readonly steps: Float32Array;
  /** The highest level in each part of the overview. */
  readonly bars: Float32Array;
}

export const newMeterRoom = (
  frames: number,
  rate: number,
  allocate: (length: number) => Float32Array = (length) => new Float32Array(length),
): MeterRoom => ({
  steps: allocate(Math.ceil((frames * STEPS_PER_SECOND) / rate)),
  bars: allocate(OVERVIEW_BARS),
});

/** What can be said of a mix of which only parts are there: its loudness is theirs, and its range and peaks are not known yet. */
export function measuredSoFar({ steps, bars }: MeterRoom, frames: number, rate: number): RenderMeasurements {
  const { integrated, momentary } = loudnessOf([...steps], 0);
  const unknown = { range: null, momentaryMax: null, shortTermMax: null, truePeak: null, shortTerm: [] };
  return {
    loudness: { ...unknown, integrated, momentary },
    overview: [...bars].map(rounded),
    seconds: frames / rate,
  };
}

interface MeteredMix {
  readonly channels: number;
  /** Samples of each channel of the whole mix. */
  readonly frames: number;
  readonly rate: number;
  /** The sample of the mix that the first one that comes is. */
  readonly start?: number;
  /** Where others see what is measured so far. */
  readonly room?: MeterRoom | undefined;
}

/** Measures what has to be known of a mix before it is played, while it comes piece by piece. */
export class RenderMeter {
  private readonly loudness: LoudnessMeter;
  private readonly bars = new Array<number>(OVERVIEW_BARS).fill(0);
  private at: number;
  /** Steps that others see. */
  private seen = 0;

  constructor(private readonly mix: MeteredMix) {
    this.loudness = new LoudnessMeter(mix.channels, mix.rate);
    this.at = mix.start ?? 0;
  }

  add(channels: Channels): void {
    const { frames, room } = this.mix;
    this.loudness.add(channels);
    const count = channels[0]?.length ?? 0;
    const start = (bar: number) => Math.floor((bar * frames) / OVERVIEW_BARS);
    const end = this.at + count;
    for (let bar = Math.floor((this.at * OVERVIEW_BARS) / frames); bar < OVERVIEW_BARS && start(bar) < end; bar++) {
      const [from, to] = [Math.max(this.at, start(bar)), Math.min(end, start(bar + 1))];
      for (const channel of channels)
        this.bars[bar] = Math.max(this.bars[bar]!, highestOf(channel, from - this.at, to - this.at));
      if (room) room.bars[bar] = Math.max(room.bars[bar]!, this.bars[bar]!);
    }
    this.at = end;
    if (room) this.showSteps(room.steps);
  }

  end(): RenderMeasurements {
    const { frames, rate } = this.mix;
    return {
      loudness: this.loudness.end(),
      overview: this.bars.map(rounded),
      seconds: frames / rate,
    };
  }

  private showSteps(seen: Float32Array): void {
    const { start = 0, rate } = this.mix;
    const { steps } = this.loudness;
    const before = Math.round((start * STEPS_PER_SECOND) / rate);
    for (; this.seen < steps.length; this.seen++) seen[before + this.seen] = steps[this.seen]!;
  }
}

const rounded = (level: number): number => Number(level.toFixed(4));

function highestOf(samples: Float32Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) {
    const level = Math.abs(samples[i]!);
    if (level > most) most = level;
  }
  return most;
}
