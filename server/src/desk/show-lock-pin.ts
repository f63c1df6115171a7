import type { DeskEdit } from '@old-echo/core/contracts/desk';
import { Fault } from '@old-echo/core/fault/fault';

import type { DeskRow } from '../database/tables';
import type { AttemptLimit } from '../secrets/attempt-limit';
import { hashSecret, isSecret } from '../secrets/hash-secret';

/**
 * What an edit makes of the PIN of a desk's show lock: put on with one, the lock is lifted by it alone.
 * @returns the hash to keep, null where there is none any more, undefined where nothing changes
 * @throws Fault `wrong-secret`, `try-later`; `conflict` where the lock is on and would get another PIN
 */
export async function pinOf(
  desk: Pick<DeskRow, 'id' | 'name' | 'show_lock' | 'pin_hash'>,
  { showLock, pin }: Pick<DeskEdit, 'showLock' | 'pin'>,
  limit: AttemptLimit,
): Promise<string | null | undefined> {
  if (showLock === undefined) return undefined;
  if (showLock && desk.show_lock === 1) {
    if (pin !== undefined)
      throw new Fault(
        'conflict',
        `The show on ${desk.name} is locked already.`,
        'Nothing was changed. Unlock it first.',
      );
    return undefined;
  }
  if (showLock) return pin === undefined ? null : hashSecret(pin);
  if (desk.pin_hash === null) return null;
  if (pin === undefined)
    throw new Fault(
      'wrong-secret',
      `The show on ${desk.name} is unlocked by its PIN.`,
      'Nothing was changed. Type it.',
      'pin',
    );
  await limit.count(desk.id);
  if (!(await isSecret(desk.pin_hash, pin)))
    throw new Fault('wrong-secret', 'This is not the PIN.', `The show on ${desk.name} stays locked. Try again.`, 'pin');
  await limit.forget(desk.id);
  return null;
}
