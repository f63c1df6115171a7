import { useCallback, useRef } from 'react';

import type { Value } from '@old-echo/core/desk/setting';

import { faultLine } from '../store/api';
import { useMoveSettingsMutation } from '../store/desk-api';
import { told } from '../store/live-slice';
import { noticed } from '../store/notice-slice';
import { useAppDispatch } from '../store/store';

/** Time between two values sent while a dot is dragged, in ms. */
const SEND_INTERVAL_MS = 50;

/**
 * Moves controls of the desk: at once on the screen, every few frames on the desk while a drag goes on, and for certain
 * at its end. When the desk does not take it, the screen goes back to what the desk holds and says why.
 */
export function useMoveSetting(deskId: string): (address: string, value: Value, done: boolean, from: Value) => void {
  const dispatch = useAppDispatch();
  const [send] = useMoveSettingsMutation();
  const sent = useRef(0);
  const before = useRef<{ address: string; value: Value } | null>(null);
  return useCallback(
    (address, value, done, from) => {
      if (before.current?.address !== address) before.current = { address, value: from };
      const { value: start } = before.current;
      dispatch(told({ type: 'settings-changed', settings: { [address]: value } }));
      if (!done && Date.now() - sent.current < SEND_INTERVAL_MS) return;
      sent.current = Date.now();
      const request = send({ desk: deskId, settings: { [address]: value } });
      if (!done) return;
      before.current = null;
      void request.then((answer) => {
        const failed = answer.data?.unconfirmed[0];
        if (!answer.error && !failed) return;
        dispatch(told({ type: 'settings-changed', settings: { [address]: failed?.found ?? start } }));
        dispatch(noticed(answer.error ? faultLine(answer.error) : (failed?.why ?? '')));
      });
    },
    [deskId, dispatch, send],
  );
}
