import { useEffect, useState } from 'react';

import { MIX_RATE } from '@old-echo/core/contracts/sound';

import { noticed } from '../../store/notice-slice';
import { useAppDispatch } from '../../store/store';
import { AbPlayer } from './ab-player';
import type { ListeningSpot } from './listening-spot';
import type { PlayedMix } from './mix-pieces';

const NO_LOUDSPEAKER = 'This browser has no loudspeaker to play on. Connect one, and press Play again.';

/**
 * What plays two mixes as they come; 'failed' where they cannot be had.
 * @param a the same object for as long as it is the same mix, as b is; the same as b where there is one only
 * @param spot where it begins, and whether it plays at once; where it ends is put there
 */
export function usePlayers(a: PlayedMix, b: PlayedMix, spot?: ListeningSpot): AbPlayer | 'failed' | undefined {
  const [players, setPlayers] = useState<AbPlayer | 'failed'>();
  const dispatch = useAppDispatch();
  useEffect(() => {
    // At their own rate the browser leaves every sample as it is.
    const context = new AudioContext({ sampleRate: MIX_RATE });
    const player = new AbPlayer(context, { A: a, B: b }, spot?.get().place ?? 0, {
      ready: () => {
        setPlayers(player);
        if (spot?.get().playing) void player.play();
      },
      silent: () => void dispatch(noticed(NO_LOUDSPEAKER)),
      failed: () => {
        player.pause();
        setPlayers('failed');
      },
    });
    return () => {
      // Of one that was not ready yet what was kept still holds.
      if (player.isReady) spot?.set({ place: player.place, playing: player.playing });
      player.close();
      void context.close();
      setPlayers(undefined);
    };
  }, [a, b, spot, dispatch]);
  return players;
}
