/** Samples that are worked on at once; everything of a block stays in the processor's nearest memory. */
export const BLOCK: i32 = 1024;
/** Samples kept in front of a block, for what looks back. */
export const BEFORE: i32 = 64;

/** A block of two channels, single precision, with what came before it. */
export const LEFT: usize = memory.data(4 * (BEFORE + BLOCK), 16) + 4 * BEFORE;
export const RIGHT: usize = memory.data(4 * (BEFORE + BLOCK), 16) + 4 * BEFORE;
/** The same block as pairs in double precision. */
export const PAIRS: usize = memory.data(16 * BLOCK, 16);

/** LEFT and RIGHT into PAIRS. */
export function pair(frames: i32): void {
  for (let i: usize = 0; i < <usize>frames; i++) {
    const at = PAIRS + (i << 4);
    store<f64>(at, <f64>load<f32>(LEFT + (i << 2)));
    store<f64>(at, <f64>load<f32>(RIGHT + (i << 2)), 8);
  }
}

/** PAIRS into LEFT and RIGHT. */
export function unpair(frames: i32): void {
  for (let i: usize = 0; i < <usize>frames; i++) {
    const at = PAIRS + (i << 4);
    store<f32>(LEFT + (i << 2), <f32>load<f64>(at));
    store<f32>(RIGHT + (i << 2), <f32>load<f64>(at, 8));
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
