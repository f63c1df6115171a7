import { skipToken } from '@reduxjs/toolkit/query';
import type { Href } from 'expo-router';

import type { RestoreView } from '@old-echo/core/contracts/restore';

import { deskHref } from '../../live/desk-address';
import { useRestoreQuery } from '../../store/api';
import { useAppSelector } from '../../store/store';

/** Where the preview of a restore's way back is, or undefined once that was removed. */
export const wayBackHref = ({ id, deskId, wayBack }: RestoreView): Href | undefined =>
  wayBack ? deskHref(deskId, `restore/${wayBack.sceneId}/preview?wayBackOf=${id}`) : undefined;

/** The way back of the desk's last restore, or undefined before there was one. */
export function useWayBack(): Href | undefined {
  const id = useAppSelector((root) => root.live.desk?.lastRestoreId);
  const { data: restore } = useRestoreQuery(id ?? skipToken);
  return restore && restore.id === id ? wayBackHref(restore) : undefined;
}
