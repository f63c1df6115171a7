import { nanoid } from '@reduxjs/toolkit';
import { useCallback, useRef } from 'react';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { readAddress } from '@old-echo/core/desk/address';
import { movedTogether } from '@old-echo/core/desk/batch-edit';
import { movedWithHalves } from '@old-echo/core/desk/linked-pair';
import type { Value } from '@old-echo/core/desk/setting';
import { type SettingsByAddress, type State, valueAt, withSettings } from '@old-echo/core/desk/state';
import { describeCaution, readingOf } from '@old-echo/core/phrases/describe-caution';
import { gateMoves, MoveGestures } from '@old-echo/core/recall/gate-moves';

import { faultLine } from '../store/api';
import { ask } from '../store/ask';
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
  /** The desk as it was when the hand began. */
  readonly before: State;
  /** As far as it was sent, with all that moved along. */
  reached: SettingsByAddress;
}

/**
 * Moves controls of the desk: at once on the screen, every few frames on the desk while a drag goes on, and for certain
 * at its end. A control of a selected strip takes those of the others along. When the desk does not take it, the screen goes back to
 * what the desk holds and says why. What can hurt, in live mode, is not sent: at the end of the drag a hold is asked for.
 * @param how `alone` where a person says how one strip stands: then no other goes along
 */
export function useMoveSetting(
  deskId: string,
  how: 'together' | 'alone' = 'together',
): (address: string, value: Value, done: boolean, from: Value) => void {
  const dispatch = useAppDispatch();
  const appStore = useAppStore();
  const [send] = useMoveSettingsMutation();
  const sent = useRef(0);
  const gestures = useRef(new MoveGestures());
  const before = useRef<Drag | null>(null);
  return useCallback(
    (address, value, done, from) => {
      if (before.current?.address !== address) {
        const desk = withSettings(appStore.getState().live.state ?? {}, { [address]: from });
        before.current = { address, gesture: nanoid(), before: desk, reached: {} };
      }
      const drag = before.current;
      const settings = how === 'alone' ? { [address]: value } : movedAlong(appStore.getState(), drag, value);
      const start = Object.fromEntries(Object.keys(settings).map((one) => [one, valueAt(drag.before, one) ?? from]));
      const back = { ...start, ...drag.reached };
      const cautions = whatIsHeld(appStore.getState(), gestures.current, settings, drag.gesture, back);
      dispatch(told({ type: 'settings-changed', settings }));
      if (done) before.current = null;
      if (cautions.length > 0) {
        if (done) dispatch(held({ desk: deskId, settings, back, cautions }));
        return;
      }
      if (!done && performance.now() - sent.current < SEND_INTERVAL_MS) return;
      sent.current = performance.now();
      drag.reached = settings;
      const request = send({ desk: deskId, settings, gesture: drag.gesture });
      if (!done) return;
      void request.then(({ data, error }) => {
        const failed = data?.unconfirmed ?? [];
        if (error) dispatch(told({ type: 'settings-changed', settings: start }));
        for (const { address: one, found } of failed)
          dispatch(told({ type: 'settings-changed', settings: { [one]: found ?? start[one] ?? from } }));
        const count = Object.keys(settings).length;
        const undo = ask(DESK_ROUTES.moveSettings, { params: { id: deskId }, body: { settings: start } });
        if (error) dispatch(noticed(faultLine(error)));
        else if (failed[0]) dispatch(noticed(failed[0].why));
        else if (count > 1) dispatch(noticed(`${count} strips moved together.`, undo));
      });
    },
    [deskId, how, dispatch, send, appStore],
  );
}

const profileIn = (root: RootState) =>
  root.live.desk ? deskApi.endpoints.profile.select(root.live.desk.profileId)(root).data : undefined;

/** Where a control goes, and with it those of the other selected strips where its own is one of them. */
function movedAlong(root: RootState, { address, before }: Drag, to: Value): SettingsByAddress {
  const { strips, following } = root.selection;
  const profile = profileIn(root);
  return profile && strips.length > 1 && strips.includes(readAddress(address)?.strip ?? '')
    ? movedTogether(profile, before, strips, { address, to }, following)
    : { [address]: to };
}

/** What a move has to be held for before it is sent, as the server counts it. @param reached as far as it was sent, or where it began */
function whatIsHeld(
  root: RootState,
  gestures: MoveGestures,
  moving: SettingsByAddress,
  gesture: string,
  reached: SettingsByAddress,
): HeldMove['cautions'] {
  const { desk, state } = root.live;
  const profile = profileIn(root);
  if (!desk || !state || !profile || desk.mode !== 'live') return [];
  // The screen may be ahead of what was sent.
  const now = withSettings(state, reached);
  const moved = movedWithHalves(profile, now, moving);
  const before = gestures.before(now, moved, performance.now(), gesture);
  const { safes, mode, thresholds } = desk;
  const { stops, changes } = gateMoves({ profile, now, before, moved, safes, mode, thresholds }, []);
  const reading = readingOf(profile, withSettings(now, before), changes);
  return stops.map((caution) => ({ id: caution.id, ...describeCaution(caution, reading) }));
}
