import { LEFT } from './block-buffers';

/** The longest time between repeats, in samples. */
export const LONGEST_ECHO: i32 = 1 << 19;
export const ECHO_LINE: usize = memory.data(4 * LONGEST_ECHO, 16);
/** What is remembered besides: the last repeat, its top taken off; where the line is written next. */
export const ECHO_SIZE: i32 = 16;
export const ECHO: usize = memory.data(ECHO_SIZE, 16);
/** What is smaller is silence. */
const SILENCE: f64 = 1e-15;

export function emptyEcho(length: i32): void {
  memory.fill(ECHO_LINE, 0, 4 * length);
  memory.fill(ECHO, 0, ECHO_SIZE);
}

/** Repeats of LEFT in place; `dull` is how much of the repeat before is taken into each. */
export function runEcho(frames: i32, length: i32, feedback: f64, mix: f64, dull: f64): void {
  let repeated = load<f64>(ECHO);
  let place = load<i32>(ECHO, 8);
  const bright = 1 - dull;
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 4) {
    const x = <f64>load<f32>(LEFT + i);
    const line = ECHO_LINE + ((<usize>place) << 2);
    const repeat = <f64>load<f32>(line);
    repeated = repeat * bright + repeated * dull;
    if (abs(repeated) < SILENCE) repeated = 0;
    store<f32>(line, <f32>(x + repeated * feedback));
    store<f32>(LEFT + i, <f32>(x + (repeat - x) * mix));
    if (++place == length) place = 0;
  }
  store<f64>(ECHO, repeated);
  store<i32>(ECHO, place, 8);
}
