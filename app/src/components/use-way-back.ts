import { skipToken } from '@reduxjs/toolkit/query';
import type { Href } from 'expo-router';

import { type RestoreView, sceneRecall } from '@old-echo/core/contracts/restore';
import { sceneTitle } from '@old-echo/core/contracts/scene';

import { deskHref } from '../store/desk-address';
import { noticed } from '../store/notice-slice';
import { useRestoreQuery } from '../store/recall-api';
import { useAppDispatch, useAppSelector } from '../store/store';
import { useTouchRecall } from './restore-at-once';

/** Where the preview of a restore's way back is, or undefined once that was removed. */
export const wayBackHref = ({ id, deskId, wayBack }: RestoreView): Href | undefined =>
  wayBack ? deskHref(deskId, `restore/${wayBack.sceneId}/preview?wayBackOf=${id}`) : undefined;

/** Takes the way back of the desk's last restore: at once in the studio, else over its preview; or says why there is none. */
export function useWayBack(): () => void {
  const dispatch = useAppDispatch();
  const desk = useAppSelector((root) => root.live.desk);
  const id = desk?.lastRestoreId;
  const { data: restore } = useRestoreQuery(id ?? skipToken);
  const touch = useTouchRecall(desk ?? undefined);
  return () => {
    const last = restore?.id === id ? restore : undefined;
    const href = last && wayBackHref(last);
    if (last?.wayBack && href)
      touch(sceneRecall(last.deskId, last.wayBack.sceneId, last.wayBack.scope), {
        href,
        said: () => `The desk is as it was before ${sceneTitle({ number: last.sceneNumber, name: last.sceneName })}`,
      });
    else if (last) dispatch(noticed('The way back of the last restore was deleted for good.'));
    else if (!id) dispatch(noticed('No way back yet: nothing was restored on this desk.'));
  };
}
