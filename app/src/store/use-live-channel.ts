import { useEffect, useEffectEvent, useRef } from 'react';
import ReconnectingWebSocket from 'reconnecting-websocket';

import type { LiveMessage, PageSays } from '@old-echo/core/contracts/live';

import { api, TAGS } from './api';
import { gatherMoves } from './gather-moves';
import { readLastSeen } from './last-seen';
import { followed, lost, seenBefore, told } from './live-slice';
import { useAppDispatch } from './store';

/**
 * Follows one desk over the live channel for as long as it is named; finds the server again by itself.
 * @param at the path of the page, for those who are here too
 */
export function useLiveChannel(deskId: string | null, at: string): void {
  const dispatch = useAppDispatch();
  const open = useRef<ReconnectingWebSocket | null>(null);
  const sayWhere = useEffectEvent(() => {
    const page: PageSays = { at };
    if (open.current?.readyState === ReconnectingWebSocket.OPEN) open.current.send(JSON.stringify(page));
  });
  useEffect(() => {
    if (!deskId) return;
    dispatch(followed(deskId));
    const scheme = window.location.protocol === 'https:' ? 'wss' : 'ws';
    const socket = new ReconnectingWebSocket(`${scheme}://${window.location.host}/api/live?desk=${deskId}`, [], {
      minReconnectionDelay: 300,
      maxReconnectionDelay: 3000,
    });
    open.current = socket;
    let opened = 0;
    socket.onopen = () => {
      sayWhere();
      // After a break anything may have changed meanwhile.
      if (opened++ > 0) dispatch(api.util.invalidateTags([...TAGS]));
    };
    const gathered = gatherMoves((message) => {
      dispatch(told(message));
      if (message.type === 'scenes-changed') dispatch(api.util.invalidateTags(['scenes', 'productions']));
      if (message.type === 'productions-changed') dispatch(api.util.invalidateTags(['productions']));
      // States hold what their models take, and everything else speaks of them.
      if (message.type === 'models-changed') dispatch(api.util.invalidateTags([...TAGS]));
      if (message.type === 'restore' && message.restore.status !== 'running')
        dispatch(api.util.invalidateTags(['restores']));
    });
    socket.onmessage = ({ data }: MessageEvent<string>) => gathered.hear(JSON.parse(data) as LiveMessage);
    let wasAsked = false;
    socket.onclose = () => {
      gathered.flush();
      dispatch(lost());
      // A device that was shut out is told so by asking.
      dispatch(api.util.invalidateTags(['here']));
      if (!wasAsked) void readLastSeen(deskId).then((seen) => seen && dispatch(seenBefore(seen)));
      wasAsked = true;
    };
    return () => {
      // What it still has to say is of another desk than the one that is followed from here on.
      open.current = null;
      socket.onopen = socket.onmessage = socket.onclose = null;
      gathered.drop();
      socket.close();
    };
  }, [deskId, dispatch]);
  useEffect(() => sayWhere(), [at]);
}
