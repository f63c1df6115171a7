import type { DeskView } from '@old-echo/core/contracts/desk';
import type { ProductionView } from '@old-echo/core/contracts/production';

import { useProductionsQuery } from '../store/scenes-api';

/** The song or show that a desk is on, else its first; undefined where it has none. */
export function useDeskProduction({ id, scene }: DeskView): ProductionView | undefined {
  const { data: productions = [] } = useProductionsQuery();
  const own = productions.filter(({ deskId, binnedAt }) => deskId === id && !binnedAt);
  return productions.find((production) => production.id === scene?.productionId) ?? own[0];
}
