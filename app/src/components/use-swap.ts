import { useRouter } from 'expo-router';
import { useEffect, useRef, useState } from 'react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { plural } from '@old-echo/core/phrases/format-value';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { faultLine, toApiFault } from '../store/api';
import { deskHref } from '../store/desk-address';
import { useEditDeskMutation } from '../store/desk-api';
import { noticed } from '../store/notice-slice';
import { useSwapMutation } from '../store/recall-api';
import { useAppDispatch, useAppSelector } from '../store/store';
import { previewHref } from './links/recall-link';

/**
 * Swaps the desk to the other scene and back, or to one that is given: at once in the studio, over its preview at a show or
 * where something has to be answered. Where there is nothing to swap to, says how to get there.
 */
export function useSwap(desk: DeskView | undefined): (to?: Pick<SceneView, 'id' | 'scope'>) => void {
  const id = desk?.id ?? '';
  const router = useRouter();
  const dispatch = useAppDispatch();
  const by = useAppSelector((root) => root.place.who);
  const last = useAppSelector((root) => root.live.restore);
  const [ask] = useSwapMutation();
  const [edit] = useEditDeskMutation();
  const [waiting, setWaiting] = useState<string | null>(null);
  const told = useRef<string | null>(null);
  const ended = waiting !== null && last?.id === waiting && last.status !== 'running' ? last : undefined;
  useEffect(() => {
    if (!ended || told.current === ended.id) return;
    told.current = ended.id;
    if (ended.status !== 'confirmed') return router.navigate(deskHref(id, `restores/${ended.id}`));
    const took = ended.report ? ` in ${ended.report.milliseconds} ms` : '';
    dispatch(
      noticed(
        `Swapped to ${sceneTitle({ number: ended.sceneNumber, name: ended.sceneName })}. ${plural(ended.changes, 'setting')} confirmed${took}.`,
      ),
    );
  }, [id, ended, router, dispatch]);
  return (to) => {
    const partner = to ? { id: to.id, scope: to.scope ?? ALL_EXCEPT_GLOBALS } : desk?.swap;
    if (!desk || !partner) {
      dispatch(noticed('Nothing to swap with yet. Restore a scene, or choose “Swap to it” on a scene’s page.'));
      return;
    }
    const toPreview = () => router.navigate(previewHref(sceneRecall(id, partner.id, partner.scope)));
    if (desk.mode === 'live') return toPreview();
    const chosen = to ? edit({ id, edit: { swapTo: to.id } }) : Promise.resolve({ error: undefined });
    void chosen.then((edited) => {
      if (edited.error) return void dispatch(noticed(faultLine(edited.error)));
      return ask({ desk: id, by }).then(({ data, error }) => {
        if (data) return setWaiting(data.id);
        if (toApiFault(error).code === 'unanswered') return toPreview();
        dispatch(noticed(faultLine(error)));
      });
    });
  };
}
