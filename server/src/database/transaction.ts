import type { Knex } from 'knex';

import type { Database } from './connect';

const MAX_ATTEMPTS = 5;

/**
 * Runs work in one transaction, and again from its beginning where the database had to break it off because it and
 * another waited for one another. `work` must do nothing but what the transaction can take back.
 */
export const inTransaction = <T>(db: Database, work: (tx: Database) => Promise<T>): Promise<T> =>
  retryIfBrokenOff(() => db.transaction(work));

/**
 * Makes every statement outside a transaction one that {@link retryIfBrokenOff} repeats: such a statement is a
 * transaction of its own, and was taken back whole. Transactions have clients of their own and stay as they are.
 */
export function retrySingleStatements({ client }: { client: Knex.Client }): void {
  const query: typeof client.query = client.query.bind(client);
  client.query = (connection, statement) => retryIfBrokenOff<unknown>(() => query(connection, statement));
}

async function retryIfBrokenOff<T>(attempt: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await attempt();
    } catch (error) {
      if (tries === MAX_ATTEMPTS || !isRetryable(error)) throw error;
    }
}

const isRetryable = (error: unknown): boolean =>
  error instanceof Error &&
  'code' in error &&
  (error.code === 'ER_LOCK_DEADLOCK' || error.code === 'ER_LOCK_WAIT_TIMEOUT' || error.code === 'ER_CHECKREAD');
