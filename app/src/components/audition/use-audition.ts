import { skipToken } from '@reduxjs/toolkit/query';
import { useState } from 'react';

import type { RenderRequest, RenderView } from '@old-echo/core/contracts/sound';
import type { Profile } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';

import { useStemsQuery } from '../../store/sound-api';
import type { AbSide } from './ab-player';
import { type ListeningSpot, newListeningSpot } from './listening-spot';
import type { LoopRange } from './loop-range';
import { type Mix, useRender } from './use-render';

/** A state that can be listened to: a scene, one in the making, a desk as it is, or what a recall would make of that desk. */
export interface ListenTarget extends Partial<
  Pick<RenderRequest, 'sceneId' | 'recipe' | 'deskId' | 'recall' | 'settings'>
> {
  readonly profile: Profile;
  /** Its strips have their names. */
  readonly state: State;
}

/** What is listened to of both. */
type ListeningOptions = Pick<RenderRequest, 'output' | 'solo' | 'law'>;

/** Listening to A and B of one production. */
export interface Audition {
  readonly productionId: string;
  /** How many strips have a stem; undefined until it is known. */
  readonly stems: number | undefined;
  /** How many of them are missing on the disk, and not heard. */
  readonly missing: number;
  readonly a: ListenTarget;
  readonly b: ListenTarget;
  readonly mixA: Mix;
  readonly mixB: Mix;
  /** Which of both is heard. */
  readonly hearing: AbSide;
  readonly hear: (letter: AbSide) => void;
  readonly heard: ListeningOptions;
  readonly choose: (change: Partial<ListeningOptions>) => void;
  /** Whether a desk has moved since: what is heard is how it stood then. */
  readonly stale: boolean;
  /** Whether someone asked to listen. */
  readonly listening: boolean;
  /** Has both worked out, or tries again. */
  readonly listen: () => void;
  /** Where in the song somebody is, and the part that is repeated. */
  readonly spot: ListeningSpot;
  readonly range: LoopRange | null;
  readonly repeat: (range: LoopRange | null) => void;
}

interface ListenRequest {
  readonly times: number;
  /** How the desk stood. */
  readonly state?: State;
}

/**
 * What is needed to listen to two states; undefined while one of them is not there.
 * @param alone the strip that is heard alone until someone chooses otherwise
 */
export function useAudition(
  productionId: string | undefined,
  a: ListenTarget | undefined,
  b: ListenTarget | undefined,
  alone: string | null = null,
): Audition | undefined {
  // Tells the server as well that someone may listen soon.
  const { data: stems } = useStemsQuery(productionId ?? skipToken);
  const [asked, setAsked] = useState<ListenRequest>({ times: 0 });
  const [hearing, hear] = useState<AbSide>('A');
  const [chosen, choose] = useState<Partial<ListeningOptions>>({});
  const [spot] = useState(newListeningSpot);
  const [range, repeat] = useState<LoopRange | null>(null);
  const heard: ListeningOptions | undefined = a && {
    output: chosen.output ?? mainOf(a.profile),
    solo: chosen.solo === undefined ? alone : chosen.solo,
    law: chosen.law ?? 'constant power',
  };
  const request = (side: ListenTarget | undefined) => {
    if (!side || !productionId || !heard || asked.times === 0) return undefined;
    const { sceneId, recipe, deskId, recall, settings } = side;
    return { productionId, sceneId, recipe, deskId, recall, settings, ...heard, again: asked.times };
  };
  const [mixA, mixB] = [useRender(request(a)), useRender(request(b))];
  if (!productionId || !a || !b || !heard) return undefined;
  return {
    productionId,
    stems: stems?.length,
    missing: stems?.filter(({ missing }) => missing).length ?? 0,
    a,
    b,
    mixA,
    mixB,
    hearing,
    hear,
    heard,
    choose: (change) => choose({ ...chosen, ...change }),
    stale: [a, b].some((side) => side.deskId && side.state !== asked.state),
    spot,
    range,
    repeat,
    listening: asked.times > 0,
    listen: () => setAsked({ times: asked.times + 1, state: [a, b].find(({ deskId }) => deskId)?.state }),
  };
}

/** The output that is listened to unless another is chosen. */
export const mainOf = (profile: Profile): string => profile.families.find(({ id }) => id === 'main')?.strips[0] ?? '';

/** B's loudness over A's in LU, once all of both is measured. */
export function loudnessDifferenceLu(a: RenderView | undefined, b: RenderView | undefined): number | undefined {
  if (a?.status !== 'done' || b?.status !== 'done') return undefined;
  const [left, right] = [a.measured?.loudness.integrated, b.measured?.loudness.integrated];
  return left == null || right == null ? undefined : right - left;
}
