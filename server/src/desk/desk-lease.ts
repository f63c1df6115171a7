import type { State } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import type { DeskMirror } from './desk-mirror';
import { acquireLease, releaseLease, renewLease } from './desk-store';

export interface DeskLease {
  /** Whether the desk may by now belong to another restore: nothing may be sent any more. */
  readonly lost: () => boolean;
  readonly release: () => Promise<void>;
}

/**
 * Acquires a desk for one restore until it is released, for `lease` ms at a time.
 * @param onRenewal called with every renewal
 * @throws Fault `desk-busy` while another restore holds it
 */
export async function acquireDesk(
  db: Database,
  deskId: string,
  restoreId: string,
  lease: number,
  onRenewal: () => Promise<void>,
): Promise<DeskLease> {
  // Counted from before the query, so never longer than in the database.
  let until = performance.now() + lease;
  await acquireLease(db, deskId, restoreId, lease);
  const renew = async () => {
    const asked = performance.now();
    if ((await renewLease(db, deskId, restoreId, lease)) > 0) until = asked + lease;
    await onRenewal();
  };
  // A renewal that fails is tried again; should all of them fail, the lease runs out by itself.
  const renewal = setInterval(() => void renew().catch(() => undefined), lease / 5);
  return {
    lost: () => performance.now() > until,
    release: async () => {
      clearInterval(renewal);
      await releaseLease(db, deskId, restoreId);
    },
  };
}

/**
 * Reads the whole desk while nobody restores to it, so that what is captured is never half of one scene and half of another.
 * @throws Fault `desk-busy` while a restore is at work, `link-lost`
 */
export async function readWhole(db: Database, session: DeskMirror, lease: number): Promise<State> {
  session.assertLinked();
  const hold = await acquireDesk(db, session.deskId, newId(), lease, () => Promise.resolve());
  try {
    return await session.capture();
  } finally {
    await hold.release();
  }
}
