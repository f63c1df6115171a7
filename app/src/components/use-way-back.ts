import { skipToken } from '@reduxjs/toolkit/query';
import { type Href, useRouter } from 'expo-router';

import type { RestoreView } from '@old-echo/core/contracts/restore';

import { deskHref } from '../store/desk-address';
import { noticed } from '../store/notice-slice';
import { useRestoreQuery } from '../store/recall-api';
import { useAppDispatch, useAppSelector } from '../store/store';

/** Where the preview of a restore's way back is, or undefined once that was removed. */
export const wayBackHref = ({ id, deskId, wayBack }: RestoreView): Href | undefined =>
  wayBack ? deskHref(deskId, `restore/${wayBack.sceneId}/preview?wayBackOf=${id}`) : undefined;

/** Goes to the preview of the way back of the desk's last restore, or says why there is none. */
export function useWayBack(): () => void {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const id = useAppSelector((root) => root.live.desk?.lastRestoreId);
  const { data: restore } = useRestoreQuery(id ?? skipToken);
  return () => {
    const last = restore?.id === id ? restore : undefined;
    const href = last && wayBackHref(last);
    if (href) router.navigate(href);
    else if (last) dispatch(noticed('The way back of the last restore was deleted for good.'));
    else if (!id) dispatch(noticed('No way back yet: nothing was restored on this desk.'));
  };
}
