import { asLane, type Curve } from '../desk/setting';
import type { StripState } from '../desk/state';
import { biquad } from '../signal/biquad';
import { activeBands } from '../signal/eq-curve';
import { type Insert, insertChain } from '../signal/insert-chain';
import { compressorCurveOf } from '../signal/static-curve';
import { type BlockProcessor, loadFrom, samplesAt, storeInto } from './block-processor';
import { createCompressor, createGate } from './dynamics';
import {
  createChorus,
  createDeEsser,
  createDelay,
  createDrive,
  createFeedbackDelay,
  createReverb,
  duplicateToStereo,
} from './effects';
import { valueEnvelope } from './envelope';
import { createFilter } from './filter-step';
import { createLimiter } from './limiter';
import { kernels } from './wasm-kernels';

/** The sections of a strip that work on its sound before the fader. */
export const PROCESSING_SECTIONS: readonly string[] = ['preamp', 'gate', 'eq', 'compressor', 'inserts'];

const MS = 1 / 1000;
const PERCENT = 1 / 100;

/**
 * What a strip does in front of its inserts, block by block: gain, polarity, low cut, gate, EQ, compressor.
 * @param gain a factor: what its preamp does
 * @param alone whether there is only one channel
 */
export function createStripProcessors(strip: StripState, rate: number, gain: number, alone: boolean): BlockProcessor[] {
  const at = (key: string) => Number(strip[key] ?? 0);
  const bands = activeBands(strip);
  const cuts = bands.filter(({ kind }) => kind === 'low cut');
  // A band that neither lifts nor cuts changes nothing, and is not run.
  const others = bands.filter(({ kind, gain }) => kind !== 'low cut' && (kind === 'notch' || gain !== 0));
  const filters = (of: typeof bands, row = 0) =>
    of.length > 0
      ? [
          createFilter(
            of.map((band) => biquad(band, rate)),
            alone,
            row,
          ),
        ]
      : [];
  const by = strip['preamp/polarity'] === true ? -gain : gain;
  const steps: BlockProcessor[] = by === 1 ? [] : [{ run: (frames) => kernels().amplify(frames, by) }];
  if (strip['gate/on'] === true) {
    const set = {
      threshold: at('gate/threshold'),
      range: at('gate/range'),
      attack: at('gate/attack') * MS,
      hold: at('gate/hold') * MS,
      release: at('gate/release') * MS,
    };
    steps.push(...filters(cuts), createGate(set, rate), ...filters(others, 1));
  } else steps.push(...filters([...cuts, ...others]));
  const compression = compressorCurveOf(strip);
  if (compression) {
    const set = {
      ...compression,
      attack: at('compressor/attack') * MS,
      release: at('compressor/release') * MS,
      makeup: at('compressor/makeup'),
      mix: Number(strip['compressor/mix'] ?? 100) * PERCENT,
    };
    steps.push(createCompressor(set, rate));
  }
  return steps;
}

/** Processors that work through a window together, from where they begin. */
export interface Pass {
  /** Makes the processors; they lie in the kernels together. */
  readonly make: () => readonly BlockProcessor[];
  /** Whether the block behind the one that it works on has to be there. */
  readonly looksAhead: boolean;
}

/**
 * What a strip does behind its compressor, in place: its inserts, its delay.
 * Hardware inserts cannot be modelled and pass audio unchanged.
 * @param frames samples of the whole sound
 */
export function createInsertPasses(
  strip: StripState,
  windows: readonly Float32Array[],
  frames: number,
  rate: number,
): Pass[] {
  const passes = activeInserts(strip).flatMap((insert) => {
    const lane = asLane(strip[`automation/inserts/${insert.place}`]);
    const made = createInsert(insert, windows, frames, rate);
    return lane.length === 0 ? made : made.map((pass) => withShare(pass, lane, windows, rate));
  });
  const late = stripDelayFrames(strip, rate);
  return late > 0 ? [...passes, passOver(windows, () => [createDelay(late, windows.length === 1)])] : passes;
}

/** The inserts that work on a strip's sound, in order. */
export const activeInserts = (strip: StripState): Insert[] => insertChain(strip).filter(({ on }) => on);

/** By how many samples a strip is late. */
export const stripDelayFrames = (strip: StripState, rate: number): number =>
  Math.round(Number(strip['inserts/delay'] ?? 0) * MS * rate);

const passOver = (windows: readonly Float32Array[], make: Pass['make']): Pass => ({
  make: () => [loadFrom(windows), ...make(), storeInto(windows)],
  looksAhead: false,
});

/** A lane says how much of the processed sound is in the sum. */
function withShare(pass: Pass, lane: Curve, windows: readonly Float32Array[], rate: number): Pass {
  const { BLOCK } = kernels().at;
  const dry = windows.map(() => new Float32Array(BLOCK));
  const wet = new Float32Array(BLOCK);
  const shareAt = valueEnvelope(lane, rate);
  const remember: BlockProcessor = {
    run: (count, from) => windows.forEach((window, c) => dry[c]!.set(samplesAt(window, from, count))),
  };
  const mix: BlockProcessor = {
    run: (count, from) => {
      shareAt(wet, from);
      windows.forEach((window, c) => {
        const [before, block] = [dry[c]!, samplesAt(window, from, count)];
        for (let i = 0; i < count; i++) {
          const share = wet[i]! * PERCENT;
          block[i] = before[i]! * (1 - share) + block[i]! * share;
        }
      });
    },
  };
  return { ...pass, make: () => [remember, ...pass.make(), mix] };
}

function createInsert(
  { kind, settings }: Insert,
  windows: readonly Float32Array[],
  frames: number,
  rate: number,
): readonly Pass[] {
  const at = (name: string) => Number(settings[name] ?? 0);
  const alone = windows.length === 1;
  const over = (make: Pass['make']) => [passOver(windows, make)];
  switch (kind) {
    case 'drive':
      return over(() => createDrive(at('amount') * PERCENT, at('tone'), rate, alone));
    case 'echo': {
      const set = { seconds: at('time') * MS, feedback: at('feedback') * PERCENT, mix: at('mix') * PERCENT };
      return windows.map((window) => passOver([window], () => [createFeedbackDelay(set, rate)]));
    }
    case 'de-ess':
      return over(() => [createDeEsser(at('freq'), at('threshold'), rate, alone)]);
    case 'limiter':
      return [
        {
          make: () => [createLimiter(windows, at('ceiling'), at('release') * MS, frames, rate)],
          looksAhead: true,
        },
      ];
    case 'chorus':
      return over(() => [createChorus(at('rate'), at('depth') * PERCENT, rate, alone)]);
    default:
      return [];
  }
}

/** Mean lengths of the paths in a room, in seconds. */
const REVERB_SIZES: Readonly<Record<string, number>> = { room: 0.017, plate: 0.011, venue: 0.038 };

/** What an effect return is set to. */
export function effectOf(strip: StripState, rate: number) {
  const at = (key: string) => Number(strip[key] ?? 0);
  const kind = strip['inserts/on'] === false ? 'none' : String(strip['inserts/kind'] ?? 'room');
  // Unknown effects are modelled as a reverb.
  const size = ['none', 'echo', 'chorus'].includes(kind) ? undefined : (REVERB_SIZES[kind] ?? REVERB_SIZES['room']);
  return {
    kind,
    /** The mean length of a room's paths in seconds; undefined for what is no room. */
    size,
    mix: kind === 'none' ? 1 : Number(strip['inserts/mix'] ?? 100) * PERCENT,
    time: at('inserts/time'),
    tone: at('inserts/tone'),
    feedback: at('inserts/feedback') * PERCENT,
    /** By how many samples it is late. */
    late: size !== undefined || kind === 'echo' ? Math.round(at('inserts/predelay') * MS * rate) : 0,
  };
}

/** What an effect return makes of what is sent to it, which lies in the kernels' `left`, and its strip of that, into both. */
export function createEffectReturn(strip: StripState, rate: number): readonly BlockProcessor[] {
  const { kind, size, mix, time, tone, feedback, late } = effectOf(strip, rate);
  const effect =
    size !== undefined
      ? [createReverb({ time, tone, size }, rate)]
      : kind === 'echo'
        ? [createFeedbackDelay({ seconds: time, feedback, mix: 1, tone }, rate), duplicateToStereo()]
        : [duplicateToStereo()];
  const steps = createStripProcessors(strip, rate, 1, false);
  const delayed = late > 0 ? [createDelay(late, false)] : [];
  if (mix === 1 && kind !== 'chorus') return [...effect, ...steps, ...delayed];
  const wavering = kind === 'chorus' ? [createChorus(chorusSwing(time), 1, rate, false)] : [];
  const [remember, mixWithDry] = mixedWithDry(mix);
  return [remember, ...effect, ...delayed, ...wavering, mixWithDry, ...steps];
}

/** How often an effect of a time in seconds wavers, in Hz. */
const chorusSwing = (time: number): number => 1 / Math.max(0.1, time);

/** A step that remembers the block in the kernels' `left`, and one that mixes it into both. */
function mixedWithDry(mix: number): readonly [remember: BlockProcessor, mix: BlockProcessor] {
  const { left, right } = kernels();
  const dry = left.slice();
  const run = (frames: number) => {
    for (const side of [left, right]) for (let i = 0; i < frames; i++) side[i] = side[i]! * mix + dry[i]! * (1 - mix);
  };
  return [{ run: () => dry.set(left) }, { run }];
}
