import { skipToken } from '@reduxjs/toolkit/query';

import type { ProductionView } from '@old-echo/core/contracts/production';
import type { Profile } from '@old-echo/core/desk/profile';

import { useDesksQuery, useProfileQuery } from '../store/desk-api';

/** The kind of desk a production is made on. */
export function useProductionProfile(production: ProductionView | undefined): Profile | undefined {
  const { data: desks } = useDesksQuery();
  const desk = desks?.find(({ id }) => id === production?.deskId);
  return useProfileQuery(desk?.profileId ?? skipToken).data;
}
