import type { Href } from 'expo-router';

/** What is compared: a scene by its id, or what is on the desk now. */
export type SideOf = string;
export const NOW: SideOf = 'now';
/** What one state can be compared against at once. */
export const MOST_OTHERS = 3;

export interface Compared {
  readonly a: SideOf;
  /** One to {@link MOST_OTHERS}. */
  readonly others: readonly SideOf[];
  /** Which of the others is B. */
  readonly at: number;
  /** The desk that is meant by {@link NOW}; null where that is the desk of the scenes it is compared with. */
  readonly desk: string | null;
  /** The cell that is looked at: `in.3/eq`. */
  readonly cell: string | null;
}

/** The address that opens a comparison again. */
export const compareHref = ({ a, others, at, cell, desk }: Compared): Href => ({
  pathname: '/compare',
  params: {
    a,
    b: others.join(','),
    ...(at > 0 ? { at: String(at) } : {}),
    ...(cell ? { cell } : {}),
    ...(desk ? { desk } : {}),
  },
});

/** Reads that address; undefined where it names nothing to compare. */
export function readCompared(params: Readonly<Record<string, string | undefined>>): Compared | undefined {
  const others = (params['b'] ?? '').split(',').filter(Boolean).slice(0, MOST_OTHERS);
  const at = Math.trunc(Number(params['at'] ?? 0));
  if (!params['a'] || others.length === 0) return undefined;
  return {
    a: params['a'],
    others,
    at: at > 0 && at < others.length ? at : 0,
    cell: params['cell'] ?? null,
    desk: params['desk'] ?? null,
  };
}
