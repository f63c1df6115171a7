import { readFileSync } from 'node:fs';

/** The machine's time so far, and how much of it another machine on the same processors had, in ticks (proc(5), /proc/stat). */
function ticks(): { readonly all: number; readonly stolen: number } {
  const [line = ''] = readFileSync('/proc/stat', 'utf8').split('\n');
  const parts = line.split(/\s+/).slice(1, 9).map(Number);
  return { all: parts.reduce((sum, part) => sum + part, 0), stolen: parts[7] ?? 0 };
}

/** Begins to measure which part of the machine's time others have; returns it, 0 to 1, when it is asked. */
export function measureStolen(): () => number {
  const before = ticks();
  return () => {
    const after = ticks();
    return (after.stolen - before.stolen) / Math.max(1, after.all - before.all);
  };
}
