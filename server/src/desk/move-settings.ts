import type { Unconfirmed } from '@old-echo/core/contracts/restore';
import { movedWithHalves } from '@old-echo/core/desk/linked-pair';
import type { SettingsByAddress } from '@old-echo/core/desk/state';

import type { DeskMirror } from './desk-mirror';
import { writeAndVerify } from './write-and-verify';

/** The newest move of each setting, by desk: an older one that is still being confirmed gives way to it. */
const latestMove = new WeakMap<DeskMirror, Map<string, symbol>>();

/**
 * Moves controls for a person at the app, and confirms them. Dragging sends many moves; only the newest is retried. The other
 * half of a linked pair moves along.
 */
export async function moveSettings(session: DeskMirror, moved: SettingsByAddress): Promise<Unconfirmed[]> {
  const settings = movedWithHalves(session.profile, session.state, moved);
  const move = Symbol('move');
  const moves = latestMove.get(session) ?? new Map<string, symbol>();
  latestMove.set(session, moves);
  for (const address of Object.keys(settings)) moves.set(address, move);
  session.movedByPerson(settings);
  return writeAndVerify(session, settings, { isExcluded: (address) => moves.get(address) !== move });
}
