import { skipToken } from '@reduxjs/toolkit/query';
import { useMemo } from 'react';

import { type Counterpart, counterpartOf } from '@old-echo/core/library/counterpart';
import { describeCounterpart } from '@old-echo/core/phrases/describe-counterpart';

import type { CompareSide } from '../components/use-compare-side';
import { usePartsQuery } from '../store/library-api';

interface Across {
  /** B as the desk of A would hold it; as it is where both are of one desk model. */
  readonly b: CompareSide | undefined;
  /** How they are compared and what of them is not; undefined where both are of one desk model. */
  readonly across: (Counterpart & { readonly words: string }) | undefined;
}

/** Lets two mixes of different desk models be compared strip by strip, seen from the desk of A. */
export function useAcross(a: CompareSide | undefined, b: CompareSide | undefined): Across {
  const [profileA, profileB] = [a?.profile, b?.profile];
  const [stateA, stateB] = [a?.state, b?.state];
  const isAcross = profileA !== undefined && profileB !== undefined && profileA !== profileB;
  const partsOf = (side: CompareSide | undefined) => (isAcross ? (side?.productionId ?? skipToken) : skipToken);
  const [partsA, partsB] = [usePartsQuery(partsOf(a)).data, usePartsQuery(partsOf(b)).data];
  const across = useMemo(() => {
    if (!profileA || !profileB || profileA === profileB) return undefined;
    if (!stateA || !stateB || !partsA || !partsB) return undefined;
    const here = { profile: profileA, state: stateA, parts: partsA };
    const there = { profile: profileB, state: stateB, parts: partsB };
    const found = counterpartOf(there, here);
    return { ...found, words: describeCounterpart(here, there, found) };
  }, [profileA, profileB, stateA, stateB, partsA, partsB]);
  return isAcross && b ? { b: { ...b, profile: profileA, state: across?.state }, across } : { b, across: undefined };
}
