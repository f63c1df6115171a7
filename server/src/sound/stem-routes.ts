import type { Router } from 'express';

import { STEM_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import { MAX_STEM_BYTES, stemTooLargeFault } from '@old-echo/core/contracts/sound';
import { preampOf } from '@old-echo/core/sound/render-graph';

import type { Database } from '../database/connect';
import { assertRoom } from '../database/disk-room';
import type { DeskConnections } from '../desk/desk-connections';
import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { attachStem, detachStem, stems } from './stem-store';
import type { WorkerPool } from './worker-pool';

/** The stems of a production. */
export const stemRoutes = ({ db, files, desks }: ServerContext, pool: WorkerPool): Router =>
  serveRoutes(STEM_ROUTES, {
    stems: ({ params }) => {
      // Whoever looks at stems may listen to them next.
      pool.prestart();
      return stems(db, files, params.production);
    },
    attachStem: async ({ params: { production: productionId, strip }, query: { name, modified }, req }) => {
      const length = Number(req.headers['content-length'] ?? 0);
      if (length > MAX_STEM_BYTES) throw stemTooLargeFault(length);
      await assertRoom(files.arriving, length);
      const gain = await currentPreampGain(db, desks, productionId, strip);
      const isAwaited = () => !req.socket.destroyed;
      const stem = { productionId, strip, name, modified: modified ?? null, gain, isAwaited };
      return attachStem({ db, files, pool }, stem, req);
    },
    detachStem: ({ params }) => detachStem(db, files, params.production, params.strip),
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
