import type { Unconfirmed } from '@old-echo/core/contracts/restore';
import { readAddress } from '@old-echo/core/desk/address';
import { movedWithHalves } from '@old-echo/core/desk/linked-pair';
import { displayName, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { describeCaution, readingOf } from '@old-echo/core/phrases/describe-caution';
import { fullSettingName } from '@old-echo/core/phrases/format-value';
import { gateMoves, MoveGestures } from '@old-echo/core/recall/gate-moves';

import type { DeskMirror } from './desk-mirror';
import { safesOf, thresholdsOf } from './desk-store';
import type { GateRow } from './gate-row';
import { assertNotShowLocked } from './show-lock';
import { writeAndVerify } from './write-and-verify';

/** What the hand that moves says: the cautions it held for, and what it calls its gesture. */
interface Hand {
  readonly confirmed: readonly string[];
  readonly gesture?: string | undefined;
}
const NO_HAND: Hand = { confirmed: [] };

/** The newest move of each setting, by desk: an older one that is still being confirmed gives way to it. */
const latestMove = new WeakMap<DeskMirror, Map<string, symbol>>();

/**
 * Moves controls for a person at the app, and confirms them. Dragging sends many moves; only the newest is retried. The other
 * half of a linked pair moves along.
 * @throws Fault `show-lock`, `refused-input` for what is safe, `unanswered` for what can hurt and was not confirmed, in live mode
 */
export async function moveSettings(
  session: DeskMirror,
  desk: GateRow,
  moved: SettingsByAddress,
  hand: Hand = NO_HAND,
): Promise<Unconfirmed[]> {
  const settings = movedWithHalves(session.profile, session.state, moved);
  assertMayMove(session, desk, settings, hand);
  const move = Symbol('move');
  const moves = latestMove.get(session) ?? new Map<string, symbol>();
  latestMove.set(session, moves);
  for (const address of Object.keys(settings)) moves.set(address, move);
  session.movedByPerson(settings);
  return writeAndVerify(session, settings, { isExcluded: (address) => moves.get(address) !== move });
}

const gestures = new WeakMap<DeskMirror, MoveGestures>();

/** The gate that moves by hand pass, as restores pass theirs. */
function assertMayMove(
  session: DeskMirror,
  desk: GateRow,
  settings: SettingsByAddress,
  { confirmed, gesture }: Hand,
): void {
  assertNotShowLocked(desk);
  const { profile, state: now } = session;
  const own = gestures.get(session) ?? new MoveGestures();
  gestures.set(session, own);
  const before = own.before(now, settings, performance.now(), gesture);
  const what = { profile, now, before, moved: settings, safes: safesOf(desk), mode: desk.mode };
  const { safe, stops, changes } = gateMoves({ ...what, thresholds: thresholdsOf(desk) }, confirmed);
  const [held] = safe;
  if (held !== undefined)
    throw new Fault(
      'refused-input',
      `${displayName(profile, now, readAddress(held)?.strip ?? '')} ${fullSettingName(profile, held, now)} is safe.`,
      'Nothing was moved. Take the safe off first.',
      'settings',
    );
  const [stop] = stops;
  if (stop)
    throw new Fault(
      'unanswered',
      `${describeCaution(stop, readingOf(profile, withSettings(now, before), changes)).title}.`,
      'It was not moved that far. Hold to confirm it.',
    );
  if (confirmed.length > 0) own.end(Object.keys(settings));
}
