import { Fault } from '@old-echo/core/fault/fault';
import { sceneRecall, type RestoreView } from '@old-echo/core/contracts/restore';

import { deskRow, flipOf } from '../desk/desk-store';
import { startRestore } from './restore-runner';
import type { RunnerTools } from './restore-tools';

/**
 * Swaps the desk to the other side of its flip at once, through the same steps as any restore. Where there is something to
 * be answered, or at a show, it has to be looked at first.
 * @throws Fault `unanswered`, `not-found` where there is nothing to flip to, and all that a restore can
 */
export async function flip(tools: RunnerTools, by: string): Promise<RestoreView> {
  const desk = await deskRow(tools.db, tools.session.deskId);
  const other = await flipOf(tools.db, desk);
  if (!other)
    throw new Fault(
      'not-found',
      'There is nothing to flip to yet.',
      'Restore a scene, or choose one to flip to on its page.',
    );
  if (desk.mode === 'live')
    throw new Fault(
      'unanswered',
      'At a show a flip is looked at first.',
      'Its preview is ready; hold its button to flip.',
    );
  const recall = sceneRecall(desk.id, other.id, other.scope);
  return startRestore(tools, { recall, fingerprint: null, fade: 0, curve: 'even', answers: [], by });
}
