import { useDeferredValue, useMemo } from 'react';

import { comparable, compare, type Comparison } from '@old-echo/core/compare/compare';

import type { CompareSide } from '../components/use-compare-side';

/** Two sides compared; undefined while one is loading, or where they are of two kinds of desk. */
export function useComparison(a: CompareSide | undefined, b: CompareSide | undefined): Comparison | undefined {
  const [left, right] = [useDeferredValue(a?.state), useDeferredValue(b?.state)];
  const profile = a?.profile && a.profile === b?.profile ? a.profile : undefined;
  return useMemo(
    () => (profile && left && right ? compare(profile, ...comparable(left, right)) : undefined),
    [profile, left, right],
  );
}
