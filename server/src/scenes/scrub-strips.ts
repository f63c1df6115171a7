import type { Logger } from 'pino';

import { sceneTitle } from '@old-echo/core/contracts/scene';

import type { Database } from '../database/connect';
import { damagedOf, stripsAfter } from '../desk/strip-states';

/** Stored states looked at in one step. */
const BATCH = 100;
/** Scenes named in one line of the log. */
const MAX_NAMED = 10;

/**
 * Looks through all that is stored, a little at a time and again from the start, for what was changed in the database: before someone
 * needs it, and while a backup of before is still there. What is damaged is written anew by the next capture of the same.
 */
export class StripScrub {
  #after = 0;

  constructor(
    private readonly db: Database,
    private readonly log: Logger,
  ) {}

  /** Looks at the next few; returns how many of them are damaged. */
  async step(): Promise<number> {
    const rows = await stripsAfter(this.db, this.#after, BATCH);
    this.#after = rows.length < BATCH ? 0 : (rows.at(-1)?.id ?? 0);
    const damaged = await damagedOf(this.db, rows);
    if (damaged.length > 0) {
      const scenes = await this.#scenesOf(damaged.map(({ id }) => id));
      this.log.error(
        { scenes },
        'Saved strips were changed in the database. Capture these scenes again, or put a backup back.',
      );
    }
    return damaged.length;
  }

  async #scenesOf(ids: readonly number[]): Promise<string[]> {
    const rows = await this.db('scene_strips')
      .join('scenes', 'scenes.seq', 'scene_strips.scene_seq')
      .whereIn('strip_state_id', ids)
      .distinct<{ number: number | null; name: string; strip: string }[]>('number', 'name', 'strip')
      .limit(MAX_NAMED);
    return rows.map(({ strip, ...scene }) => `${sceneTitle(scene)}, ${strip}`);
  }
}
