import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect } from 'react';

import type { RippleRequest, RippleView } from '@old-echo/core/contracts/ripple';
import { RIPPLE_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { plural } from '@old-echo/core/phrases/format-value';

import { api, SCENE_TAGS } from '../store/api';
import { ask } from '../store/ask';
import { noticed } from '../store/notice-slice';
import { useCancelRippleMutation, useRippleQuery, useStartRippleMutation } from '../store/recall-api';
import { useAppDispatch } from '../store/store';

/** How often it is asked how far it is, in ms. */
const POLL_MS = 300;

/**
 * A change of many scenes while it is written, from the button to its end. Which one it is stands in the address, so that a page
 * that is opened afresh follows it on.
 * @param back where one goes once it is done
 */
export function useRippleJob(back: () => void) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { job } = useLocalSearchParams<{ job?: string }>();
  const [start, starting] = useStartRippleMutation();
  const [cancel] = useCancelRippleMutation();
  const known = useRippleQuery(job ?? skipToken);
  const view: RippleView | undefined = job === undefined ? undefined : known.data;
  const running = view?.status === 'running';
  useRippleQuery(job ?? skipToken, { pollingInterval: running ? POLL_MS : 0 });
  const status = view?.status;
  useEffect(() => {
    if (status !== 'done' || !view) return;
    dispatch(api.util.invalidateTags([...SCENE_TAGS, 'desks']));
    dispatch(
      noticed(
        `Applied to ${plural(view.scenes.length, 'scene')}. The earlier ones are in the bin.`,
        ask(RIPPLE_ROUTES.undoRipple, { params: { id: view.id } }),
      ),
    );
    router.setParams({ job: undefined });
    back();
    // Once, at its end: whatever else is new then says nothing of it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [status]);
  return {
    running: running ? view : undefined,
    busy: starting.isLoading || (job !== undefined && known.isLoading),
    refused: starting.error,
    /** Why it ended without anything written, in a sentence. */
    ended: status === 'failed' ? view?.why : status === 'cancelled' ? 'Cancelled. No scene was changed.' : undefined,
    start: async (desk: string, request: RippleRequest) => {
      const { data } = await start({ desk, request });
      if (data) router.setParams({ job: data.id });
    },
    cancel: () => void (view && cancel(view.id)),
  };
}
