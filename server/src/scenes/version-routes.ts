import type { Router } from 'express';

import { VERSION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { stripFamily } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';

import type { ServerContext } from '../desk/server-context';
import { productionMustBeUnlocked } from '../desk/show-lock';
import { DONE, serveRoutes } from '../http/serve-routes';
import { removeScenes } from './delete-scenes';
import { profileOfProduction } from './production-store';
import { loadStripHistory } from './strip-history';
import { sceneNamed, uniqueSceneName } from './unique-names';
import { binVersion, editVersion, unbinVersion, versionRow } from './version-store';

export function versionRoutes({ db, live }: ServerContext): Router {
  const told = async (id: string) => {
    live.productionsChanged();
    await live.scenesChanged((await versionRow(db, id)).production_id);
    return DONE;
  };
  return serveRoutes(VERSION_ROUTES, {
    editVersion: async ({ params, body }) => {
      await editVersion(db, params.id, body);
      return told(params.id);
    },
    binVersion: async ({ params }) => {
      await productionMustBeUnlocked(db, (await versionRow(db, params.id)).production_id);
      await binVersion(db, params.id);
      return told(params.id);
    },
    unbinVersion: async ({ params }) => {
      await unbinVersion(db, params.id);
      return told(params.id);
    },
    deleteVersion: async ({ params }) => {
      const version = await versionRow(db, params.id);
      await productionMustBeUnlocked(db, version.production_id);
      if (!version.binned_at)
        throw new Fault('conflict', `${version.name} is not in the bin.`, 'Move it to the bin first.');
      const scenes = await db('scenes').where({ version_id: version.id }).pluck('id');
      await removeScenes(db, await profileOfProduction(db, version.production_id), scenes);
      await db('versions').where({ id: version.id }).delete();
      live.productionsChanged();
      return DONE;
    },
    uniqueName: async ({ params, query: { name } }) => {
      const { id } = await versionRow(db, params.id);
      return { name: await uniqueSceneName(db, id, name), taken: await sceneNamed(db, id, name) };
    },
    stripHistory: async ({ params, query: { strip } }) => {
      const version = await versionRow(db, params.id);
      const profile = await profileOfProduction(db, version.production_id);
      if (!stripFamily(profile, strip))
        throw new Fault(
          'refused-input',
          `${profile.name} has no strip ${strip}.`,
          'Choose one of its strips.',
          'strip',
        );
      return loadStripHistory(db, profile, version.id, strip);
    },
  });
}
