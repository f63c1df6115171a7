import { useEffect, useState } from 'react';

import { readWav } from '@old-echo/core/formats/wav';
import type { Sound } from '@old-echo/core/sound/sound';

import { TwoPlayers } from './two-players';

/** Both sounds loaded and ready to play; 'failed' where they could not be loaded. */
export function usePlayers(a: string, b: string): TwoPlayers | 'failed' | undefined {
  const [players, setPlayers] = useState<TwoPlayers | 'failed'>();
  useEffect(() => {
    let made: TwoPlayers | undefined;
    let here = true;
    const load = async (id: string) => {
      const answer = await fetch(`/api/renders/${id}/sound.wav`);
      if (!answer.ok) throw new Error(`${answer.status}`);
      return bufferOf(readWav(new Uint8Array(await answer.arrayBuffer())));
    };
    Promise.all([load(a), a === b ? undefined : load(b)]).then(
      ([one, other]) => {
        if (!here) return;
        made = new TwoPlayers({ A: one, B: other ?? one });
        setPlayers(made);
      },
      () => {
        if (here) setPlayers('failed');
      },
    );
    return () => {
      here = false;
      made?.close();
      setPlayers(undefined);
    };
  }, [a, b]);
  return players;
}

function bufferOf({ rate, channels }: Sound): AudioBuffer {
  const buffer = new AudioBuffer({
    sampleRate: rate,
    numberOfChannels: channels.length,
    length: channels[0]?.length ?? 0,
  });
  channels.forEach((channel, c) => buffer.copyToChannel(channel as Float32Array<ArrayBuffer>, c));
  return buffer;
}
