import { asLane } from '../desk/setting';
import type { StripState } from '../desk/state';
import { biquad } from '../signal/biquad';
import { activeBands } from '../signal/eq-curve';
import { type Insert, insertChain } from '../signal/insert-chain';
import { compressorCurveOf } from '../signal/static-curve';
import { createCompressor, createGate, limit } from './dynamics';
import {
  applyFeedbackDelay,
  chorus,
  createFeedbackDelay,
  createReverb,
  deEss,
  delay,
  drive,
  duplicateToStereo,
} from './effects';
import { valueEnvelope } from './envelope';
import { createFilter } from './filter-step';
import { type BlockProcessor, type BlockSource, processInPlace, renderBlocks, sourceOf } from './process-blocks';
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
  const steps = by === 1 ? [] : [(frames: number) => kernels().amplify(frames, by)];
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

/** Whether a strip does anything behind its compressor. */
export const hasActiveInserts = (strip: StripState): boolean =>
  Number(strip['inserts/delay'] ?? 0) > 0 || insertChain(strip).some(({ on }) => on);

/**
 * What a strip does behind its compressor, in place: its inserts, its delay.
 * Hardware inserts cannot be modelled and pass audio unchanged.
 */
export function runInserts(strip: StripState, channels: readonly Float32Array[], rate: number): void {
  for (const insert of insertChain(strip)) if (insert.on) runInsert(strip, insert, channels, rate);
  const late = Number(strip['inserts/delay'] ?? 0) * MS;
  if (late > 0) delay(late, channels, rate);
}

function runInsert(strip: StripState, insert: Insert, channels: readonly Float32Array[], rate: number): void {
  const lane = asLane(strip[`automation/inserts/${insert.place}`]);
  if (lane.length === 0) return process(insert, channels, rate);
  // A lane says how much of the processed sound is in the sum.
  const dry = channels.map((channel) => Float32Array.from(channel));
  process(insert, channels, rate);
  const wet = new Float32Array(channels[0]?.length ?? 0);
  valueEnvelope(lane, rate)(wet, 0);
  channels.forEach((channel, c) => {
    const before = dry[c]!;
    for (let i = 0; i < channel.length; i++) {
      const share = wet[i]! * PERCENT;
      channel[i] = before[i]! * (1 - share) + channel[i]! * share;
    }
  });
}

function process({ kind, settings }: Insert, channels: readonly Float32Array[], rate: number): void {
  const at = (name: string) => Number(settings[name] ?? 0);
  switch (kind) {
    case 'drive':
      return drive(at('amount') * PERCENT, at('tone'), channels, rate);
    case 'echo':
      return applyFeedbackDelay(
        { seconds: at('time') * MS, feedback: at('feedback') * PERCENT, mix: at('mix') * PERCENT },
        channels,
        rate,
      );
    case 'de-ess':
      return deEss(at('freq'), at('threshold'), channels, rate);
    case 'limiter':
      return limit(at('ceiling'), at('release') * MS, channels, rate);
    case 'chorus':
      return chorus(at('rate'), at('depth') * PERCENT, channels, rate);
  }
}

/** Mean lengths of the paths in a room, in seconds. */
const REVERB_SIZES: Readonly<Record<string, number>> = { room: 0.017, plate: 0.011, venue: 0.038 };

/**
 * What an effect return makes of what is sent to it, and its strip of that, into left and right.
 * @param source what is sent to it, one channel
 * @param made is told how many samples are there, where they are made from the first to the last
 */
export function renderEffectReturn(
  strip: StripState,
  source: BlockSource,
  wet: readonly Float32Array[],
  rate: number,
  made: (upTo: number) => void,
): void {
  const at = (key: string) => Number(strip[key] ?? 0);
  const kind = strip['inserts/on'] === false ? 'none' : String(strip['inserts/kind'] ?? 'room');
  const mix = kind === 'none' ? 1 : Number(strip['inserts/mix'] ?? 100) * PERCENT;
  const [time, tone] = [at('inserts/time'), at('inserts/tone')];
  const steps = createStripProcessors(strip, rate, 1, false);
  // Unknown effects are modelled as a reverb.
  const size = ['none', 'echo', 'chorus'].includes(kind) ? undefined : (REVERB_SIZES[kind] ?? REVERB_SIZES['room']);
  const late = size !== undefined || kind === 'echo' ? Math.round(at('inserts/predelay') * MS * rate) : 0;
  for (const channel of wet) channel.fill(0, 0, late);
  const later = wet.map((channel) => channel.subarray(late));
  const effect =
    size !== undefined
      ? [createReverb({ time, tone, size }, rate)]
      : kind === 'echo'
        ? [
            createFeedbackDelay({ seconds: time, feedback: at('inserts/feedback') * PERCENT, mix: 1, tone }, rate),
            duplicateToStereo,
          ]
        : [duplicateToStereo];
  if (mix === 1 && kind !== 'chorus')
    return renderBlocks(later, source, [...effect, ...steps], (upTo) => made(late + upTo));
  const dry = new Float32Array(wet[0]?.length ?? 0);
  renderBlocks([dry], source, []);
  renderBlocks(later, sourceOf([dry]), effect);
  if (kind === 'chorus') chorus(1 / Math.max(0.1, time), 1, wet, rate);
  for (const channel of wet)
    for (let i = 0; i < channel.length; i++) channel[i] = channel[i]! * mix + dry[i]! * (1 - mix);
  processInPlace(wet, ...steps);
}
