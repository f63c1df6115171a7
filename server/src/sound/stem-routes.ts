import { Router } from 'express';
import { object, string } from 'yup';

import { MAX_STEM_BYTES, stemTooLargeFault } from '@old-echo/core/contracts/sound';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { preampOf } from '@old-echo/core/sound/render-graph';

import type { Database } from '../database/connect';
import type { DeskConnections } from '../desk/desk-connections';
import type { ServerContext } from '../desk/server-context';
import { productionIdParam } from '../http/production-param';
import { attachStem, detachStem, stems } from './stem-store';
import type { WorkerPool } from './worker-pool';

const querySchema = object({ name: string().trim().max(200).default('') }).noUnknown();

/** The stems of a production, mounted under it. */
export const stemRoutes = ({ db, files, desks }: ServerContext, pool: WorkerPool): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      // Whoever looks at stems may listen to them next.
      pool.prestart();
      res.json(await stems(db, productionIdParam(req.params)));
    })
    .put('/:strip', async (req, res) => {
      const length = Number(req.headers['content-length'] ?? 0);
      if (length > MAX_STEM_BYTES) throw stemTooLargeFault(length);
      const { name } = parseShape(querySchema, req.query);
      const [productionId, { strip }] = [productionIdParam(req.params), req.params];
      const gain = await currentPreampGain(db, desks, productionId, strip);
      res.json(await attachStem(db, files, { productionId, strip, name, gain }, req));
    })
    .delete('/:strip', async (req, res) => {
      res.json(await detachStem(db, files, productionIdParam(req.params), req.params.strip));
    });

/** The gain a strip has on the production's desk at this moment; 0 for a desk that is not linked. */
async function currentPreampGain(
  db: Database,
  desks: DeskConnections,
  productionId: string,
  strip: string,
): Promise<number> {
  const row = await db('productions').where({ id: productionId }).first('desk_id');
  const session = row && desks.of(row.desk_id);
  const now = session?.linkStatus.state === 'linked' ? session.state[strip] : undefined;
  return now ? preampOf(now) : 0;
}
