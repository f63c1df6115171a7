import { useLocalSearchParams } from 'expo-router';
import { useEffect } from 'react';

import type { ProductionView } from '@old-echo/core/contracts/production';

import { wentToProduction } from '../store/preferences-slice';
import { lookedAt } from '../store/scene-list-slice';
import { useProductionsQuery } from '../store/scenes-api';
import { useAppDispatch, useAppSelector } from '../store/store';

/** The production an address names; one that names none means that of the last visit, or the first one of the desk. */
export function useProduction(): { production: ProductionView | undefined; loaded: boolean } {
  const { production: named } = useLocalSearchParams<{ production?: string }>();
  const dispatch = useAppDispatch();
  const { data } = useProductionsQuery();
  const { productionId: last, deskId: lastDesk } = useAppSelector((root) => root.place);
  const open = data?.filter((p) => !p.binnedAt);
  const production = named
    ? data?.find((p) => p.id === named)
    : (open?.find((p) => p.id === last && p.deskId === lastDesk) ??
      open?.find((p) => p.deskId === lastDesk) ??
      open?.[0]);
  const { id, deskId } = production ?? {};
  useEffect(() => {
    if (!id || !deskId) return;
    dispatch(wentToProduction({ id, deskId }));
    dispatch(lookedAt(id));
  }, [id, deskId, dispatch]);
  return { production, loaded: data !== undefined };
}
