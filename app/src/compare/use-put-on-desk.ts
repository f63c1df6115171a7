import { useState } from 'react';

import { type RestoreView, sceneRecall } from '@old-echo/core/contracts/restore';

import { LIVE_DESK, type StateRef } from '../components/links/compare-link';
import { restoresAtOnce, useTouchRecall } from '../components/restore-at-once';
import type { CompareSide } from '../components/use-compare-side';
import { useDesksQuery } from '../store/desk-api';
import { useProductionsQuery } from '../store/scenes-api';
import { useAppSelector } from '../store/store';

export interface PutOnDesk {
  readonly deskName: string;
  /** Whether it goes there at a touch; else its preview opens. */
  readonly isAtOnce: boolean;
  /** Why nothing can be put there now, as a sentence; null where it can. */
  readonly why: string | null;
  /** The scene that stands there whole. */
  readonly standing: StateRef | undefined;
  /** What became of what was put there last; empty before. */
  readonly told: string;
  /** Puts a mix there, with the recall scope it was saved with. */
  readonly put: (side: CompareSide, onBegun?: (restore: RestoreView) => void) => void;
  /** Puts one strip of a mix there, and nothing else. */
  readonly putStrip: (side: CompareSide, strip: string, name: string) => void;
}

/** How often it is asked what stands on the desk, in ms: it need not be the one that this tab follows. */
const POLL_MS = 2000;

/** The desk that compared mixes can be put on: the one of the song or show they are of. Undefined until it is known. */
export function usePutOnDesk(a: CompareSide | undefined, b: CompareSide | undefined): PutOnDesk | undefined {
  const { data: desks } = useDesksQuery(undefined, { pollingInterval: POLL_MS });
  const followed = useAppSelector((root) => root.live.desk);
  const [told, setTold] = useState('');
  const { data: productions } = useProductionsQuery();
  const deskOf = (side: CompareSide | undefined) =>
    side?.deskId ?? productions?.find(({ id }) => id === side?.productionId)?.deskId;
  const [ofA, ofB] = [deskOf(a), deskOf(b)];
  const desk = followed && followed.id === ofA ? followed : desks?.find(({ id }) => id === ofA);
  const touch = useTouchRecall(desk);
  if (!desk || !ofB) return undefined;
  const why =
    ofA !== ofB
      ? 'These mixes are of two desks. Open a scene to restore it.'
      : desk.showLock
        ? `The show on ${desk.name} is locked.`
        : desk.link.state === 'linked'
          ? null
          : `${desk.name} is not connected.`;
  return {
    deskName: desk.name,
    isAtOnce: restoresAtOnce(desk),
    why,
    told,
    standing:
      desk.baseline?.line === [a, b].find((side) => side?.of === desk.scene?.id)?.title ? desk.scene?.id : undefined,
    put: (side, onBegun) => {
      if (side.of !== LIVE_DESK) touch(sceneRecall(desk.id, side.of, side.scope), { onBegun, tell: setTold });
    },
    putStrip: (side, strip, name) => {
      if (side.of === LIVE_DESK) return;
      touch(sceneRecall(desk.id, side.of, [{ strips: [strip], sections: ['*'], include: true }]), {
        tell: setTold,
        said: (title) => `${name} is as in ${title}`,
      });
    },
  };
}
