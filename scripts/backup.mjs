import { createHash } from 'node:crypto';
import {
  cpSync,
  createReadStream,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';

import { checkDump, CONTENTS, dumpDatabase, packedHashes, SUMS, tar } from './backup-file.mjs';
import { Children } from './children.mjs';
import { compile } from './compile.mjs';
import { needDebian } from './debian.mjs';
import { HOME } from './home.mjs';
import { installPackages } from './install.mjs';
import { runningDatabase, startMariaDB } from './mariadb.mjs';
import { PlainError, runScript } from './plain-error.mjs';
import { DATA } from './project.mjs';

const OUT = resolve(process.argv[2] ?? join(DATA, 'backups'));

/** Every file at or below a path, by its path from `root`. */
const filesAt = (root, path) => {
  const seen = statSync(join(root, path), { throwIfNoEntry: false });
  if (!seen?.isDirectory()) return seen ? [path] : [];
  return readdirSync(join(root, path)).flatMap((name) => filesAt(root, join(path, name)));
};

async function hashOf(file) {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

/** "2026-11-29-1604" */
const now = () => new Date().toISOString().slice(0, 16).replace('T', '-').replace(':', '');

await runScript(async () => {
  if (!existsSync(join(HOME, 'mariadb'))) throw new PlainError(`There is nothing to back up in ${HOME}.`);
  needDebian(['mariadb']);
  installPackages();
  compile();
  mkdirSync(OUT, { recursive: true, mode: 0o700 });
  const folder = mkdtempSync(join(OUT, '.making-'));
  const children = new Children();
  const clear = () => children.endAll().then(() => rmSync(folder, { recursive: true, force: true }));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => void clear().then(() => process.exit(1)));
  try {
    const database = runningDatabase(HOME) ?? (await startMariaDB(children, HOME));
    // Files are named by what they hold and stay as they are: those that the database names are there after it was read.
    await dumpDatabase(database, join(folder, CONTENTS.database));
    const stays = CONTENTS.stays.flatMap((path) => filesAt(HOME, path));
    // Others are written anew at any moment: what counts is how they were at this one.
    for (const path of CONTENTS.moves.filter((one) => existsSync(join(HOME, one))))
      cpSync(join(HOME, path), join(folder, path), { recursive: true });
    const copied = [CONTENTS.database, ...CONTENTS.moves.flatMap((path) => filesAt(folder, path))];
    const sums = [];
    for (const file of copied) sums.push([file, await hashOf(join(folder, file))]);
    for (const file of stays) sums.push([file, await hashOf(join(HOME, file))]);
    writeFileSync(join(folder, SUMS), sums.map(([file, hash]) => `${hash}  ${file}\n`).join(''));
    const packed = join(folder, 'packed.tar');
    tar(['-cf', packed, '-C', folder, SUMS, ...copied, '-C', HOME, ...stays]);

    // A backup that was not read back is none.
    const found = new Map(packedHashes(packed));
    const bad = sums.find(([file, hash]) => found.get(file) !== hash);
    if (bad)
      throw new PlainError(`${bad[0]} did not come out of the backup as it went in. Nothing was kept; try again.`);
    const held = await checkDump(database, join(folder, CONTENTS.database), join(HOME, 'sound'));
    const file = join(OUT, `old-echo-${now()}.tar`);
    renameSync(packed, file);
    const size = (statSync(file).size / 1e6).toFixed(1);
    console.log(
      `${relative(process.cwd(), file)}: ${size} MB, ${held.scenes} scenes and ${sums.length - 1} files, read back and whole.`,
    );
  } finally {
    await clear();
  }
});
