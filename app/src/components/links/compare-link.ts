import type { Href } from 'expo-router';

/** What is compared: a scene by its id, or what is on the desk now. */
export type StateRef = string;
export const LIVE_DESK: StateRef = 'now';
/** What one state can be compared against at once. */
export const MAX_COMPARE_TARGETS = 3;

export interface CompareParams {
  readonly a: StateRef;
  /** One to {@link MAX_COMPARE_TARGETS}. */
  readonly others: readonly StateRef[];
  /** Which of the others is B. */
  readonly at: number;
  /** The desk that is meant by {@link LIVE_DESK}; null where that is the desk of the scenes it is compared with. */
  readonly desk: string | null;
  /** The cell that is looked at: `in.3/eq`. */
  readonly cell: string | null;
}

/** A comparison as the parameters of its address; those it needs not are undefined. */
export const compareParams = ({ a, others, at, cell, desk }: CompareParams) => ({
  a,
  b: others.join(','),
  at: at > 0 ? String(at) : undefined,
  cell: cell ?? undefined,
  desk: desk ?? undefined,
});

/** The address that opens a comparison again. */
export const compareHref = (compared: CompareParams): Href => ({
  pathname: '/compare',
  params: Object.fromEntries(Object.entries(compareParams(compared)).filter(([, value]) => value !== undefined)),
});

/** Reads that address; undefined where it names nothing to compare. */
export function parseCompareParams(params: Readonly<Record<string, string | undefined>>): CompareParams | undefined {
  const others = (params['b'] ?? '').split(',').filter(Boolean).slice(0, MAX_COMPARE_TARGETS);
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
