import { createContext, type ReactNode, useContext } from 'react';

import { type Audition, type ListenTarget, useAudition } from './use-audition';

const Shared = createContext<Audition | undefined>(undefined);

interface AuditionProviderProps {
  readonly productionId: string | undefined;
  readonly a: ListenTarget | undefined;
  readonly b: ListenTarget | undefined;
  readonly children: ReactNode;
}

/**
 * Has all that is in it listen to the same two states. While mixes are worked out it is told of every step, and only what asks
 * for it is drawn again.
 */
export function AuditionProvider({ productionId, a, b, children }: AuditionProviderProps) {
  return <Shared value={useAudition(productionId, a, b)}>{children}</Shared>;
}

/** What is listened to around here; undefined while a state is not there. */
export const useSharedAudition = (): Audition | undefined => useContext(Shared);
