import { spawn, spawnSync } from 'node:child_process';
import { createReadStream, createWriteStream } from 'node:fs';
import { text } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';

import { programFile } from './compile.mjs';
import { PlainError } from './plain-error.mjs';

/** What a backup holds: the database as SQL, and what of the data is kept in files. It is a tar file that any tar opens. */
export const CONTENTS = {
  database: 'database.sql.gz',
  /** Named by what they hold, and never changed. */
  stays: ['sound/stems', 'sound/photos', 'sound/inbox'],
  moves: ['desks', 'seed.json'],
};
/** The SHA-256 of each of its files, as `sha256sum -c` reads them. */
export const SUMS = 'SHA256SUMS';

const DATABASE = 'old_echo';
/** A database in which what was dumped is looked at, and nothing else. */
const SCRATCH = 'backup_check';

const reach = ({ port, password }) => ({
  args: ['--no-defaults', '--host=127.0.0.1', `--port=${port}`, '--user=old_echo'],
  env: { ...process.env, MYSQL_PWD: password },
});

/** Runs Debian's tar; returns what it printed. */
export function tar(args) {
  const done = spawnSync('tar', args, { encoding: 'utf8', maxBuffer: 1e9 });
  if (done.status !== 0) throw new PlainError(`tar could not do it: ${done.stderr.trim() || done.error}`);
  return done.stdout;
}

/** The file and SHA-256 of everything that a tar file holds, as it comes out of it. */
export const packedHashes = (packed) =>
  tar(['-xf', packed, '--to-command=printf "%s %s\\n" "$(sha256sum | cut -c1-64)" "$TAR_FILENAME"'])
    .trim()
    .split('\n')
    .map((line) => [line.slice(65), line.slice(0, 64)]);

async function ended(child, what) {
  const [said, code] = await Promise.all([
    text(child.stderr),
    new Promise((resolve, reject) => {
      child.once('error', reject);
      child.once('close', resolve);
    }),
  ]);
  if (code !== 0) throw new PlainError(`${what}: ${said.trim()}`);
}

/** Writes the whole database, as it is at one moment, while others go on using it. */
export async function dumpDatabase(database, file) {
  const { args, env } = reach(database);
  const child = spawn('mariadb-dump', [...args, '--single-transaction', '--skip-dump-date', DATABASE], {
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  await Promise.all([
    pipeline(child.stdout, createGzip(), createWriteStream(file, { mode: 0o600 })),
    ended(child, 'The database could not be read'),
  ]);
}

/** Fills an empty database from a dump. */
export async function loadDump(database, file, name = DATABASE) {
  const { args, env } = reach(database);
  const sql = (line) => {
    const done = spawnSync('mariadb', [...args, '-e', line], { env, encoding: 'utf8' });
    if (done.status !== 0) throw new PlainError(`MariaDB refused: ${done.stderr.trim()}`);
  };
  sql(`DROP DATABASE IF EXISTS ${name}; CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci`);
  const child = spawn('mariadb', [...args, name], { env, stdio: ['pipe', 'ignore', 'pipe'] });
  await Promise.all([
    pipeline(createReadStream(file), createGunzip(), child.stdin),
    ended(child, 'The database in the backup could not be read'),
  ]);
  return () => sql(`DROP DATABASE ${name}`);
}

/**
 * Looks whether all that a database holds is whole: every fingerprint, every strip of every scene, every file that it names.
 * @throws PlainError with what is not
 */
export function checkStored({ port, password }, sound, name = DATABASE) {
  const done = spawnSync(process.execPath, [programFile('server/src/check')], {
    encoding: 'utf8',
    env: {
      ...process.env,
      OLD_ECHO_DB_PORT: String(port),
      OLD_ECHO_DB_PASSWORD: password,
      OLD_ECHO_DB_NAME: name,
      OLD_ECHO_FILES_DIR: sound,
    },
  });
  if (done.status !== 0) throw new PlainError(`What was saved is not whole. ${done.stderr.trim()}`);
  return JSON.parse(done.stdout);
}

/** Loads a dump beside everything else, looks whether it is whole, and removes it again. */
export async function checkDump(database, file, sound) {
  const drop = await loadDump(database, file, SCRATCH);
  try {
    return checkStored(database, sound, SCRATCH);
  } finally {
    drop();
  }
}
