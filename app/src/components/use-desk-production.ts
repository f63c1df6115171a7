import type { DeskView } from '@old-echo/core/contracts/desk';
import type { ProductionView } from '@old-echo/core/contracts/production';

import { useProductionsQuery } from '../store/scenes-api';

/** The song or show that a desk works on: the one someone chose, else that of the scene that stands, else its first, if any. */
export function useDeskProduction({ id, scene, worksOn }: DeskView): ProductionView | undefined {
  const { data: productions = [] } = useProductionsQuery();
  const own = productions.filter(({ deskId, binnedAt }) => deskId === id && !binnedAt);
  const chosen = own.find((production) => production.id === worksOn);
  return chosen ?? productions.find((production) => production.id === scene?.productionId) ?? own[0];
}
