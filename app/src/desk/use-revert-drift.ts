import { putBackRecall } from '@old-echo/core/contracts/restore';
import type { SettingChange } from '@old-echo/core/desk/diff-states';
import { scopeOfChanges } from '@old-echo/core/recall/recall-target';

import { useTouchRecall } from '../components/restore-at-once';
import type { LiveDesk } from '../store/use-live-desk';

/** Puts drift back: all of it, all of a strip's, or one section of it; at once in the studio, over its preview at a show. */
export function useRevertDrift({ desk, linked }: LiveDesk): ((drift: readonly SettingChange[]) => void) | undefined {
  const touch = useTouchRecall(desk);
  const { baseline } = desk;
  if (!baseline || !linked) return undefined;
  return (drift) =>
    touch(putBackRecall(desk.id, scopeOfChanges(drift)), { said: () => `Put back to ${baseline.line}` });
}
