import { useDeferredValue, useMemo } from 'react';

import { comparable, compare, type Comparison } from '@old-echo/core/compare/compare';

import type { CompareSide } from '../components/use-compare-side';

/** A side as it is compared: a state and what it is a state of, which change together. */
const useCompared = (side: CompareSide | undefined) => {
  const [profile, state] = [side?.profile, side?.state];
  return useDeferredValue(useMemo(() => ({ profile, state }), [profile, state]));
};

/** Two sides compared; undefined while one is loading, or where they are of two kinds of desk. */
export function useComparison(a: CompareSide | undefined, b: CompareSide | undefined): Comparison | undefined {
  const [left, right] = [useCompared(a), useCompared(b)];
  const profile = left.profile === a?.profile && left.profile === right.profile ? left.profile : undefined;
  return useMemo(
    () => (profile && left.state && right.state ? compare(profile, ...comparable(left.state, right.state)) : undefined),
    [profile, left.state, right.state],
  );
}
