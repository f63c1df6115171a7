import { RateLimiterMySQL, RateLimiterRes } from 'rate-limiter-flexible';

import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';

interface Limit {
  /** What it counts, for the database. */
  readonly name: string;
  /** How often something may be tried in a time in s. */
  readonly points: number;
  readonly seconds: number;
}

/** Counts how often somebody tries what they may not know. A restart does not forget it. */
export class AttemptLimit {
  private readonly limiter: RateLimiterMySQL;

  constructor(
    private readonly db: Database,
    database: string,
    { name, points, seconds }: Limit,
  ) {
    this.limiter = new RateLimiterMySQL({
      storeClient: db,
      storeType: 'knex',
      dbName: database,
      tableName: 'attempts',
      tableCreated: true,
      clearExpiredByTimeout: false,
      keyPrefix: name,
      points,
      duration: seconds,
    });
  }

  /**
   * Counts one more.
   * @param key whose, at most 200 characters
   * @throws Fault `try-later` once that was too often
   */
  async count(key: string): Promise<void> {
    await this.limiter.consume(key).catch((error: unknown) => {
      if (!(error instanceof RateLimiterRes)) throw error;
      const seconds = Math.ceil(error.msBeforeNext / 1000);
      throw new Fault('try-later', 'That was tried too often.', `Nothing was done. Try again in ${seconds} s.`);
    });
  }

  /** Forgets what was tried, once somebody has shown that they know. */
  async forget(key: string): Promise<void> {
    await this.limiter.delete(key);
    await this.db('attempts').where('expire', '<', new Date().getTime()).delete();
  }
}
