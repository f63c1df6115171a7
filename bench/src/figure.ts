interface Figure {
  readonly name: string;
  readonly ours: number;
  /** The well-known library or tool on the same data in the same run. */
  readonly other: number;
  readonly unit: string;
  /** How many times faster than the other ours has to be, or the most ours may take. */
  readonly goal: { readonly ratio: number } | { readonly most: number };
}

const round = (n: number): number => Number(n.toPrecision(3));

/** Calls before it counts. */
const WARM = 3;

/** Prints a figure as one JSON line. */
export function print({ name, ours, other, unit, goal }: Figure): void {
  const ratio = other / ours;
  const met = 'ratio' in goal ? ratio >= goal.ratio : ours <= goal.most;
  console.log(JSON.stringify({ name, ours: round(ours), other: round(other), unit, ratio: round(ratio), goal, met }));
}

export const median = (times: readonly number[]): number =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? 0;

/** The median time of one call, in ms, over at least `rounds` calls after a few to warm up. */
export async function time(work: () => unknown, rounds = 15): Promise<number> {
  const [took] = await timeInTurn([work], rounds);
  return took;
}

/** {@link time} of several works that take turns, each told its round. */
export async function timeInTurn<const W extends readonly ((round: number) => unknown)[]>(
  works: W,
  rounds: number,
): Promise<{ readonly [N in keyof W]: number }> {
  const times = works.map((): number[] => []);
  for (let round = -WARM; round < rounds; round++)
    for (const [n, work] of works.entries()) {
      const start = performance.now();
      await work(round + WARM);
      if (round >= 0) times[n]?.push(performance.now() - start);
    }
  return times.map(median) as { readonly [N in keyof W]: number };
}
