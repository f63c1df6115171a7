import type { Database } from '../database/connect';
import { endLease, LEASE, renewLease, takeLease } from '../desks/store';

/**
 * Holds a desk for one restore until the returned function is called.
 * @throws Fault `desk-busy` while another restore holds it
 */
export async function holdDesk(db: Database, deskId: string, restoreId: string): Promise<() => Promise<void>> {
  await takeLease(db, deskId, restoreId);
  // A renewal that fails is tried again; should all of them fail, the lease runs out and says so by itself.
  const renewal = setInterval(() => void renewLease(db, deskId, restoreId).catch(() => undefined), LEASE / 4);
  return async () => {
    clearInterval(renewal);
    await endLease(db, deskId, restoreId);
  };
}
