import { useSyncExternalStore } from 'react';

import { api } from '../store/api';
import { noticed } from '../store/notice-slice';
import { useAppDispatch } from '../store/store';
import { StemUploads } from './stem-uploads';

/** What is on its way to each production: it goes on while another screen is open. */
const byProduction = new Map<string, StemUploads>();

/** The files on their way to the stems of a production, and how many are through; sends and cancels them. */
export function useUploads(production: string) {
  const dispatch = useAppDispatch();
  const own =
    byProduction.get(production) ??
    new StemUploads(
      production,
      () => dispatch(api.util.invalidateTags(['stems'])),
      (words) => dispatch(noticed(words)),
    );
  byProduction.set(production, own);
  const now = useSyncExternalStore(own.subscribe, own.read);
  return { own, ...now };
}
