import { BLOCK, LEFT, RIGHT } from './blocks';

/** A block of both sides of a bus. */
const SUMS: usize = memory.data(4 * BLOCK * 2, 16);
/** How loud a feed is on each side at every sample of a block. */
export const SHAPES: usize = memory.data(4 * BLOCK * 2, 16);

export function clearSums(): void {
  memory.fill(SUMS, 0, 4 * BLOCK * 2);
}

/** Adds four samples to those at an address. */
function addFour(at: usize, four: v128): void {
  v128.store(at, f32x4.add(v128.load(at), four));
}

/** Adds a channel to one side of the sums. */
function addOne(frames: i32, side: i32, from: usize, by: f32): void {
  const level = f32x4.splat(by);
  const sums = SUMS + 4 * BLOCK * side;
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) addFour(sums + i, f32x4.mul(v128.load(from + i), level));
}

/** Adds a block with a fixed gain from each channel to each side. */
export function addFixed(frames: i32, leftToLeft: f32, rightToLeft: f32, leftToRight: f32, rightToRight: f32): void {
  if (leftToLeft != 0) addOne(frames, 0, LEFT, leftToLeft);
  if (rightToLeft != 0) addOne(frames, 0, RIGHT, rightToLeft);
  if (leftToRight != 0) addOne(frames, 1, LEFT, leftToRight);
  if (rightToRight != 0) addOne(frames, 1, RIGHT, rightToRight);
}

/** Adds a block whose gains move: those of SHAPES, with so much of each channel on its own side and across. */
export function addShaped(frames: i32, own: f32, across: f32): void {
  const straight = f32x4.splat(own);
  const over = f32x4.splat(across);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    const x = v128.load(LEFT + i);
    const y = v128.load(RIGHT + i);
    const left = f32x4.add(f32x4.mul(x, straight), f32x4.mul(y, over));
    const right = f32x4.add(f32x4.mul(y, straight), f32x4.mul(x, over));
    addFour(SUMS + i, f32x4.mul(left, v128.load(SHAPES + i)));
    addFour(SUMS + 4 * BLOCK + i, f32x4.mul(right, v128.load(SHAPES + 4 * BLOCK + i)));
  }
}

/** Both sums into LEFT, as loud as they would be in both. */
export function takeOneSum(frames: i32): void {
  const level = f32x4.splat(Mathf.SQRT1_2);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16)
    v128.store(LEFT + i, f32x4.mul(f32x4.add(v128.load(SUMS + i), v128.load(SUMS + 4 * BLOCK + i)), level));
}

/** The sums into LEFT and RIGHT. */
export function takeSums(frames: i32): void {
  memory.copy(LEFT, SUMS, (<usize>frames) << 2);
  memory.copy(RIGHT, SUMS + 4 * BLOCK, (<usize>frames) << 2);
}
