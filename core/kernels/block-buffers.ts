/** Samples that are worked on at once; everything of a block stays in the processor's nearest memory. */
export const BLOCK: i32 = 1024;
/** History samples before each block, for filters that look back. */
export const BEFORE: i32 = 64;

/** A block of two channels, single precision, with what came before it. */
export const LEFT: usize = memory.data(4 * (BEFORE + BLOCK), 16) + 4 * BEFORE;
export const RIGHT: usize = memory.data(4 * (BEFORE + BLOCK), 16) + 4 * BEFORE;
/** The same block as pairs in double precision. */
export const PAIRS: usize = memory.data(16 * BLOCK, 16);

/** Interleaves LEFT and RIGHT into PAIRS two frames at a time; may write one frame too many. */
export function pair(frames: i32): void {
  for (let i: usize = 0; i < <usize>frames; i += 2) {
    const left = v128.load64_zero(LEFT + (i << 2));
    const both = i32x4.shuffle(left, v128.load64_zero(RIGHT + (i << 2)), 0, 4, 1, 5);
    v128.store(PAIRS + (i << 4), f64x2.promote_low_f32x4(both));
    v128.store(PAIRS + (i << 4), f64x2.promote_low_f32x4(i32x4.shuffle(both, both, 2, 3, 2, 3)), 16);
  }
}

/** PAIRS into LEFT and RIGHT, two at a time. */
export function unpair(frames: i32): void {
  for (let i: usize = 0; i < <usize>frames; i += 2) {
    const one = f32x4.demote_f64x2_zero(v128.load(PAIRS + (i << 4)));
    const next = f32x4.demote_f64x2_zero(v128.load(PAIRS + (i << 4), 16));
    const both = i32x4.shuffle(one, next, 0, 4, 1, 5);
    v128.store64_lane(LEFT + (i << 2), both, 0);
    v128.store64_lane(RIGHT + (i << 2), both, 1);
  }
}

/** Makes LEFT and RIGHT louder. */
export function amplify(frames: i32, by: f32): void {
  const level = f32x4.splat(by);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    v128.store(LEFT + i, f32x4.mul(v128.load(LEFT + i), level));
    v128.store(RIGHT + i, f32x4.mul(v128.load(RIGHT + i), level));
  }
}
