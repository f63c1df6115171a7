import { createServer, type Server } from 'node:http';
import { createServer as createSecureServer } from 'node:https';
import type { AddressInfo } from 'node:net';

import compression from 'compression';
import express from 'express';
import type { Logger } from 'pino';

import { assertBoundedJson } from '@old-echo/core/fault/bounded-json';
import { Fault } from '@old-echo/core/fault/fault';

import { combinationRoutes, originRoutes } from './combine/combination-routes';
import { followerRoutes } from './combine/follower-routes';
import { mixNoteRoutes } from './combine/mix-note-routes';
import { connect, type Database, openAside } from './database/connect';
import { soundFiles } from './database/file-store';
import { DeskConnections } from './desk/desk-connections';
import { deskRoutes } from './desk/desk-routes';
import { deskRow, deskView } from './desk/desk-store';
import { listeningRoutes } from './desk/listening-routes';
import { Listenings } from './desk/listenings';
import { profileRoutes } from './desk/profile-routes';
import { extendProfiles } from './desk/profile-store';
import { Remember } from './desk/remember-state';
import type { ServerContext } from './desk/server-context';
import { exportRoutes } from './files/export-routes';
import { importRoutes } from './files/import-routes';
import { LeftUploads } from './files/left-uploads';
import { seedIfEmpty } from './files/seed-database';
import { sheetRoutes } from './files/sheet-routes';
import { apiDocs } from './http/api-docs';
import { ownPagesOnly } from './http/boundary';
import { authorityFile, certificateOf } from './http/certificate';
import type { Config } from './http/config';
import { pageRules } from './http/page-rules';
import { problemDetails } from './http/problem-details';
import { shedLoad } from './http/shed-load';
import { SilentDatabase } from './http/silent-database';
import { webBuildDir } from './http/static-files';
import { BackgroundTasks } from './jobs/background-tasks';
import { conversionRoutes } from './library/conversion-routes';
import { outboardRoutes } from './library/outboard-routes';
import { partRoutes } from './library/part-routes';
import { presetRoutes } from './library/preset-routes';
import { venueRoutes } from './library/venue-routes';
import { LiveChannel } from './live/live-channel';
import { openPeople } from './people/open-people';
import { CancelRequests } from './recall/cancel-requests';
import { deskRecallRoutes } from './recall/desk-recall-routes';
import { restoreRoutes } from './recall/restore-routes';
import { markInterrupted } from './recall/restore-store';
import { rippleRoutes } from './recall/ripple-routes';
import { scopeRoutes } from './recall/saved-scope-routes';
import { presetOriginRoutes, stagedSettingsRoutes } from './recall/staged-settings-routes';
import { removalRoutes } from './removed/removed-routes';
import { AutoCapture } from './scenes/auto-capture';
import { captureRoutes } from './scenes/capture-routes';
import { sweepMaking } from './scenes/making-production';
import { productionRoutes } from './scenes/production-routes';
import { deskOfProduction } from './scenes/production-store';
import { sceneRoutes } from './scenes/scene-routes';
import { StripScrub } from './scenes/scrub-strips';
import { storageRoutes } from './scenes/storage-routes';
import { versionRoutes } from './scenes/version-routes';
import { blindTestRoutes } from './sound/blind-test-routes';
import { renderRoutes } from './sound/render-routes';
import { RenderService } from './sound/render-service';
import { stemRoutes } from './sound/stem-routes';
import { WorkerPool } from './sound/worker-pool';

/** How often it is looked for what abandoned jobs left, in ms. */
const SWEEP_MS = 10_000;
/** How often a few of the stored strip states are looked at, in ms. */
const SCRUB_MS = 10_000;
/** Values in one request: more than a change of 10,000 scenes holds. Reading more would keep hands and fades waiting. */
const MOST_VALUES = 50_000;

export interface RunningServer {
  readonly port: number;
  /** The port that others on the network reach; undefined where none does. */
  readonly networkPort: number | undefined;
  close(): Promise<void>;
}

/** Starts the whole server: database, desks, API, live channel and, where there is one, the web build. */
export async function serve(config: Config, log: Logger): Promise<RunningServer> {
  const certificate = certificateOf(config);
  const db = await connect(config);
  const sessions = await connectDesks(db, config).catch(async (error: unknown) => {
    await db.destroy();
    throw error;
  });
  const live = new LiveChannel(
    {
      listen: (listener) => sessions.listen(listener),
      stateOf: (deskId) => (sessions.of(deskId).everHeard ? sessions.of(deskId).state : undefined),
      viewOf: async (deskId) => deskView(db, await deskRow(db, deskId), sessions.of(deskId).linkStatus),
      deskOfProduction: (productionId) => deskOfProduction(db, productionId),
    },
    log,
    config.host,
  );
  const tasks = new BackgroundTasks(log);
  const controls = new CancelRequests();
  const listenings = new Listenings();
  const files = soundFiles(config.files);
  const aside = openAside(config);
  const { database } = config;
  const lease = config.lease * 1000;
  const context: ServerContext = { db, database, aside, log, tasks, desks: sessions, live, files, lease };
  const pool = new WorkerPool();
  const people = openPeople(context, pool, { port: () => network && portOf(network), isPlain: config.plain });
  const mixer = new RenderService({ db, files, pool, sessions, log, kept: config.mixesGb * 1e9 });
  await mixer.prune(new Date());
  const left = await LeftUploads.find(db, files);
  await left.sweep();
  // A job that a killed server was at shows no sign of life from then on; until that is sure, another may be at it.
  const sweeping = setInterval(() => {
    tasks.add(sweepMaking(db));
    tasks.add(left.sweep());
  }, SWEEP_MS);
  const scrub = new StripScrub(db, log);
  const scrubbing = setInterval(() => tasks.add(scrub.step()), SCRUB_MS);
  const remember = new Remember(db, sessions, log, (deskId) => {
    if (sessions.of(deskId).linkStatus.state !== 'linked') void live.deskChanged(deskId);
  });
  const keeper = new AutoCapture(db, sessions, live, {
    rest: config.rest * 1000,
    lease: config.lease * 1000,
    clock: () => new Date(),
  });

  const silent = new SilentDatabase(async () => aside.raw('SELECT 1'));
  const app = express();
  app.disable('x-powered-by');
  app.use(pageRules());
  app.use(ownPagesOnly(config.host));
  app.use('/api', silent.watch, shedLoad(), people.gate);
  // Sound hardly gets smaller.
  app.use(compression({ filter: (req, res) => !req.path.endsWith('.wav') && compression.filter(req, res) }));
  app.use('/api', stemRoutes(context, pool));
  app.use('/api', express.json({ limit: '1mb', verify: (_req, _res, bytes) => assertBoundedJson(bytes, MOST_VALUES) }));
  // Others have their turn between the reading of a large request and what is done with it: one round of the event loop.
  app.use('/api', (_req, _res, next) => setImmediate(() => setImmediate(next)));
  const routers = [
    profileRoutes(context),
    deskRoutes(context),
    listeningRoutes(listenings),
    captureRoutes(context),
    presetOriginRoutes(context),
    deskRecallRoutes(context, controls),
    followerRoutes(context),
    partRoutes(context),
    venueRoutes(context),
    outboardRoutes(context),
    productionRoutes(context),
    versionRoutes(context),
    sceneRoutes(context),
    originRoutes(context),
    combinationRoutes(context),
    restoreRoutes(context, controls),
    rippleRoutes(context),
    scopeRoutes(context),
    removalRoutes(context),
    presetRoutes(context),
    stagedSettingsRoutes(context),
    conversionRoutes(context),
    blindTestRoutes(context),
    renderRoutes(context, pool, mixer),
    mixNoteRoutes(context),
    importRoutes(context),
    exportRoutes(context),
    sheetRoutes(context),
    storageRoutes(context),
    ...people.routers,
    apiDocs(),
  ];
  for (const router of routers) app.use('/api', router);
  app.use('/api', () => {
    throw new Fault('not-found', 'There is no such address.', 'Every address of the API is listed at /api/docs.');
  });
  if (config.authority) app.get('/authority.crt', authorityFile(config.authority));
  if (config.web) app.use(webBuildDir(config.web));
  app.use(problemDetails(log));

  const server = createServer(app);
  const network = config.plain ? createServer(app) : certificate && createSecureServer(certificate, app);
  const servers: Server[] = network ? [server, network] : [server];
  for (const one of servers) {
    // Longer than browsers and proxies keep a connection, so that none sends into one that is just being closed.
    one.keepAliveTimeout = 75_000;
    live.attach(one, people.whoOpens);
  }
  if (network) people.lookForShutOut();
  const stop = async () => {
    clearInterval(sweeping);
    clearInterval(scrubbing);
    people.close();
    live.close();
    silent.close();
    await listenings.closeAll();
    for (const one of servers) {
      one.closeAllConnections();
      await new Promise((resolve) => one.close(resolve));
    }
    await mixer.close();
    await pool.close();
    await keeper.close();
    // Without its desk a restore that is at work ends, and writes down how far it came.
    await sessions.close();
    await remember.close();
    await tasks.whenIdle();
    await aside.destroy();
    await db.destroy();
  };
  try {
    await listen(server, config.port, config.host);
    if (network) await listen(network, config.networkPort, EVERYWHERE);
  } catch (error) {
    await stop();
    throw error;
  }
  return { port: portOf(server), networkPort: network && portOf(network), close: stop };
}

/** All of this machine's addresses. */
const EVERYWHERE = '0.0.0.0';
const portOf = (server: Server): number => (server.address() as AddressInfo).port;

async function connectDesks(db: Database, { seed, profiles }: Config): Promise<DeskConnections> {
  if (seed) await seedIfEmpty(db, seed);
  if (profiles) await extendProfiles(db, profiles);
  await markInterrupted(db);
  return DeskConnections.open(db);
}

const listen = (server: Server, port: number, host: string): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
