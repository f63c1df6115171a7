/** After this long without a sign of life nobody works on a job any more, in ms. */
const SILENT_MS = 20_000;
/** How long after the clock on the wall was set nobody is called silent, in ms: who is at work has shown a sign of life by then. */
const GRACE_MS = 10_000;
/** A clock that is kept right is moved by less than this at once, in ms. */
const SET_MS = 2000;

/** A sign of life is a date, which another process can read; so it says nothing while the clock on the wall has just been set. */
let offset = new Date().getTime() - performance.now();
let setAt = -Infinity;

/** Between which dates whoever is at work on a job has shown its last sign of life. */
export function signsOfLife(): readonly [from: Date, until: Date] {
  const [wall, steady] = [new Date().getTime(), performance.now()];
  if (Math.abs(wall - steady - offset) > SET_MS) setAt = steady;
  offset = wall - steady;
  const far = steady - setAt < GRACE_MS ? 100 * 365 * 86_400_000 : SILENT_MS;
  return [new Date(Math.max(0, wall - far)), new Date(wall + far)];
}
