import { sceneRecall, type SwapView } from '@old-echo/core/contracts/restore';
import { Fault } from '@old-echo/core/fault/fault';

import { deskRow, swapOf } from '../desk/desk-store';
import { assertNotShowLocked } from '../desk/show-lock';
import { startRestore } from './restore-runner';
import type { RunnerTools } from './restore-tools';

/**
 * Swaps the desk to the other side of its swap at once, through the same steps as any restore. Where there is something to
 * be answered, or at a show, it has to be looked at first.
 * @throws Fault `show-lock`, `unanswered`, `not-found` where there is nothing to swap to, and all that a restore can
 */
export async function swap(tools: RunnerTools, by: string): Promise<SwapView> {
  const desk = await deskRow(tools.db, tools.session.deskId);
  assertNotShowLocked(desk);
  const other = await swapOf(tools.db, desk);
  if (!other)
    throw new Fault(
      'not-found',
      'There is nothing to swap with yet.',
      'Restore a scene, or choose one to swap to on its page.',
    );
  const recall = sceneRecall(desk.id, other.id, other.scope);
  const begun = await startRestore(tools, { recall, fingerprint: null, fade: 0, curve: 'even', answers: [], by });
  return { ...begun, to: other };
}
