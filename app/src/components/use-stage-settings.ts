import { useRouter } from 'expo-router';

import { placementRecall } from '@old-echo/core/contracts/restore';
import type { NewPlacement } from '@old-echo/core/contracts/preset';

import { useNewPlacementMutation } from '../store/api';
import { previewHref } from './links/recall-link';
import { useDo } from '../store/use-run-and-notify';

type Put = Pick<NewPlacement, 'deskId' | 'title' | 'settings'> & Partial<NewPlacement>;

/** Puts settings together for a desk and leads to their preview; nothing is sent before that. */
export function usePut(): { readonly put: (placement: Put) => void; readonly busy: boolean } {
  const router = useRouter();
  const done = useDo();
  const [make, { isLoading }] = useNewPlacementMutation();
  return {
    put: (placement) =>
      void done(make({ marks: [], ownGain: false, ...placement }), () => '').then(
        (made) => made && router.navigate(previewHref(placementRecall(made.deskId, made.id))),
      ),
    busy: isLoading,
  };
}
