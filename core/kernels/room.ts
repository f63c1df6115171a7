import { LEFT, RIGHT } from './blocks';

/** Delay lines of a room. */
const LINES: i32 = 8;
/** The longest of them, in samples. */
export const LONGEST_LINE: i32 = 8192;
/** Each line is written on and on, and moved back to its beginning when it is full. */
const ROOM: i32 = 4 * LONGEST_LINE;
/** From one line to the next, in bytes: not a round number, or all eight would want the same place near the processor. */
const APART: usize = 4 * ROOM + 576;
const SAMPLES: usize = memory.data(APART * LINES, 16);
/** Length in samples (as a whole number) of each line, and what it loses on one way round. */
export const LENGTHS: usize = memory.data(4 * LINES, 16);
export const LOSSES: usize = memory.data(4 * LINES, 16);
/** Where writing begins: so much is looked back at. */
const START: i32 = LONGEST_LINE + 4;
/** Where all lines are written next. */
let head: i32 = START;
/** Added to what goes round, −360 dB: without it a tail ends in numbers too small to count with quickly. */
const FAINT: f32 = 1e-18;

export function emptyRoom(): void {
  memory.fill(SAMPLES, 0, APART * LINES);
  head = START;
}

function line(n: i32): usize {
  return SAMPLES + APART * n;
}

/** Four samples of a line as they come out of it, the top taken off. */
function heard(n: i32, own: v128, dull: v128): v128 {
  const from = line(n) + ((head - load<i32>(LENGTHS + 4 * n)) << 2);
  return f32x4.add(f32x4.mul(v128.load(from), own), f32x4.mul(v128.load(from - 4), dull));
}

/** Four samples into a line: the Householder matrix takes a quarter of all eight from each. */
function feedBack(n: i32, out: v128, fresh: v128): void {
  const kept = f32x4.mul(out, v128.load32_splat(LOSSES + 4 * n));
  v128.store(line(n) + (head << 2), f32x4.add(kept, f32x4.add(fresh, f32x4.splat(FAINT))));
}

/**
 * LEFT into a room, LEFT and RIGHT out of it. `frames` is a multiple of four. `dull` is how much of the sample before is
 * taken into each.
 */
export function runRoom(frames: i32, dull: f32): void {
  const own = f32x4.splat(1 - dull);
  const past = f32x4.splat(dull);
  const level = f32x4.splat(<f32>(1 / Math.sqrt(8)));
  const quarter = f32x4.splat(0.25);
  if (head + frames > ROOM) {
    for (let n = 0; n < LINES; n++) memory.copy(line(n), line(n) + ((head - START) << 2), START << 2);
    head = START;
  }
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16) {
    const y0 = heard(0, own, past);
    const y1 = heard(1, own, past);
    const y2 = heard(2, own, past);
    const y3 = heard(3, own, past);
    const y4 = heard(4, own, past);
    const y5 = heard(5, own, past);
    const y6 = heard(6, own, past);
    const y7 = heard(7, own, past);
    const rights = f32x4.sub(f32x4.add(y0, y1), f32x4.add(y4, y5));
    const lefts = f32x4.sub(f32x4.add(y2, y3), f32x4.add(y6, y7));
    const all = f32x4.add(
      f32x4.add(f32x4.add(y0, y1), f32x4.add(y4, y5)),
      f32x4.add(f32x4.add(y2, y3), f32x4.add(y6, y7)),
    );
    const share = f32x4.mul(all, quarter);
    const fresh = v128.load(LEFT + i);
    const turned = f32x4.neg(fresh);
    feedBack(0, f32x4.sub(y0, share), fresh);
    feedBack(1, f32x4.sub(y1, share), turned);
    feedBack(2, f32x4.sub(y2, share), fresh);
    feedBack(3, f32x4.sub(y3, share), turned);
    feedBack(4, f32x4.sub(y4, share), fresh);
    feedBack(5, f32x4.sub(y5, share), turned);
    feedBack(6, f32x4.sub(y6, share), fresh);
    feedBack(7, f32x4.sub(y7, share), turned);
    v128.store(LEFT + i, f32x4.mul(lefts, level));
    v128.store(RIGHT + i, f32x4.mul(rights, level));
    head += 4;
  }
}
