import { BLOCK, LEFT, RIGHT } from './block-buffers';

/** Delay lines of a room. */
const LINES: i32 = 8;
/** The longest of them, in samples. */
export const LONGEST_LINE: i32 = 8192;
/** Room for a line and the blocks behind it. */
const ROOM: i32 = 3 * (LONGEST_LINE + 8) + BLOCK;
/** From one line to the next, in bytes: not a round number, or all eight would want the same place near the processor. */
export const LINE_STRIDE: usize = 4 * ROOM + 576;
export const LINE_SAMPLES: usize = memory.data(LINE_STRIDE * LINES, 16);
/** Length in samples (as a whole number) of each line, and what it loses on one way round. */
export const LENGTHS: usize = memory.data(4 * LINES, 16);
export const LOSSES: usize = memory.data(4 * LINES, 16);
/**
 * Two whole numbers. The first write index: at least the longest line of history lies before it. And where all lines are
 * written next: they are written on and on, and moved back to the start after twice the longest of them, over less of the
 * memory, nearer to the processor.
 */
export const ROOM_SIZE: i32 = 8;
export const ROOM_PLACE: usize = memory.data(ROOM_SIZE, 16);
/** Keeps the tail out of denormals; −360 dB. */
const FAINT: f32 = 1e-18;

/** Begins a room of the LENGTHS that are set. */
export function emptyRoom(): void {
  memory.fill(LINE_SAMPLES, 0, LINE_STRIDE * LINES);
  let longest: i32 = 0;
  for (let n = 0; n < LINES; n++) longest = max(longest, load<i32>(LENGTHS + 4 * n));
  const start = (longest + 8) & ~3;
  store<i32>(ROOM_PLACE, start);
  store<i32>(ROOM_PLACE, start, 4);
}

/** Moves all that the lines remember to their start; returns how many samples of each that is. */
export function gatherRoom(): i32 {
  const start = load<i32>(ROOM_PLACE);
  const head = load<i32>(ROOM_PLACE, 4);
  for (let n = 0; head > start && n < LINES; n++) memory.copy(line(n), line(n) + ((head - start) << 2), start << 2);
  store<i32>(ROOM_PLACE, start, 4);
  return start;
}

function line(n: i32): usize {
  return LINE_SAMPLES + LINE_STRIDE * n;
}

/** Where a line is read, against where all are written. */
function past(n: i32): usize {
  return line(n) - (load<i32>(LENGTHS + 4 * n) << 2);
}

function loss(n: i32): v128 {
  return v128.load32_splat(LOSSES + 4 * n);
}

/** Four samples of a line as they come out of it, the top taken off. */
function heard(from: usize, own: v128, dull: v128): v128 {
  return f32x4.add(f32x4.mul(v128.load(from), own), f32x4.mul(v128.load(from - 4), dull));
}

/** Four samples into a line: the Householder matrix takes a quarter of all eight from each. */
function feedBack(into: usize, out: v128, share: v128, kept: v128, fresh: v128): void {
  v128.store(into, f32x4.add(f32x4.mul(f32x4.sub(out, share), kept), fresh));
}

/**
 * LEFT into a room, LEFT and RIGHT out of it. `frames` is a multiple of four. `dull` is how much of the sample before is
 * taken into each. What each iteration needs is looked up in front of it: the compiler leaves all of that where it stands.
 */
export function runRoom(frames: i32, dull: f32): void {
  const own = f32x4.splat(1 - dull);
  const before = f32x4.splat(dull);
  const level = f32x4.splat(<f32>(1 / Math.sqrt(8)));
  const quarter = f32x4.splat(0.25);
  const faint = f32x4.splat(FAINT);
  if (load<i32>(ROOM_PLACE, 4) >= 3 * load<i32>(ROOM_PLACE)) gatherRoom();
  const head = load<i32>(ROOM_PLACE, 4);
  const past0 = past(0);
  const past1 = past(1);
  const past2 = past(2);
  const past3 = past(3);
  const past4 = past(4);
  const past5 = past(5);
  const past6 = past(6);
  const past7 = past(7);
  const loss0 = loss(0);
  const loss1 = loss(1);
  const loss2 = loss(2);
  const loss3 = loss(3);
  const loss4 = loss(4);
  const loss5 = loss(5);
  const loss6 = loss(6);
  const loss7 = loss(7);
  let at: usize = (<usize>head) << 2;
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 16, at += 16) {
    const y0 = heard(past0 + at, own, before);
    const y1 = heard(past1 + at, own, before);
    const y2 = heard(past2 + at, own, before);
    const y3 = heard(past3 + at, own, before);
    const y4 = heard(past4 + at, own, before);
    const y5 = heard(past5 + at, own, before);
    const y6 = heard(past6 + at, own, before);
    const y7 = heard(past7 + at, own, before);
    const one = f32x4.add(y0, y1);
    const two = f32x4.add(y4, y5);
    const three = f32x4.add(y2, y3);
    const four = f32x4.add(y6, y7);
    const share = f32x4.mul(f32x4.add(f32x4.add(one, two), f32x4.add(three, four)), quarter);
    const fresh = v128.load(LEFT + i);
    const straight = f32x4.add(fresh, faint);
    const turned = f32x4.sub(faint, fresh);
    feedBack(line(0) + at, y0, share, loss0, straight);
    feedBack(line(1) + at, y1, share, loss1, turned);
    feedBack(line(2) + at, y2, share, loss2, straight);
    feedBack(line(3) + at, y3, share, loss3, turned);
    feedBack(line(4) + at, y4, share, loss4, straight);
    feedBack(line(5) + at, y5, share, loss5, turned);
    feedBack(line(6) + at, y6, share, loss6, straight);
    feedBack(line(7) + at, y7, share, loss7, turned);
    v128.store(LEFT + i, f32x4.mul(f32x4.sub(three, four), level));
    v128.store(RIGHT + i, f32x4.mul(f32x4.sub(one, two), level));
  }
  store<i32>(ROOM_PLACE, head + frames, 4);
}
