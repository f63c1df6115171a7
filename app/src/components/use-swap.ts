import type { DeskView } from '@old-echo/core/contracts/desk';
import { swapTitle } from '@old-echo/core/contracts/desk';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { deskHref } from '../store/desk-address';
import { useEditDeskMutation } from '../store/desk-api';
import { noticed } from '../store/notice-slice';
import { useSwapMutation } from '../store/recall-api';
import { useAppDispatch, useAppSelector, useAppStore } from '../store/store';
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
  const store = useAppStore();
  return (to) => {
    // As far as this page has heard: another swap may be on its way.
    const recall = () => {
      const { desk: now } = store.getState().live;
      const side = to ?? (now?.id === id ? now : desk)?.swap;
      return side && sceneRecall(id, side.id, side.scope ?? ALL_EXCEPT_GLOBALS);
    };
    if (!desk || !recall()) {
      dispatch(noticed('Nothing to swap with yet. Restore a scene, or choose “Swap to it” on a scene’s page.'));
      return;
    }
    let title = '';
    atOnce({
      href: () => {
        const next = recall();
        return next ? previewHref(next) : deskHref(id);
      },
      said: () => `Swapped to ${title}`,
      begin: async () => {
        const chosen = to && (await edit({ id, edit: { swapTo: to.id } }));
        if (chosen?.error) return { error: chosen.error };
        const begun = await ask({ desk: id, by });
        // As the server says: this page may have heard of the last swap's end, and not yet of where the next one leads.
        if (begun.data) title = swapTitle(begun.data.to);
        return begun;
      },
    });
  };
}
