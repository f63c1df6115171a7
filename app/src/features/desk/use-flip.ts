import { useRouter } from 'expo-router';
import { useEffect, useRef, useState } from 'react';

import { recallOf } from '@old-echo/core/contracts/restore';
import type { DeskView } from '@old-echo/core/contracts/desk';
import { plural } from '@old-echo/core/desk/wording';

import { faultOf, useFlipMutation } from '../../store/api';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { previewHref } from '../restore/recall-link';
import { noticed } from '../shell/notice-slice';

/**
 * Flips the desk to the other scene and back: at once in the studio, over its preview at a show or where something has to
 * be answered. Undefined while there is nothing to flip to.
 */
export function useFlip({ id, flip, mode }: DeskView): (() => void) | undefined {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const by = useAppSelector((root) => root.place.who);
  const last = useAppSelector((root) => root.live.restore);
  const [ask] = useFlipMutation();
  const [waiting, setWaiting] = useState<string | null>(null);
  const told = useRef<string | null>(null);
  const ended = waiting !== null && last?.id === waiting && last.status !== 'running' ? last : undefined;
  useEffect(() => {
    if (!ended || told.current === ended.id) return;
    told.current = ended.id;
    if (ended.status !== 'confirmed') return router.navigate(`/restores/${ended.id}`);
    const took = ended.report ? ` in ${ended.report.milliseconds} ms` : '';
    dispatch(
      noticed(
        `Flipped to ${ended.sceneNumber} ${ended.sceneName}. ${plural(ended.changes, 'setting')} confirmed${took}.`,
      ),
    );
  }, [ended, router, dispatch]);
  if (!flip) return undefined;
  const toPreview = () => router.navigate(previewHref(recallOf(flip.id, flip.scope)));
  return () => {
    if (mode === 'live') return toPreview();
    void ask({ desk: id, by }).then(({ data, error }) => {
      if (data) return setWaiting(data.id);
      const fault = faultOf(error);
      if (fault.code === 'unanswered') return toPreview();
      dispatch(noticed(`${fault.message} ${fault.advice}`));
    });
  };
}
