import { BLOCK, LEFT, RIGHT } from './block-buffers';

/** As many sums can be made at once. */
export const MOST_SUMS: i32 = 32;
/** As many ways into them there can be. */
export const MOST_FEEDS: i32 = 4096;
/** Bytes between buses: a block of both sides, and not a power of two, to avoid cache-set conflicts. */
const APART: usize = 4 * BLOCK * 2 + 320;
const SUMS: usize = memory.data(<i32>APART * MOST_SUMS, 16);
/** How loud a feed is at every sample of a block, and how loud that makes it on each side. */
export const GAINS: usize = memory.data(4 * BLOCK, 16);
const SHAPES: usize = memory.data(4 * BLOCK * 2, 16);

export function clearSums(count: i32): void {
  memory.fill(SUMS, 0, APART * count);
}

/** One side of a sum. */
function side(sum: i32, which: i32): usize {
  return SUMS + APART * sum + 4 * BLOCK * which;
}

/** Adds four samples to those at an address. */
function addFour(at: usize, four: v128): void {
  v128.store(at, f32x4.add(v128.load(at), four));
}

/** Adds one channel, sixteen samples at once: what lies behind the last comes with them, and nobody takes it. */
function addOne(frames: i32, to: usize, from: usize, by: f32): void {
  const level = f32x4.splat(by);
  for (let end = to + ((<usize>frames) << 2); to < end; to += 64, from += 64) {
    addFour(to, f32x4.mul(v128.load(from), level));
    addFour(to + 16, f32x4.mul(v128.load(from, 16), level));
    addFour(to + 32, f32x4.mul(v128.load(from, 32), level));
    addFour(to + 48, f32x4.mul(v128.load(from, 48), level));
  }
}

/** Adds both channels likewise. */
function addBoth(frames: i32, to: usize, left: f32, right: f32): void {
  const one = f32x4.splat(left);
  const other = f32x4.splat(right);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 32) {
    const first = f32x4.add(f32x4.mul(v128.load(LEFT + i), one), f32x4.mul(v128.load(RIGHT + i), other));
    const next = f32x4.add(f32x4.mul(v128.load(LEFT + i, 16), one), f32x4.mul(v128.load(RIGHT + i, 16), other));
    addFour(to + i, first);
    addFour(to + i + 16, next);
  }
}

/** Adds as much of each channel as is wanted. */
function add(frames: i32, to: usize, left: f32, right: f32): void {
  if (left != 0 && right != 0) addBoth(frames, to, left, right);
  else if (left != 0) addOne(frames, to, LEFT, left);
  else if (right != 0) addOne(frames, to, RIGHT, right);
}

/** How blocks feed sums at a fixed level, five singles each: which sum, and how much of each channel goes to each side. */
export const FEEDS: usize = memory.data(20 * MOST_FEEDS, 16);

/** Adds a block to sums, as some of FEEDS say. */
export function addFeeds(frames: i32, from: i32, count: i32): void {
  for (let n = from; n < from + count; n++) {
    const feed = FEEDS + 20 * n;
    const sum = <i32>load<f32>(feed);
    addFixed(frames, sum, load<f32>(feed, 4), load<f32>(feed, 8), load<f32>(feed, 12), load<f32>(feed, 16));
  }
}

/** Adds a block to a sum with a fixed gain from each channel to each side. */
export function addFixed(
  frames: i32,
  sum: i32,
  leftToLeft: f32,
  rightToLeft: f32,
  leftToRight: f32,
  rightToRight: f32,
): void {
  add(frames, side(sum, 0), leftToLeft, rightToLeft);
  add(frames, side(sum, 1), leftToRight, rightToRight);
}

/** Four numbers in a row. */
function four(first: f32, step: f32): v128 {
  return f32x4.add(f32x4.splat(first), f32x4.mul(f32x4.splat(step), f32x4(0, 1, 2, 3)));
}

/** Places some samples of GAINS, from a multiple of four on: so much of them on each side at the first, and straight on from sample to sample. */
export function place(from: i32, to: i32, left: f32, right: f32, stepLeft: f32, stepRight: f32): void {
  let l = four(left, stepLeft);
  let r = four(right, stepRight);
  const onL = f32x4.splat(4 * stepLeft);
  const onR = f32x4.splat(4 * stepRight);
  for (let i: usize = (<usize>from) << 2; i < (<usize>to) << 2; i += 16) {
    const gains = v128.load(GAINS + i);
    v128.store(SHAPES + i, f32x4.mul(gains, l));
    v128.store(SHAPES + 4 * BLOCK + i, f32x4.mul(gains, r));
    l = f32x4.add(l, onL);
    r = f32x4.add(r, onR);
  }
}

/** Adds a block whose gains move to a sum: those that were placed, with so much of each channel on its own side and across. */
export function addShaped(frames: i32, sum: i32, own: f32, across: f32): void {
  const straight = f32x4.splat(own);
  const over = f32x4.splat(across);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    const x = v128.load(LEFT + i);
    const y = v128.load(RIGHT + i);
    const left = f32x4.add(f32x4.mul(x, straight), f32x4.mul(y, over));
    const right = f32x4.add(f32x4.mul(y, straight), f32x4.mul(x, over));
    addFour(side(sum, 0) + i, f32x4.mul(left, v128.load(SHAPES + i)));
    addFour(side(sum, 1) + i, f32x4.mul(right, v128.load(SHAPES + 4 * BLOCK + i)));
  }
}

/** Both sides of a sum into LEFT, as loud as they would be in both. RIGHT becomes silent. */
export function takeOneSum(frames: i32, sum: i32): void {
  const level = f32x4.splat(Mathf.SQRT1_2);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16)
    v128.store(LEFT + i, f32x4.mul(f32x4.add(v128.load(side(sum, 0) + i), v128.load(side(sum, 1) + i)), level));
  memory.fill(RIGHT, 0, (<usize>frames) << 2);
}

/** A sum into LEFT and RIGHT. */
export function takeSums(frames: i32, sum: i32): void {
  memory.copy(LEFT, side(sum, 0), (<usize>frames) << 2);
  memory.copy(RIGHT, side(sum, 1), (<usize>frames) << 2);
}
