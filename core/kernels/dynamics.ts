import { BLOCK, LEFT, RIGHT } from './block-buffers';
import { powersOf, twoToThe } from './log2-exp2';

/** Reductions below 0.001 dB count as none, to avoid denormals. */
const NONE: f64 = 0.001 / 6.02;

/** What a compressor remembers between blocks, in bytes: the gain that it stands at, as a power of two. */
export const COMPRESSOR_SIZE: i32 = 8;
export const COMPRESSOR: usize = memory.data(COMPRESSOR_SIZE, 16);
/** What a gate remembers: its gain as a factor, the level that it listens to, the samples that it is still held open. */
export const GATE_SIZE: i32 = 24;
export const GATE: usize = memory.data(GATE_SIZE, 16);

export function restCompressor(): void {
  store<f64>(COMPRESSOR, 0);
}

export function restGate(closed: f64): void {
  store<f64>(GATE, closed);
  store<f64>(GATE, 0, 8);
  store<i32>(GATE, -1, 16);
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

/** `yes` where a comparison holds, `no` where not: without a jump that a processor could guess wrong. */
function either(holds: v128, yes: v128, no: v128): v128 {
  return v128.bitselect(yes, no, holds);
}

/**
 * Compresses LEFT and RIGHT together: the louder one sets the gain. Levels and gains are powers of two.
 * @param bends the level at which the knee begins
 * @param knee how wide it is; more than 0
 * @param slope what is taken away of what is over it, 0 or less
 * @param attack how much is left, after a sample, of the way down to a lower gain; `release` likewise of the way up
 */
export function compress(
  frames: i32,
  bends: f32,
  knee: f32,
  slope: f32,
  attack: f64,
  release: f64,
  wet: f32,
  dry: f32,
): void {
  findPeaks(frames);
  const works = findTargets(frames, bends, knee, slope);
  const reduction = load<f64>(COMPRESSOR);
  if (works || reduction != 0) store<f64>(COMPRESSOR, follow(frames, attack, release, reduction));
  const share = f32x4.splat(wet);
  const rest = f32x4.splat(dry);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16)
    v128.store(PEAKS + i, f32x4.add(rest, f32x4.mul(share, twoToThe(v128.load(PEAKS + i)))));
  applyGains(frames);
}

/** Makes of each peak the gain that it asks for; returns whether any asks for less than all. */
function findTargets(frames: i32, bends: f32, knee: f32, slope: f32): bool {
  const none = f32x4.splat(0);
  const from = f32x4.splat(bends);
  const width = f32x4.splat(knee);
  const bend = f32x4.splat(slope / (2 * knee));
  const straight = f32x4.splat(slope);
  let any = none;
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    const over = f32x4.pmax(none, f32x4.sub(powersOf(v128.load(PEAKS + i)), from));
    const within = f32x4.pmin(over, width);
    const beyond = f32x4.mul(f32x4.sub(over, within), straight);
    v128.store(PEAKS + i, f32x4.add(f32x4.mul(f32x4.mul(within, within), bend), beyond));
    any = v128.or(any, f32x4.gt(over, none));
  }
  return v128.any_true(any);
}

/**
 * One-pole attack and release towards each gain that is asked for. With the faster attack the lower candidate wins; otherwise
 * the sign is flipped. Returns the gain at the end.
 */
function follow(frames: i32, attack: f64, release: f64, reduction: f64): f64 {
  const side: f64 = attack <= release ? 1 : -1;
  const down = f64x2.splat(attack);
  const up = f64x2.splat(release);
  const toDown = f64x2.splat(side * (1 - attack));
  const toUp = f64x2.splat(side * (1 - release));
  const turn = f64x2.splat(side);
  let now = f64x2.splat(side * reduction);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 4) {
    const target = f64x2.promote_low_f32x4(v128.load32_zero(PEAKS + i));
    const falling = f64x2.add(f64x2.mul(now, down), f64x2.mul(target, toDown));
    const rising = f64x2.add(f64x2.mul(now, up), f64x2.mul(target, toUp));
    now = f64x2.pmin(falling, rising);
    v128.store32_lane(PEAKS + i, f32x4.demote_f64x2_zero(f64x2.mul(now, turn)), 0);
  }
  const last = side * f64x2.extract_lane(now, 0);
  return last > -NONE ? 0 : last;
}

/** Gates LEFT and RIGHT together. Opens at the first sample that reaches the threshold. */
export function gate(frames: i32, threshold: f64, closed: f64, attack: f64, release: f64, fall: f64, hold: i32): void {
  findPeaks(frames);
  const up = f64x2.splat(attack);
  const down = f64x2.splat(release);
  let now = f64x2.splat(load<f64>(GATE));
  let heard = f64x2.splat(load<f64>(GATE, 8));
  let held = load<i32>(GATE, 16);
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
  store<f64>(GATE, f64x2.extract_lane(now, 0));
  store<f64>(GATE, f64x2.extract_lane(heard, 0), 8);
  store<i32>(GATE, held, 16);
}
