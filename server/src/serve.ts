import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';

import compression from 'compression';
import express from 'express';
import type { Logger } from 'pino';

import { Fault } from '@old-echo/core/contracts/fault';

import type { Config } from './config';
import { connect } from './database/connect';
import { deskRoutes } from './desks/routes';
import { Live } from './live/live';
import { problems } from './problems';
import { productionRoutes } from './productions/routes';
import { profileRoutes } from './profiles/routes';
import { restoreRoutes } from './restores/routes';
import { markInterrupted } from './restores/store';
import { sceneRoutes } from './scenes/routes';
import { seedIfEmpty } from './seed';
import { Sessions } from './sessions/sessions';
import { web } from './web';

export interface Running {
  readonly port: number;
  close(): Promise<void>;
}

/** Starts the whole server: database, desks, API, live channel and, where there is one, the web build. */
export async function serve(config: Config, log: Logger): Promise<Running> {
  const db = await connect(config);
  if (config.seed) await seedIfEmpty(db, config.seed);
  await markInterrupted(db);
  const sessions = await Sessions.open(db);
  const live = new Live(db, sessions, log);

  const app = express();
  app.disable('x-powered-by');
  app.use(compression());
  app.use('/api', express.json({ limit: '2mb' }));
  app.use('/api/profiles', profileRoutes(db));
  app.use('/api/desks', deskRoutes(db, sessions, live));
  app.use('/api/productions', productionRoutes(db));
  app.use('/api/scenes', sceneRoutes(db, live));
  app.use('/api/restores', restoreRoutes(db));
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
  live.attach(server);
  const stop = async () => {
    live.close();
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
    await sessions.close();
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

const listen = (server: Server, port: number, host: string): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
