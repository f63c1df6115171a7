import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, renameSync, statSync } from 'node:fs';
import { join } from 'node:path';

import { programFile } from './compile.mjs';
import { startMariaDB } from './mariadb.mjs';
import { PlainError } from './plain-error.mjs';
import { ROOT, WEB_BUILD } from './project.mjs';

/** The stand-in desks of the demo, and where each listens: OSC over UDP, and hands over HTTP on the same number. */
export const DESKS = { 'quay-48': 47148, boathouse: 47140, 'skiff-16': 47116 };

/** What the kinds of desk have. */
const PROFILES = join(ROOT, 'demo', 'profiles');

/** How long a log may be before the next start begins a new one, in bytes. */
const LONGEST_LOG = 5_000_000;

/** Makes the demo in `folder`, where nothing is yet. */
export function makeDemo(folder, ports = DESKS) {
  if (['seed.json', 'mariadb'].some((name) => existsSync(join(folder, name)))) return;
  console.log('Making the demo …');
  const list = Object.keys(DESKS).map((id) => ports[id]);
  const done = spawnSync(process.execPath, [programFile('demo/src/make'), '--out', folder, '--ports', list.join(',')], {
    cwd: ROOT,
    encoding: 'utf8',
  });
  if (done.status !== 0) throw new PlainError(`The demo could not be made:\n${done.stderr}`);
}

/**
 * Starts database, desks and server on the data in `folder`, and each again where it ends; returns the port the server answers on, the
 * database, and the processes by their names.
 * @param network the port by which others on the network reach it, with the certificate, or `plain` without one; nobody does without
 */
export async function startAll(children, folder, { ports = DESKS, port, host, databases, network }) {
  let databasePort;
  const database = await children.keep(() => startMariaDB(children, folder, { port: databasePort, databases }));
  databasePort = database.port;
  const desks = await Promise.all(
    Object.keys(DESKS).map((id) =>
      children.keep(() =>
        children.startOurs(`The stand-in for ${id}`, 'stand-in/src/main', [
          ...['--profile', join(PROFILES, `${id}.json`)],
          ...['--port', String(ports[id]), '--control', String(ports[id])],
          ...['--keep', join(folder, 'desks', `${id}.json`)],
        ]),
      ),
    ),
  );
  let env = {
    OLD_ECHO_HOST: host,
    ...(network
      ? {
          OLD_ECHO_NETWORK_PORT: String(network.port),
          OLD_ECHO_PLAIN: network.plain ? '1' : '',
          OLD_ECHO_CERTIFICATE: network.certificate ?? '',
          OLD_ECHO_KEY: network.key ?? '',
          OLD_ECHO_AUTHORITY: network.authority ?? '',
        }
      : // Nobody gets in over the network by what stands in the environment alone.
        { OLD_ECHO_CERTIFICATE: '', OLD_ECHO_PLAIN: '' }),
    OLD_ECHO_DB_PORT: String(database.port),
    OLD_ECHO_DB_PASSWORD: database.password,
    OLD_ECHO_WEB_DIR: WEB_BUILD,
    OLD_ECHO_FILES_DIR: join(folder, 'sound'),
    OLD_ECHO_SEED_FILE: join(folder, 'seed.json'),
    OLD_ECHO_PROFILES: PROFILES,
  };
  let answering = port;
  const startServer = () => {
    const at = { ...env, OLD_ECHO_PORT: String(answering) };
    return children.startOurs('The server', 'server/src/main', [], at, logIn(folder));
  };
  const server = await children.keep(startServer);
  answering = server.message.ready;
  // A server that is started again answers where phones know it.
  if (network) env = { ...env, OLD_ECHO_NETWORK_PORT: String(server.message.network) };
  const parts = [database, ...desks, server].map(({ entry }) => [entry.name, entry.child.pid]);
  return { port: answering, networkPort: server.message.network, database, processes: Object.fromEntries(parts) };
}

/** Where the server writes what went wrong. Of what was written before, one long file is kept. */
function logIn(folder) {
  const log = join(folder, 'server.log');
  if ((statSync(log, { throwIfNoEntry: false })?.size ?? 0) > LONGEST_LOG) renameSync(log, `${log}.before`);
  return log;
}

/** Starts a server that knows nothing yet, in a database of its own; returns the port it answers on. */
export async function startEmpty(children, folder, database) {
  const { message } = await children.startOurs('The empty server', 'server/src/main', [], {
    OLD_ECHO_PORT: '0',
    OLD_ECHO_DB_NAME: 'old_echo_empty',
    OLD_ECHO_DB_PORT: String(database.port),
    OLD_ECHO_DB_PASSWORD: database.password,
    OLD_ECHO_WEB_DIR: WEB_BUILD,
    OLD_ECHO_FILES_DIR: folder,
  });
  return message.ready;
}

/** Reads a small file, or nothing where it does not exist. */
export const readIfThere = (file) => (existsSync(file) ? readFileSync(file, 'utf8') : '');
