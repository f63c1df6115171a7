import type { DeskView } from '@old-echo/core/contracts/desk';
import { swapTitle } from '@old-echo/core/contracts/desk';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { useEditDeskMutation } from '../store/desk-api';
import { noticed } from '../store/notice-slice';
import { useSwapMutation } from '../store/recall-api';
import { useAppDispatch, useAppSelector } from '../store/store';
import { previewHref } from './links/recall-link';
import { useRestoreAtOnce } from './restore-at-once';

/** Swaps the desk to the other scene and back, or to one that is given. Where there is nothing to swap to, says how to get there. */
export function useSwap(desk: DeskView | undefined): (to?: Pick<SceneView, 'id' | 'scope'>) => void {
  const id = desk?.id ?? '';
  const dispatch = useAppDispatch();
  const by = useAppSelector((root) => root.place.who);
  const [ask] = useSwapMutation();
  const [edit] = useEditDeskMutation();
  const atOnce = useRestoreAtOnce(desk);
  return (to) => {
    const partner = to ? { id: to.id, scope: to.scope ?? ALL_EXCEPT_GLOBALS } : desk?.swap;
    if (!desk || !partner) {
      dispatch(noticed('Nothing to swap with yet. Restore a scene, or choose “Swap to it” on a scene’s page.'));
      return;
    }
    atOnce({
      href: previewHref(sceneRecall(id, partner.id, partner.scope)),
      said: (title) => `Swapped to ${to || !desk.swap ? title : swapTitle(desk.swap)}`,
      begin: async () => {
        const chosen = to && (await edit({ id, edit: { swapTo: to.id } }));
        return chosen?.error ? { error: chosen.error } : ask({ desk: id, by });
      },
    });
  };
}
