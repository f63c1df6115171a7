import { LEFT, PAIRS } from './block-buffers';

/** Samples that one between two others is made of. */
export const TAPS: i32 = 32;
/** Three filters for the places between two samples. */
export const PLACES: usize = memory.data(4 * TAPS * 3, 16);

/** The sum of squares of the first channel of PAIRS. */
export function energyOfLeft(frames: i32): f64 {
  return energy(frames, PAIRS);
}

/** The sum of squares of the second channel of PAIRS. */
export function energyOfRight(frames: i32): f64 {
  return energy(frames, PAIRS + 8);
}

function energy(frames: i32, from: usize): f64 {
  let sum: f64 = 0;
  for (let i: usize = 0; i < <usize>frames; i++) {
    const x = load<f64>(from + (i << 4));
    sum += x * x;
  }
  return sum;
}

/** The highest level of LEFT. `frames` is a multiple of four. */
export function highest(frames: i32): f32 {
  let most = f32x4.splat(0);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) most = f32x4.max(most, f32x4.abs(v128.load(LEFT + i)));
  return largest(most);
}

/** The highest level at the three places between samples of LEFT from `from` on, four at a time; it looks back by TAPS. */
export function highestBetween(from: i32, frames: i32): f32 {
  let most = f32x4.splat(0);
  const start = LEFT + ((<usize>from) << 2);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    let a = f32x4.splat(0);
    let b = f32x4.splat(0);
    let c = f32x4.splat(0);
    for (let k: usize = 0; k < (<usize>TAPS) << 2; k += 4) {
      const x = v128.load(start + i - k);
      const taps = PLACES + 3 * k;
      a = f32x4.add(a, f32x4.mul(x, v128.load32_splat(taps)));
      b = f32x4.add(b, f32x4.mul(x, v128.load32_splat(taps, 4)));
      c = f32x4.add(c, f32x4.mul(x, v128.load32_splat(taps, 8)));
    }
    most = f32x4.max(most, f32x4.max(f32x4.abs(a), f32x4.max(f32x4.abs(b), f32x4.abs(c))));
  }
  return largest(most);
}

function largest(x: v128): f32 {
  return max(
    max(f32x4.extract_lane(x, 0), f32x4.extract_lane(x, 1)),
    max(f32x4.extract_lane(x, 2), f32x4.extract_lane(x, 3)),
  );
}
