import { useEffect, useState } from 'react';

import { TwoPlayers } from './two-players';

/** Both sounds loaded and ready to play, once both mixes are done. */
export function usePlayers(a: string | undefined, b: string | undefined): TwoPlayers | undefined {
  const [players, setPlayers] = useState<TwoPlayers>();
  useEffect(() => {
    if (!a || !b) return undefined;
    let made: TwoPlayers | undefined;
    let here = true;
    const load = async (id: string) => {
      const answer = await fetch(`/api/renders/${id}/sound.wav`);
      return TwoPlayers.decode(await answer.arrayBuffer());
    };
    void Promise.all([load(a), a === b ? undefined : load(b)]).then(([one, other]) => {
      if (!here) return;
      made = new TwoPlayers({ A: one, B: other ?? one });
      setPlayers(made);
    });
    return () => {
      here = false;
      made?.close();
      setPlayers(undefined);
    };
  }, [a, b]);
  return players;
}
