import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';

import compression from 'compression';
import express from 'express';
import type { Logger } from 'pino';

import { Fault } from '@old-echo/core/contracts/fault';

import { ownPagesOnly } from './boundary';
import { blindTestRoutes } from './blind-tests/routes';
import { carryingRoutes } from './carryings/routes';
import { combinationRoutes } from './combinations/routes';
import type { Config } from './config';
import { connect, type Database } from './database/connect';
import { deskRoutes } from './desks/routes';
import { fileRoutes } from './files/routes';
import { markStopped } from './files/store';
import { followerRoutes } from './followers/routes';
import { Keeper } from './keeping/keeper';
import { Live } from './live/live';
import { problems } from './problems';
import { hallRoutes } from './halls/routes';
import { outboardRoutes } from './outboard/routes';
import { partRoutes } from './parts/routes';
import { placementRoutes } from './placements/routes';
import { presetRoutes } from './presets/routes';
import { productionRoutes } from './productions/routes';
import { profileRoutes } from './profiles/routes';
import { restoreRoutes } from './restores/routes';
import { markInterrupted } from './restores/store';
import { AtWork } from './runner/at-work';
import { Controls } from './runner/control';
import { Mixer } from './renders/mixer';
import { renderRoutes } from './renders/routes';
import { rippleRoutes } from './ripples/routes';
import { sceneRoutes } from './scenes/routes';
import { scopeRoutes } from './scopes/routes';
import { extendProfiles } from './profiles/store';
import { seedIfEmpty } from './seed';
import { Remember } from './sessions/remember';
import { Sessions } from './sessions/sessions';
import { soundFiles } from './sound/files';
import { SoundPool } from './sound/pool';
import { sheetRoutes } from './sheets/routes';
import { stemRoutes } from './stems/routes';
import { takenOffRoutes } from './taken-off/routes';
import { storageRoutes } from './storage/routes';
import { versionRoutes } from './versions/routes';
import { web } from './web';
import { wishRoutes } from './wishes/routes';

export interface Running {
  readonly port: number;
  close(): Promise<void>;
}

/** Starts the whole server: database, desks, API, live channel and, where there is one, the web build. */
export async function serve(config: Config, log: Logger): Promise<Running> {
  const db = await connect(config);
  const sessions = await openSessions(db, config).catch(async (error: unknown) => {
    await db.destroy();
    throw error;
  });
  const live = new Live(db, sessions, log, config.host);
  const atWork = new AtWork(log);
  const controls = new Controls();
  const files = soundFiles(config.files);
  const pool = new SoundPool();
  const mixer = new Mixer({ db, files, pool, sessions, log });
  await mixer.tidy(new Date());
  const remember = new Remember(db, sessions, log, (deskId) => {
    if (sessions.of(deskId).link.state !== 'linked') void live.deskChanged(deskId);
  });
  const keeper = new Keeper(db, sessions, live, {
    rest: config.rest * 1000,
    lease: config.lease * 1000,
    clock: () => new Date(),
  });

  const app = express();
  app.disable('x-powered-by');
  app.use(ownPagesOnly(config.host));
  // Sound hardly gets smaller.
  app.use(compression({ filter: (req, res) => !req.path.endsWith('.wav') && compression.filter(req, res) }));
  app.use('/api/productions/:production/stems', stemRoutes(db, files, pool, sessions));
  app.use('/api', express.json({ limit: '2mb' }));
  app.use('/api/profiles', profileRoutes(db));
  app.use('/api/desks', deskRoutes({ db, live, sessions, atWork, controls, lease: config.lease * 1000 }));
  app.use('/api/productions/:production/followers', followerRoutes(db, live));
  app.use('/api/productions/:production/parts', partRoutes(db));
  app.use('/api/productions/:production/halls', hallRoutes(db, sessions));
  app.use('/api/productions/:production/outboard', outboardRoutes(db, files));
  app.use('/api/productions', productionRoutes(db, live));
  app.use('/api/versions', versionRoutes(db, live));
  app.use('/api/scenes', sceneRoutes(db, live));
  app.use('/api/combinations', combinationRoutes(db, live));
  app.use('/api/restores', restoreRoutes(db, controls));
  app.use('/api/ripples', rippleRoutes(db, live));
  app.use('/api/scopes', scopeRoutes(db));
  app.use('/api/taken-off', takenOffRoutes(db));
  app.use('/api/presets', presetRoutes(db, sessions));
  app.use('/api/placements', placementRoutes(db));
  app.use('/api/carryings', carryingRoutes(db, sessions, live, atWork, log));
  app.use('/api/blind-tests', blindTestRoutes(db));
  app.use('/api/renders', renderRoutes(db, files, pool, mixer));
  app.use('/api/wishes', wishRoutes(db));
  app.use('/api/files', fileRoutes({ db, files, sessions, live, atWork, log }));
  app.use('/api/sheets', sheetRoutes(db));
  app.use('/api/storage', storageRoutes(db));
  app.use('/api', () => {
    throw new Fault(
      'not-found',
      'There is nothing at this address.',
      'Look at the list of addresses in the documentation.',
    );
  });
  if (config.web) app.use(web(config.web));
  app.use(problems(log));

  const server = createServer(app);
  // Longer than browsers and proxies keep a connection, so that none sends into one that is just being closed.
  server.keepAliveTimeout = 75_000;
  live.attach(server);
  const stop = async () => {
    live.close();
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
    await mixer.close();
    await pool.close();
    await keeper.close();
    // Without its desk a restore that is at work ends, and writes down how far it came.
    await sessions.close();
    await remember.close();
    await atWork.ended();
    await db.destroy();
  };
  try {
    await listen(server, config.port, config.host);
  } catch (error) {
    await stop();
    throw error;
  }
  return { port: (server.address() as AddressInfo).port, close: stop };
}

async function openSessions(db: Database, { seed, profiles }: Config): Promise<Sessions> {
  if (seed) await seedIfEmpty(db, seed);
  if (profiles) await extendProfiles(db, profiles);
  await markInterrupted(db);
  await markStopped(db);
  return Sessions.open(db);
}

const listen = (server: Server, port: number, host: string): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
