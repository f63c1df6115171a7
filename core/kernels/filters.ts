import { PAIRS } from './blocks';

/** The most second-order filters in a row. */
export const MOST_FILTERS: i32 = 16;
/** b0, b1, b2, a1, a2 of each filter, double precision. */
export const COEFFICIENTS: usize = memory.data(40 * MOST_FILTERS, 16);
/** What each filter remembers: z1 and z2 of both channels. */
const MEMORIES: usize = memory.data(32 * MOST_FILTERS, 16);
/** What is smaller than this is silence: numbers near the smallest a machine has make it slow. */
const SILENCE: f64 = 1e-25;

export function forgetFilters(from: i32, count: i32): void {
  memory.fill(MEMORIES + 32 * from, 0, 32 * count);
}

/** Runs PAIRS through `count` filters in a row (transposed direct form II), always two together so that neither waits. */
export function runFilters(frames: i32, from: i32, count: i32): void {
  for (let n = from; n < from + count; n += 2) two(frames, n);
}

function at(filter: i32, which: i32): v128 {
  return v128.load64_splat(COEFFICIENTS + 40 * filter + 8 * which);
}

function two(frames: i32, n: i32): void {
  const b0 = at(n, 0);
  const b1 = at(n, 1);
  const b2 = at(n, 2);
  const a1 = at(n, 3);
  const a2 = at(n, 4);
  const d0 = at(n + 1, 0);
  const d1 = at(n + 1, 1);
  const d2 = at(n + 1, 2);
  const c1 = at(n + 1, 3);
  const c2 = at(n + 1, 4);
  const own = MEMORIES + 32 * n;
  let z1 = v128.load(own);
  let z2 = v128.load(own, 16);
  let w1 = v128.load(own, 32);
  let w2 = v128.load(own, 48);
  const end = PAIRS + ((<usize>frames) << 4);
  for (let p = PAIRS; p < end; p += 16) {
    const x = v128.load(p);
    const y = f64x2.add(f64x2.mul(b0, x), z1);
    z1 = f64x2.sub(f64x2.add(f64x2.mul(b1, x), z2), f64x2.mul(a1, y));
    z2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y));
    const v = f64x2.add(f64x2.mul(d0, y), w1);
    w1 = f64x2.sub(f64x2.add(f64x2.mul(d1, y), w2), f64x2.mul(c1, v));
    w2 = f64x2.sub(f64x2.mul(d2, y), f64x2.mul(c2, v));
    v128.store(p, v);
  }
  v128.store(own, audible(z1));
  v128.store(own, audible(z2), 16);
  v128.store(own, audible(w1), 32);
  v128.store(own, audible(w2), 48);
}

/** What is silence as nothing. */
function audible(x: v128): v128 {
  return v128.and(x, f64x2.ge(f64x2.abs(x), f64x2.splat(SILENCE)));
}
