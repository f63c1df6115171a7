import { LEFT } from './block-buffers';

/** The longest time between repeats, in samples. */
export const LONGEST_ECHO: i32 = 1 << 19;
const LINE: usize = memory.data(4 * LONGEST_ECHO, 16);
/** What is smaller is silence. */
const SILENCE: f64 = 1e-15;

let at: i32 = 0;
/** The last repeat, its top taken off. */
let last: f64 = 0;

export function emptyEcho(length: i32): void {
  memory.fill(LINE, 0, 4 * length);
  at = 0;
  last = 0;
}

/** Repeats of LEFT in place; `dull` is how much of the repeat before is taken into each. */
export function runEcho(frames: i32, length: i32, feedback: f64, mix: f64, dull: f64): void {
  let place = at;
  let repeated = last;
  const bright = 1 - dull;
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 4) {
    const x = <f64>load<f32>(LEFT + i);
    const line = LINE + ((<usize>place) << 2);
    const repeat = <f64>load<f32>(line);
    repeated = repeat * bright + repeated * dull;
    if (abs(repeated) < SILENCE) repeated = 0;
    store<f32>(line, <f32>(x + repeated * feedback));
    store<f32>(LEFT + i, <f32>(x + (repeat - x) * mix));
    if (++place == length) place = 0;
  }
  at = place;
  last = repeated;
}
