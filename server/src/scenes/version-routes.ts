import { Router } from 'express';

import { stripHistoryShape, uniqueNameShape, versionEditShape } from '@old-echo/core/contracts/production';
import { stripFamily } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { productionMustBeUnlocked } from '../desk/show-lock';
import { removeScenes } from './delete-scenes';
import { profileOfProduction } from './production-store';
import { loadStripHistory } from './strip-history';
import { sceneNamed, uniqueSceneName } from './unique-names';
import { binVersion, editVersion, unbinVersion, versionRow } from './version-store';

export function versionRoutes({ db, live }: ServerContext): Router {
  const told = async (id: string) => {
    live.productionsChanged();
    await live.scenesChanged((await versionRow(db, id)).production_id);
    return {};
  };
  return Router()
    .patch('/:id', async (req, res) => {
      await editVersion(db, req.params.id, parseShape(versionEditShape, req.body));
      res.json(await told(req.params.id));
    })
    .post('/:id/bin', async (req, res) => {
      await productionMustBeUnlocked(db, (await versionRow(db, req.params.id)).production_id);
      await binVersion(db, req.params.id);
      res.json(await told(req.params.id));
    })
    .post('/:id/unbin', async (req, res) => {
      await unbinVersion(db, req.params.id);
      res.json(await told(req.params.id));
    })
    .delete('/:id', async (req, res) => {
      const version = await versionRow(db, req.params.id);
      await productionMustBeUnlocked(db, version.production_id);
      if (!version.binned_at)
        throw new Fault('conflict', `${version.name} is not in the bin.`, 'Move it to the bin first.');
      const scenes = await db('scenes').where({ version_id: version.id }).pluck('id');
      await removeScenes(db, await profileOfProduction(db, version.production_id), scenes);
      await db('versions').where({ id: version.id }).delete();
      live.productionsChanged();
      res.json({});
    })
    .get('/:id/unique-name', async (req, res) => {
      const { name } = parseShape(uniqueNameShape, req.query);
      const { id } = await versionRow(db, req.params.id);
      res.json({ name: await uniqueSceneName(db, id, name), taken: await sceneNamed(db, id, name) });
    })
    .get('/:id/strip-history', async (req, res) => {
      const version = await versionRow(db, req.params.id);
      const profile = await profileOfProduction(db, version.production_id);
      const { strip } = parseShape(stripHistoryShape, req.query);
      if (!stripFamily(profile, strip))
        throw new Fault(
          'refused-input',
          `${profile.name} has no strip ${strip}.`,
          'Choose one of its strips.',
          'strip',
        );
      res.json(await loadStripHistory(db, profile, version.id, strip));
    });
}
