import { skipToken } from '@reduxjs/toolkit/query';

import type { Recall } from '@old-echo/core/contracts/restore';
import type { Point } from '@old-echo/core/recall/caution';

import { useAcceptedQuery, useForgetAcceptedMutation } from '../store/recall-api';
import { useLiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';

const NOTHING: readonly Point[] = [];

/** What was accepted when the scene of a recall followed the one that stands there before, and how to have it asked again. */
export function useAccepted(recall: Recall | undefined): {
  readonly points: readonly Point[];
  /** False while the page has just been opened: what is to be answered cannot be said before. */
  readonly isKnown: boolean;
  readonly forget: () => void;
} {
  const done = useRunAndNotify();
  const from = useLiveDesk(recall?.deskId)?.desk.scene?.id;
  const [forget] = useForgetAcceptedMutation();
  const transition = recall?.sceneId && from ? { desk: recall.deskId, from, to: recall.sceneId } : undefined;
  const { data, currentData, isError } = useAcceptedQuery(transition ?? skipToken);
  return {
    points: currentData ?? NOTHING,
    isKnown: !transition || data !== undefined || isError,
    forget: () => void (transition && done(forget(transition), () => 'Everything is asked again.')),
  };
}
