import type { Knex } from 'knex';

const MAX_ATTEMPTS = 5;

/** Does again what the database took back because it and another waited for one another. `attempt` leaves nothing else behind. */
export async function retryIfBrokenOff<T>(attempt: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await attempt();
    } catch (error) {
      if (tries === MAX_ATTEMPTS || !isRetryable(error)) throw error;
    }
}

/**
 * Lets every statement outside a transaction be done again by {@link retryIfBrokenOff}: it is a transaction of its own.
 * Transactions have clients of their own, which stay as they are.
 */
export function retrySingleStatements({ client }: { client: Knex.Client }): void {
  const query: (connection: unknown, statement: unknown) => Promise<unknown> = client.query.bind(client);
  client.query = (connection: unknown, statement: unknown) => retryIfBrokenOff(() => query(connection, statement));
}

const isRetryable = (error: unknown): boolean =>
  error instanceof Error &&
  'code' in error &&
  (error.code === 'ER_LOCK_DEADLOCK' || error.code === 'ER_LOCK_WAIT_TIMEOUT' || error.code === 'ER_CHECKREAD');
