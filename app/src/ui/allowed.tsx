import { createContext, useContext } from 'react';

import type { Route } from '@old-echo/core/contracts/route';

/** Whether whoever is here may ask for a route. */
export type MayAsk = (route: Route) => boolean;

/** What may be asked for; everything where nobody says otherwise. */
export const AllowedContext = createContext<MayAsk>(() => true);

export const useMayAsk = (): MayAsk => useContext(AllowedContext);

/** A control that asks the server for something. */
export interface Asking {
  /** What it leads to: whoever may not ask for it does not see the control. */
  readonly asks?: Route | undefined;
}

/** Whether a control is there for whoever is here. */
export function useIsAllowed({ asks }: Asking): boolean {
  const mayAsk = useMayAsk();
  return !asks || mayAsk(asks);
}
