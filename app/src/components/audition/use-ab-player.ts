import { useEffect, useState } from 'react';

import { MIX_RATE } from '@old-echo/core/contracts/sound';

import { noticed } from '../../store/notice-slice';
import { useAppDispatch } from '../../store/store';
import { AbPlayer } from './ab-player';

const NO_LOUDSPEAKER = 'This browser has no loudspeaker to play on. Connect one, and press Play again.';

/**
 * Both sounds loaded and ready to play; 'failed' where they could not be loaded.
 * @param a its address, as that of b; the same where there is one sound only
 */
export function usePlayers(a: string, b: string): AbPlayer | 'failed' | undefined {
  const [players, setPlayers] = useState<AbPlayer | 'failed'>();
  const dispatch = useAppDispatch();
  useEffect(() => {
    let here = true;
    const onSilent = () => dispatch(noticed(NO_LOUDSPEAKER));
    const loads = (a === b ? [a] : [a, b]).map(load);
    // The way to the loudspeaker is opened while the files are on their way.
    const context = new AudioContext({ sampleRate: MIX_RATE });
    // The browser reads files beside everything else it does; at their own rate it leaves every sample as it is.
    Promise.all(loads.map(async (bytes) => context.decodeAudioData(await bytes))).then(
      ([one, other]) => {
        if (here && one) setPlayers(new AbPlayer(context, { A: one, B: other ?? one }, onSilent));
      },
      () => {
        if (here) setPlayers('failed');
      },
    );
    return () => {
      here = false;
      void context.close();
      setPlayers(undefined);
    };
  }, [a, b, dispatch]);
  return players;
}

async function load(address: string): Promise<ArrayBuffer> {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error(`${answer.status}`);
  return answer.arrayBuffer();
}
