import type { Database } from './connect';
import { retryIfBrokenOff } from './retry';

/**
 * Runs work in one transaction, and again from its beginning where the database had to break it off because it and
 * another waited for one another. `work` must do nothing but what the transaction can take back.
 */
export const inTransaction = <T>(db: Database, work: (tx: Database) => Promise<T>): Promise<T> =>
  retryIfBrokenOff(() => db.transaction(work));
