export interface Figure {
  readonly name: string;
  readonly ours: number;
  /** The well-known library or tool on the same data in the same run. */
  readonly other: number;
  readonly unit: string;
  /** How many times faster than the other ours has to be, or the most ours may take. */
  readonly goal: { readonly ratio: number } | { readonly most: number };
}

const round = (n: number): number => Number(n.toPrecision(3));

/** Prints a figure as one JSON line. */
export function print({ name, ours, other, unit, goal }: Figure): void {
  const ratio = other / ours;
  const met = 'ratio' in goal ? ratio >= goal.ratio : ours <= goal.most;
  console.log(JSON.stringify({ name, ours: round(ours), other: round(other), unit, ratio: round(ratio), goal, met }));
}

/** The median time of one call, in ms, over at least `rounds` calls after a few to warm up. */
export async function time(work: () => unknown, rounds = 15): Promise<number> {
  for (let i = 0; i < 3; i++) await work();
  const times: number[] = [];
  for (let i = 0; i < rounds; i++) {
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[Math.floor(rounds / 2)] ?? 0;
}
