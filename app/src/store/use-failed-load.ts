import { createSelector, type UnknownAction } from '@reduxjs/toolkit';
import { QueryStatus, skipToken } from '@reduxjs/toolkit/query';
import { useEffect } from 'react';

import { api, type ApiFault, toApiFault } from './api';
import { useDesksQuery } from './desk-api';
import { type RootState, useAppDispatch, useAppSelector } from './store';
import { useDeskId } from './use-live-desk';

/** Whatever the server did not answer is asked again this often, in ms, for as long as the page waits for it. */
const RETRY_MS = 5000;

/** Questions of what is on the screen that went wrong, and have no answer of before either. */
const selectFailed = createSelector(
  [(root: RootState) => root.api.queries, (root: RootState) => root.api.subscriptions],
  (queries, subscriptions) =>
    Object.entries(queries).flatMap(([key, query]) =>
      query?.status === QueryStatus.rejected &&
      query.data === undefined &&
      Object.keys(subscriptions[key] ?? {}).length > 0
        ? [{ name: query.endpointName, args: query.originalArgs, error: query.error }]
        : [],
    ),
);

/** How any question can be asked again. The endpoints are injected by the wings, so their names are known only when it runs. */
interface Endpoint {
  initiate(args: unknown, options: { readonly forceRefetch: true; readonly subscribe: false }): UnknownAction;
}

export interface FailedLoad {
  readonly fault: ApiFault;
  /** Asks again; undefined where it would be in vain. */
  readonly again?: (() => void) | undefined;
}

/** Why what a page waits for will not come: a question that went wrong, or a desk that is not there. */
export function useFailedLoad(): FailedLoad | undefined {
  const dispatch = useAppDispatch();
  const failed = useAppSelector(selectFailed);
  const wanted = useDeskId();
  // A client has no desk, and would be told that desks are not theirs to see.
  const { data: desks } = useDesksQuery(wanted ? undefined : skipToken);
  const fault = failed[0] && toApiFault(failed[0].error);
  const again = () => {
    const endpoints = api.endpoints as Readonly<Record<string, Endpoint | undefined>>;
    for (const { name, args } of failed) {
      const endpoint = endpoints[name];
      if (endpoint) dispatch(endpoint.initiate(args, { forceRefetch: true, subscribe: false }));
    }
  };
  const isSilent = fault?.code === 'unavailable' || fault?.code === 'try-later';
  useEffect(() => {
    if (!isSilent) return;
    const timer = setInterval(again, RETRY_MS);
    return () => clearInterval(timer);
  });
  if (fault) return { fault, again };
  return wanted && desks && !desks.some(({ id }) => id === wanted) ? { fault: NO_DESK } : undefined;
}

const NO_DESK: ApiFault = {
  code: 'not-found',
  message: 'This desk no longer exists.',
  advice: 'It may have been removed, or the address may be incomplete.',
};
