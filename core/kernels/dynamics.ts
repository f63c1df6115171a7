import { BLOCK, LEFT, RIGHT } from './blocks';

/** Steps of the static curve for each doubling of the level, as a power of two; between them it goes straight. */
export const FINE: i32 = 6;
/** The levels that it spans, as powers of two: −120 … +24 dB. */
export const LOWEST: i32 = -20;
export const HIGHEST: i32 = 4;
const STEPS: i32 = (HIGHEST - LOWEST) << FINE;
/** The gain of a compressor in dB for each of those levels, and one more. */
export const CURVE: usize = memory.data(4 * (STEPS + 1), 16);

/** The lowest and the highest level of the curve. */
const LEAST: f32 = 1.0 / <f32>(1 << -LOWEST);
const MOST: f32 = <f32>(1 << HIGHEST) * 0.9999;

/** Steps per dB of the table of factors, and how far down it goes. */
export const PER_DB: i32 = 16;
export const DEEPEST: i32 = 120;
/** Factors of 0, −1/16, −2/16 … dB. */
export const FACTORS: usize = memory.data(4 * (PER_DB * DEEPEST + 2), 16);

/** What is under a thousandth of a dB is none, so that nothing gets too small to count with. */
const NONE: f64 = 0.001;

/** The gain that a compressor stands at between blocks, in dB. */
let reduction: f64 = 0;
/** The gain that a gate stands at, as a factor; the level that it has heard, and how many samples it stays open. */
let opening: f64 = 0;
let level: f64 = 0;
let held: i32 = -1;

export function restCompressor(): void {
  reduction = 0;
}

export function restGate(closed: f64): void {
  opening = closed;
  level = 0;
  held = -1;
}

/** How loud the louder of LEFT and RIGHT is at each sample of a block; then the gain that it asks for. */
const PEAKS: usize = memory.data(4 * BLOCK, 16);

function findPeaks(frames: i32): void {
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    const left = f32x4.abs(v128.load(LEFT + i));
    v128.store(PEAKS + i, f32x4.pmax(left, f32x4.abs(v128.load(RIGHT + i))));
  }
}

/** Takes the gains that now stand in PEAKS to LEFT and RIGHT. */
function applyGains(frames: i32): void {
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    const by = v128.load(PEAKS + i);
    v128.store(LEFT + i, f32x4.mul(v128.load(LEFT + i), by));
    v128.store(RIGHT + i, f32x4.mul(v128.load(RIGHT + i), by));
  }
}

/** The gain of the static curve at a level: the upper bits of a number are its logarithm, nearly. */
function curveAt(peak: f32): f64 {
  const bits = reinterpret<u32>(select<f32>(LEAST, select<f32>(MOST, peak, peak > MOST), peak < LEAST));
  const at = CURVE + (((bits >>> (23 - FINE)) - ((127 + LOWEST) << FINE)) << 2);
  const first = load<f32>(at);
  // What is left of the bits says how far it is to the next step.
  const part = <f32>(bits & ((1 << (23 - FINE)) - 1)) * (1 / <f32>(1 << (23 - FINE)));
  return <f64>(first + (load<f32>(at, 4) - first) * part);
}

/** A gain of 0 dB or less as a factor, straight between the steps of FACTORS. */
function factorOf(decibels: f64): f64 {
  const down = select<f64>(<f64>DEEPEST, -decibels, decibels < -(<f64>DEEPEST));
  const at = down * <f64>PER_DB;
  const step = <i32>at;
  const from = FACTORS + ((<usize>step) << 2);
  const first = <f64>load<f32>(from);
  return first + (<f64>load<f32>(from, 4) - first) * (at - <f64>step);
}

/** `yes` where a comparison holds, `no` where not: without a jump that a processor could guess wrong. */
function either(holds: v128, yes: v128, no: v128): v128 {
  return v128.bitselect(yes, no, holds);
}

/** Compresses LEFT and RIGHT together: the louder one sets the gain. Under `bends` the curve is flat. */
export function compress(frames: i32, bends: f32, attack: f64, release: f64, wet: f64, dry: f64): void {
  findPeaks(frames);
  const down = f64x2.splat(attack);
  const up = f64x2.splat(release);
  let now = f64x2.splat(reduction);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 4) {
    const peak = load<f32>(PEAKS + i);
    const target = f64x2.splat(select<f64>(curveAt(peak), 0, peak > bends));
    // How far it still is: on its way down so much of it as the attack leaves, on its way up as the release leaves. Of both,
    // that is the lower one where the attack is the faster.
    const far = f64x2.sub(now, target);
    const falling = f64x2.mul(far, down);
    const rising = f64x2.mul(far, up);
    now = f64x2.add(target, attack <= release ? f64x2.pmin(falling, rising) : f64x2.pmax(falling, rising));
    store<f32>(PEAKS + i, <f32>(dry + wet * factorOf(f64x2.extract_lane(now, 0))));
  }
  applyGains(frames);
  reduction = f64x2.extract_lane(now, 0);
  if (reduction > -NONE) reduction = 0;
}

/** Gates LEFT and RIGHT together. Opens at the first sample that reaches the threshold. */
export function gate(frames: i32, threshold: f64, closed: f64, attack: f64, release: f64, fall: f64, hold: i32): void {
  findPeaks(frames);
  const up = f64x2.splat(attack);
  const down = f64x2.splat(release);
  let now = f64x2.splat(opening);
  let heard = f64x2.splat(level);
  const falls = f64x2.splat(fall);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 4) {
    heard = f64x2.pmax(f64x2.mul(heard, falls), f64x2.splat(load<f32>(PEAKS + i)));
    if (f64x2.extract_lane(heard, 0) >= threshold) held = hold;
    else if (held >= 0) held--;
    const target = f64x2.splat(held >= 0 ? 1 : closed);
    const share = either(f64x2.gt(target, now), up, down);
    now = f64x2.add(target, f64x2.mul(f64x2.sub(now, target), share));
    store<f32>(PEAKS + i, <f32>f64x2.extract_lane(now, 0));
  }
  applyGains(frames);
  level = f64x2.extract_lane(heard, 0);
  opening = f64x2.extract_lane(now, 0);
}
