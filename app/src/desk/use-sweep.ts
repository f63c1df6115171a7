import { useCallback, useEffect, useMemo, useRef } from 'react';

import { chosen } from '../store/selection-slice';
import { useAppDispatch, useAppStore } from '../store/store';

export interface Sweep {
  readonly begin: (strip: string) => void;
  /** Selects from where it began to so many rows below, or above where negative; back again deselects what it had reached. */
  readonly reach: (rows: number) => void;
}

/**
 * Selecting strips by going over them.
 * @param strips in the order in which they are shown
 */
export function useSweep(strips: readonly string[]): Sweep {
  const store = useAppStore();
  const dispatch = useAppDispatch();
  const shown = useRef(strips);
  useEffect(() => {
    shown.current = strips;
  });
  const start = useRef<{ at: number; before: readonly string[] }>({ at: 0, before: [] });
  const begin = useCallback(
    (strip: string) => {
      start.current = { at: shown.current.indexOf(strip), before: store.getState().selection.strips };
    },
    [store],
  );
  const reach = useCallback(
    (rows: number) => {
      const { at, before } = start.current;
      const [first, last] = [Math.min(at, at + rows), Math.max(at, at + rows)];
      dispatch(chosen([...new Set([...before, ...shown.current.slice(Math.max(0, first), last + 1)])]));
    },
    [dispatch],
  );
  return useMemo(() => ({ begin, reach }), [begin, reach]);
}
