import { skipToken } from '@reduxjs/toolkit/query';
import { useEffect, useRef, useState } from 'react';

import { RENDER_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import { displayName } from '@old-echo/core/desk/state';

import { toApiFault } from '../../store/api';
import { addressOf } from '../../store/ask';
import { useStemsQuery } from '../../store/sound-api';
import type { Audition, ListenTarget } from './use-audition';
import { useFinishedRender } from './use-finished-render';

interface StemBounce {
  /** How far it is; null while nothing is worked out. */
  readonly at: { readonly done: number; readonly of: number } | null;
  readonly fault: string | null;
  readonly start: () => void;
  readonly cancel: () => void;
}

/** Works out every strip by itself, through all that it passes, and takes the files in one archive. */
export function useStemBounce({ productionId, heard }: Audition, side: ListenTarget, name: string): StemBounce {
  const { data: stems = [] } = useStemsQuery(productionId || skipToken);
  const render = useFinishedRender();
  const [at, setAt] = useState<StemBounce['at']>(null);
  const [fault, setFault] = useState<string | null>(null);
  const cancelled = useRef(false);
  useEffect(() => () => void (cancelled.current = true), []);
  const { profile, state, sceneId, deskId, recall } = side;

  const bounce = async (solo: string): Promise<string | undefined> => {
    const view = await render({ productionId, sceneId, deskId, recall, ...heard, solo }, () => !cancelled.current);
    if (view.status === 'failed') throw new Error(view.why);
    return view.status === 'done' ? view.id : undefined;
  };
  const start = async () => {
    cancelled.current = false;
    setFault(null);
    const strips = profile.strips.filter((strip) => stems.some((stem) => stem.strip === strip));
    const file: string[] = [];
    try {
      for (const [done, strip] of strips.entries()) {
        setAt({ done, of: strips.length });
        const id = await bounce(strip);
        if (!id) return;
        file.push(`${id} ${String(done + 1).padStart(2, '0')} ${displayName(profile, state, strip)}`);
      }
      const query = { depth: '24' as const, name: `${name}, strips`, file };
      window.location.assign(addressOf(RENDER_ROUTES.rendersArchive, { query }));
    } catch (error) {
      setFault(error instanceof Error ? error.message : toApiFault(error).message);
    } finally {
      setAt(null);
    }
  };
  return { at, fault, start: () => void start(), cancel: () => (cancelled.current = true) };
}
