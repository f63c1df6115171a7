import { nanoid } from '@reduxjs/toolkit';
import { useCallback, useRef } from 'react';

import { movedWithHalves } from '@old-echo/core/desk/linked-pair';
import type { Value } from '@old-echo/core/desk/setting';
import { type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { describeCaution, readingOf } from '@old-echo/core/phrases/describe-caution';
import { gateMoves, MoveGestures } from '@old-echo/core/recall/gate-moves';

import { faultLine } from '../store/api';
import { deskApi, useMoveSettingsMutation } from '../store/desk-api';
import { held, type HeldMove } from '../store/held-move-slice';
import { told } from '../store/live-slice';
import { noticed } from '../store/notice-slice';
import { type RootState, useAppDispatch, useAppStore } from '../store/store';

/** Time between two values sent while a dot is dragged, in ms. */
const SEND_INTERVAL_MS = 50;

/** One control under a hand, from press to release. */
interface Drag {
  readonly address: string;
  readonly gesture: string;
  readonly from: Value;
  /** As far as it was sent. */
  reached: Value;
}

/**
 * Moves controls of the desk: at once on the screen, every few frames on the desk while a drag goes on, and for certain
 * at its end. When the desk does not take it, the screen goes back to what the desk holds and says why. What can hurt, in live
 * mode, is not sent: at the end of the drag a hold is asked for.
 */
export function useMoveSetting(deskId: string): (address: string, value: Value, done: boolean, from: Value) => void {
  const dispatch = useAppDispatch();
  const appStore = useAppStore();
  const [send] = useMoveSettingsMutation();
  const sent = useRef(0);
  const gestures = useRef(new MoveGestures());
  const before = useRef<Drag | null>(null);
  return useCallback(
    (address, value, done, from) => {
      if (before.current?.address !== address) before.current = { address, gesture: nanoid(), from, reached: from };
      const drag = before.current;
      const cautions = whatIsHeld(appStore.getState(), gestures.current, { [address]: value }, drag);
      dispatch(told({ type: 'settings-changed', settings: { [address]: value } }));
      if (done) before.current = null;
      if (cautions.length > 0) {
        const back = { [address]: drag.reached };
        if (done) dispatch(held({ desk: deskId, settings: { [address]: value }, back, cautions }));
        return;
      }
      if (!done && performance.now() - sent.current < SEND_INTERVAL_MS) return;
      sent.current = performance.now();
      drag.reached = value;
      const request = send({ desk: deskId, settings: { [address]: value }, gesture: drag.gesture });
      if (!done) return;
      void request.then((answer) => {
        const failed = answer.data?.unconfirmed[0];
        if (!answer.error && !failed) return;
        dispatch(told({ type: 'settings-changed', settings: { [address]: failed?.found ?? drag.from } }));
        dispatch(noticed(answer.error ? faultLine(answer.error) : (failed?.why ?? '')));
      });
    },
    [deskId, dispatch, send, appStore],
  );
}

/** What a move has to be held for before it is sent, as the server counts it. */
function whatIsHeld(
  root: RootState,
  gestures: MoveGestures,
  moving: SettingsByAddress,
  { address, gesture, reached }: Drag,
): HeldMove['cautions'] {
  const { desk, state } = root.live;
  const profile = desk && deskApi.endpoints.profile.select(desk.profileId)(root).data;
  if (!desk || !state || !profile || desk.mode !== 'live') return [];
  // The screen may be ahead of what was sent.
  const now = withSettings(state, { [address]: reached });
  const moved = movedWithHalves(profile, now, moving);
  const before = gestures.before(now, moved, performance.now(), gesture);
  const { safes, mode, thresholds } = desk;
  const { stops, changes } = gateMoves({ profile, now, before, moved, safes, mode, thresholds }, []);
  const reading = readingOf(profile, withSettings(now, before), changes);
  return stops.map((caution) => ({ id: caution.id, ...describeCaution(caution, reading) }));
}
