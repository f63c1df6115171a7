import { Router } from 'express';
import { object, string } from 'yup';

import { readShape } from '@old-echo/core/fault/parse-shape';
import { LARGEST_STEM, tooLarge } from '@old-echo/core/contracts/sound';
import { preampOf } from '@old-echo/core/sound/render-graph';

import type { Database } from '../database/connect';
import { productionOf } from '../http/production-param';
import type { Sessions } from '../desk/desk-connections';
import type { SoundFiles } from '../database/file-store';
import type { SoundPool } from './worker-pool';
import { attachStem, detachStem, stems } from './stem-store';

const querySchema = object({ name: string().trim().max(200).default('') }).noUnknown();

/** The stems of a production, mounted under it. */
export const stemRoutes = (db: Database, files: SoundFiles, pool: SoundPool, sessions: Sessions): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      // Whoever looks at stems may listen to them next.
      pool.warm();
      res.json(await stems(db, productionOf(req.params)));
    })
    .put('/:strip', async (req, res) => {
      const length = Number(req.headers['content-length'] ?? 0);
      if (length > LARGEST_STEM) throw tooLarge(length);
      const { name } = readShape(querySchema, req.query);
      const [productionId, { strip }] = [productionOf(req.params), req.params];
      const gain = await gainNow(db, sessions, productionId, strip);
      res.json(await attachStem(db, files, { productionId, strip, name, gain }, req));
    })
    .delete('/:strip', async (req, res) => {
      res.json(await detachStem(db, files, productionOf(req.params), req.params.strip));
    });

/** The gain a strip has on the production's desk at this moment; 0 for a desk that is not linked. */
async function gainNow(db: Database, sessions: Sessions, productionId: string, strip: string): Promise<number> {
  const row = (await db('productions').where({ id: productionId }).first('desk_id')) as { desk_id: string } | undefined;
  const session = row && sessions.of(row.desk_id);
  const now = session?.link.state === 'linked' ? session.state[strip] : undefined;
  return now ? preampOf(now) : 0;
}
