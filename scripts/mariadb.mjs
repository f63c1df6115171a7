import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect, createServer } from 'node:net';
import { hostname } from 'node:os';
import { join } from 'node:path';

import { PlainError } from './plain-error.mjs';

/** How long MariaDB may take to answer, in ms: it may have to recover after a power cut. */
const PATIENCE = 60_000;

const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** A TCP port on loopback that nobody uses at the moment. */
export const freePort = () =>
  new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });

const answers = (port) =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('data', () => resolve(true) || socket.destroy());
    socket.once('error', () => resolve(false));
    socket.setTimeout(1000, () => resolve(false) || socket.destroy());
  });

/**
 * Starts a MariaDB of our own in `folder`, on loopback and a free port, and returns how to reach it.
 * Its one user comes with a password that only this folder knows.
 * `more` are further arguments for the server, `databases` the names that its user may have; without a `port` it gets one that is free.
 */
export async function startMariaDB(children, folder, { more = [], port = undefined, databases = OURS } = {}) {
  port ??= await freePort();
  const data = join(folder, 'mariadb');
  const pidFile = join(folder, 'mariadb.pid');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  await endLeftOver(pidFile, data);
  if (!existsSync(data)) {
    if (existsSync(passwordFile(folder)))
      throw new PlainError(
        `${folder} had a database, and ${data} is gone. Put a backup in its place (npm run restore-backup), or move ${folder} away and start again; a new one is made then.`,
      );
    makeDatabaseFolder(data);
  }
  if (!existsSync(join(data, 'mysql')))
    throw new PlainError(
      `The database folder ${data} is not complete. Move it away (it may hold your scenes) and start again; a new one is made then.`,
    );
  const password = passwordIn(folder);
  const initFile = join(folder, 'mariadb-init.sql');
  writeFileSync(initFile, firstStatements(password, databases), { mode: 0o600 });
  const entry = children.start('MariaDB', '/usr/sbin/mariadbd', [
    '--no-defaults',
    `--datadir=${data}`,
    `--pid-file=${pidFile}`,
    `--init-file=${initFile}`,
    `--port=${port}`,
    '--bind-address=127.0.0.1',
    '--socket=',
    '--skip-name-resolve',
    '--innodb-buffer-pool-size=256M',
    '--max-allowed-packet=64M',
    ...more,
    ...(process.getuid?.() === 0 ? ['--user=root'] : []),
  ]);
  let over = false;
  void entry.ended.then(() => (over = true));
  for (let waited = 0; !(await answers(port)); waited += 50) {
    if (over || waited > PATIENCE)
      throw new PlainError(
        `MariaDB could not open the database folder ${data}:\n${lastLines(entry.said())}\n` +
          'Nothing in it was changed by Old Echo. Move the folder away and start again, or put a backup in its place.',
      );
    await wait(50);
  }
  return { entry, port, password };
}

const lastLines = (text) => text.split('\n').slice(-6).join('\n');

function makeDatabaseFolder(data) {
  const done = spawnSync(
    'mariadb-install-db',
    [
      '--no-defaults',
      `--datadir=${data}`,
      '--auth-root-authentication-method=normal',
      '--skip-test-db',
      ...(process.getuid?.() === 0 ? ['--user=root'] : []),
    ],
    { encoding: 'utf8' },
  );
  if (done.status !== 0) {
    rmSync(data, { recursive: true, force: true });
    throw new PlainError(
      `MariaDB could not make its folder ${data}:\n${lastLines(done.stderr || done.stdout || String(done.error))}`,
    );
  }
}

const passwordFile = (folder) => join(folder, 'mariadb-password');

function passwordIn(folder) {
  const file = passwordFile(folder);
  if (!existsSync(file)) writeFileSync(file, randomBytes(24).toString('hex'), { mode: 0o600 });
  return readFileSync(file, 'utf8');
}

/** Names of our databases, as patterns. */
const OURS = ['old\\_echo%', 'backup\\_check%'];

/** One user of our own; nobody else may come in over the network. */
const firstStatements = (password, databases) =>
  [
    `CREATE OR REPLACE USER 'old_echo'@'127.0.0.1' IDENTIFIED BY '${password}';`,
    // Tables of ours, and nothing of the server: no files, no users, no shutdown. PROCESS tells how large tables are.
    `GRANT PROCESS ON *.* TO 'old_echo'@'127.0.0.1';`,
    ...databases.map((name) => `GRANT ALL ON \`${name}\`.* TO 'old_echo'@'127.0.0.1';`),
    ...['127.0.0.1', '::1', hostname()].map((host) => `DROP USER IF EXISTS 'root'@'${host}';`),
    ...['localhost', hostname()].map((host) => `DROP USER IF EXISTS ''@'${host}';`),
    '',
  ].join('\n');

/** What the process was started with, where it is a MariaDB that works in `data`. */
function argumentsOf(pid, data) {
  try {
    const args = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
    return args.includes(`--datadir=${data}`) ? args : undefined;
  } catch {
    return undefined;
  }
}

/** How to reach the MariaDB that is running in `folder`, or undefined where none is. */
export function runningDatabase(folder) {
  const pidFile = join(folder, 'mariadb.pid');
  if (!existsSync(pidFile)) return undefined;
  const args = argumentsOf(Number(readFileSync(pidFile, 'utf8')), join(folder, 'mariadb'));
  const port = args?.find((arg) => arg.startsWith('--port='))?.slice('--port='.length);
  return port && { port: Number(port), password: passwordIn(folder) };
}

/** Ends a MariaDB that a killed run left behind, after making sure that it is ours: it works in our folder. */
async function endLeftOver(pidFile, data) {
  if (!existsSync(pidFile)) return;
  const pid = Number(readFileSync(pidFile, 'utf8'));
  const isOurs = () => argumentsOf(pid, data) !== undefined;
  if (isOurs()) process.kill(pid, 'SIGTERM');
  for (let waited = 0; isOurs() && waited < PATIENCE; waited += 50) await wait(50);
}
