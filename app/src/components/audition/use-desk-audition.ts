import type { SettingsByAddress } from '@old-echo/core/desk/state';

import { useProductionsQuery } from '../../store/scenes-api';
import { useAppSelector } from '../../store/store';
import type { LiveDesk } from '../../store/use-live-desk';
import { type Audition, useAudition } from './use-audition';

/** The song or show in which something for a desk is heard: the one that one is in, else the one that the desk works on. */
export function useHeardProduction(now: LiveDesk | undefined): string | undefined {
  const inside = useAppSelector((root) => root.place.productionId);
  const { data: productions } = useProductionsQuery();
  const here = productions?.find(({ id, deskId }) => id === inside && deskId === now?.desk.id)?.id;
  return here ?? now?.desk.worksOn ?? now?.desk.scene?.productionId;
}

/**
 * Listening to a desk with some settings put over it, and with others: nothing of it is sent there. Undefined where there is
 * no sound of it.
 */
export function useDeskAudition(now: LiveDesk, a: SettingsByAddress, b: SettingsByAddress): Audition | undefined {
  const productionId = useHeardProduction(now);
  const side = { profile: now.profile, state: now.state, deskId: now.desk.id };
  const audition = useAudition(productionId, { ...side, settings: a }, { ...side, settings: b });
  return audition?.stems ? audition : undefined;
}
