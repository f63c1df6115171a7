import type { Database } from './connect';

const MAX_ATTEMPTS = 5;

/**
 * Runs work in one transaction, and again from its beginning where the database had to break it off because it and
 * another waited for one another. `work` must do nothing but what the transaction can take back.
 */
export async function inTransaction<T>(db: Database, work: (tx: Database) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await db.transaction(work);
    } catch (error) {
      if (tries === MAX_ATTEMPTS || !isRetryable(error)) throw error;
    }
}

const isRetryable = (error: unknown): boolean =>
  error instanceof Error &&
  'code' in error &&
  (error.code === 'ER_LOCK_DEADLOCK' || error.code === 'ER_LOCK_WAIT_TIMEOUT' || error.code === 'ER_CHECKREAD');
