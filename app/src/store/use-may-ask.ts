import { useCallback } from 'react';

import { mayDo } from '@old-echo/core/contracts/role';
import { accessOf } from '@old-echo/core/contracts/route';

import type { MayAsk } from '../ui/allowed';
import { useDesksQuery } from './desk-api';
import { useHereQuery } from './people-api';
import { useAppSelector } from './store';

/**
 * What whoever is here may ask for, on the desk and in the song or show they are at; the server decides in the end. Before it is
 * known, and at the machine itself, everything.
 */
export function useMayAskHere(): MayAsk {
  const { data: here } = useHereQuery();
  const { deskId, productionId } = useAppSelector((root) => root.place);
  const { isStudio } = useDesksQuery(undefined, {
    selectFromResult: ({ data }) => ({ isStudio: data?.find(({ id }) => id === deskId)?.mode === 'studio' }),
  });
  const own = here?.productions.find((one) => one.productionId === productionId)?.role;
  const role = here ? (own ?? here.role) : 'owner';
  return useCallback((route) => mayDo(accessOf(route), role, isStudio), [role, isStudio]);
}
