import { LEFT, PAIRS } from './block-buffers';

/** Filters run as a pipeline on one channel, enough to hide each other's latency. */
export const ROW: i32 = 6;
/** The most second-order filters in a row, three rows of them. */
export const MOST_FILTERS: i32 = 3 * ROW;
/** b0, b1 − a1·b0, b2 − a2·b0, a1, a2 of each filter, double precision. */
export const COEFFICIENTS: usize = memory.data(40 * MOST_FILTERS, 16);
/** What each filter remembers: z1 and z2 of both channels. */
export const MEMORIES: usize = memory.data(32 * MOST_FILTERS, 16);
/** What is smaller than this is silence: numbers near the smallest a machine has make it slow. */
const SILENCE: f64 = 1e-25;

export function forgetFilters(from: i32, count: i32): void {
  memory.fill(MEMORIES + 32 * from, 0, 32 * count);
}

// Every filter is written so that what it remembers waits for one product and one sum only:
//   y = b0·x + z1,  z1 ← (b1 − a1·b0)·x + z2 − a1·z1,  z2 ← (b2 − a2·b0)·x − a2·z1

/** Runs PAIRS through `count` filters in a row, always two together so that neither waits. */
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
    const next = f64x2.sub(f64x2.add(f64x2.mul(b1, x), z2), f64x2.mul(a1, z1));
    z2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, z1));
    z1 = next;
    const v = f64x2.add(f64x2.mul(d0, y), w1);
    const then = f64x2.sub(f64x2.add(f64x2.mul(d1, y), w2), f64x2.mul(c1, w1));
    w2 = f64x2.sub(f64x2.mul(d2, y), f64x2.mul(c2, w1));
    w1 = then;
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

/** One channel in double precision, in the place of PAIRS. */
function sample(i: i32): usize {
  return PAIRS + ((<usize>i) << 3);
}

/** Runs LEFT by itself through `count` filters in a row. */
export function runFiltersAlone(frames: i32, from: i32, count: i32): void {
  for (let i: usize = 0; i < <usize>frames; i += 2)
    v128.store(PAIRS + (i << 3), f64x2.promote_low_f32x4(v128.load64_zero(LEFT + (i << 2))));
  const last = from + count - 1;
  for (let n = from; n <= last; n += ROW) {
    if (n == last) one(n, 0, frames);
    else row(frames, n);
  }
  for (let i: usize = 0; i < <usize>frames; i += 2)
    v128.store64_lane(LEFT + (i << 2), f32x4.demote_f64x2_zero(v128.load(PAIRS + (i << 3))), 0);
}

/** A coefficient of a filter and of the one behind it. */
function both(filter: i32, which: i32): v128 {
  const from = COEFFICIENTS + 40 * filter + 8 * which;
  return v128.load64_lane(from + 40, v128.load64_zero(from), 1);
}

/** What a filter and the one behind it remember: `which` is 0 for z1, 1 for z2. */
function remembered(filter: i32, which: i32): v128 {
  const from = MEMORIES + 32 * filter + 16 * which;
  return v128.load64_lane(from + 32, v128.load64_zero(from), 1);
}

function remember(filter: i32, which: i32, z: v128): void {
  const to = MEMORIES + 32 * filter + 16 * which;
  const kept = audible(z);
  v128.store64_lane(to, kept, 0);
  v128.store64_lane(to + 32, kept, 1);
}

/**
 * Six biquads pipelined over one channel: filter n works on a sample n steps behind the first. Where a block begins and ends
 * they run one after the other.
 */
function row(frames: i32, n: i32): void {
  const behind = ROW - 1;
  if (frames <= behind) {
    for (let j = 0; j < ROW; j++) one(n + j, 0, frames);
    return;
  }
  for (let j = 0; j < behind; j++) one(n + j, 0, behind - j);
  const p0 = both(n, 0);
  const p1 = both(n, 1);
  const p2 = both(n, 2);
  const p3 = both(n, 3);
  const p4 = both(n, 4);
  const q0 = both(n + 2, 0);
  const q1 = both(n + 2, 1);
  const q2 = both(n + 2, 2);
  const q3 = both(n + 2, 3);
  const q4 = both(n + 2, 4);
  const r0 = both(n + 4, 0);
  const r1 = both(n + 4, 1);
  const r2 = both(n + 4, 2);
  const r3 = both(n + 4, 3);
  const r4 = both(n + 4, 4);
  let p = remembered(n, 0);
  let pz = remembered(n, 1);
  let q = remembered(n + 2, 0);
  let qz = remembered(n + 2, 1);
  let r = remembered(n + 4, 0);
  let rz = remembered(n + 4, 1);
  // What each pair of filters gave last, the earlier sample behind.
  let outP = reversed(behind - 2);
  let outQ = reversed(behind - 4);
  let outR = v128.load64_zero(sample(0));
  for (let i = behind; i < frames; i++) {
    const inP = i64x2.shuffle(v128.load64_zero(sample(i)), outP, 0, 2);
    const inQ = i64x2.shuffle(outP, outQ, 1, 2);
    const inR = i64x2.shuffle(outQ, outR, 1, 2);
    outP = f64x2.add(f64x2.mul(p0, inP), p);
    outQ = f64x2.add(f64x2.mul(q0, inQ), q);
    outR = f64x2.add(f64x2.mul(r0, inR), r);
    const nextP = f64x2.sub(f64x2.add(f64x2.mul(p1, inP), pz), f64x2.mul(p3, p));
    const nextQ = f64x2.sub(f64x2.add(f64x2.mul(q1, inQ), qz), f64x2.mul(q3, q));
    const nextR = f64x2.sub(f64x2.add(f64x2.mul(r1, inR), rz), f64x2.mul(r3, r));
    pz = f64x2.sub(f64x2.mul(p2, inP), f64x2.mul(p4, p));
    qz = f64x2.sub(f64x2.mul(q2, inQ), f64x2.mul(q4, q));
    rz = f64x2.sub(f64x2.mul(r2, inR), f64x2.mul(r4, r));
    p = nextP;
    q = nextQ;
    r = nextR;
    v128.store64_lane(sample(i - behind), outR, 1);
  }
  remember(n, 0, p);
  remember(n, 1, pz);
  remember(n + 2, 0, q);
  remember(n + 2, 1, qz);
  remember(n + 4, 0, r);
  remember(n + 4, 1, rz);
  const last = frames - 1;
  v128.store64_lane(sample(last), outP, 0);
  v128.store64_lane(sample(last - 1), outP, 1);
  v128.store64_lane(sample(last - 2), outQ, 0);
  v128.store64_lane(sample(last - 3), outQ, 1);
  v128.store64_lane(sample(last - 4), outR, 0);
  for (let j = 1; j < ROW; j++) one(n + j, frames - j, frames);
}

/** Two samples, the later one first. */
function reversed(i: i32): v128 {
  return v128.load64_lane(sample(i), v128.load64_zero(sample(i + 1)), 1);
}

/** One filter over some samples of one channel. */
function one(n: i32, from: i32, to: i32): void {
  const set = COEFFICIENTS + 40 * n;
  const b0 = load<f64>(set);
  const b1 = load<f64>(set, 8);
  const b2 = load<f64>(set, 16);
  const a1 = load<f64>(set, 24);
  const a2 = load<f64>(set, 32);
  const own = MEMORIES + 32 * n;
  let z1 = load<f64>(own);
  let z2 = load<f64>(own, 16);
  for (let i = from; i < to; i++) {
    const x = load<f64>(sample(i));
    store<f64>(sample(i), b0 * x + z1);
    const next = b1 * x + z2 - a1 * z1;
    z2 = b2 * x - a2 * z1;
    z1 = next;
  }
  store<f64>(own, abs(z1) < SILENCE ? 0 : z1);
  store<f64>(own, abs(z2) < SILENCE ? 0 : z2, 16);
}
