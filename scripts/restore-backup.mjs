import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';

import { checkStored, CONTENTS, loadDump, packedHashes, SUMS, tar } from './backup-file.mjs';
import { Children } from './children.mjs';
import { compile } from './compile.mjs';
import { needDebian } from './debian.mjs';
import { assertNotRunning, HOME } from './home.mjs';
import { installPackages } from './install.mjs';
import { startMariaDB } from './mariadb.mjs';
import { PlainError, runScript } from './plain-error.mjs';

const [, , name] = process.argv;

await runScript(async () => {
  if (!name) throw new PlainError('Say which backup: npm run restore-backup -- FILE');
  const file = resolve(name);
  if (!existsSync(file)) throw new PlainError(`There is no file ${file}.`);
  assertNotRunning();
  if (existsSync(HOME) && readdirSync(HOME).length > 0)
    throw new PlainError(
      `There is data in ${HOME} already, and nothing was changed. Move it away first:\n  mv ${HOME} ${HOME}.before`,
    );
  needDebian(['mariadb']);
  installPackages();
  compile();
  // Made beside it, and put in its place when all of it is whole.
  const making = `${HOME}.making`;
  rmSync(making, { recursive: true, force: true });
  mkdirSync(making, { recursive: true, mode: 0o700 });
  const children = new Children();
  const clear = () => children.endAll().then(() => rmSync(making, { recursive: true, force: true }));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => void clear().then(() => process.exit(1)));
  try {
    const sums = new Map(
      tar(['-xOf', file, SUMS])
        .trim()
        .split('\n')
        .map((line) => [line.slice(66), line.slice(0, 64)]),
    );
    const found = new Map(packedHashes(file).filter(([path]) => path !== SUMS));
    for (const [path, hash] of sums)
      if (found.get(path) !== hash)
        throw new PlainError(
          `${path} in the backup is ${found.has(path) ? 'damaged' : 'missing'}. Nothing was changed.`,
        );
    const stranger = [...found.keys()].find((path) => !sums.has(path));
    if (stranger !== undefined) throw new PlainError(`${stranger} does not belong into a backup. Nothing was changed.`);
    tar(['-xf', file, '-C', making, '--no-same-owner', ...sums.keys()]);
    const database = await startMariaDB(children, making);
    await loadDump(database, join(making, CONTENTS.database));
    const held = checkStored(database, join(making, 'sound'));
    await children.end(database.entry);
    rmSync(join(making, CONTENTS.database));
    mkdirSync(dirname(HOME), { recursive: true });
    rmSync(HOME, { recursive: true, force: true });
    renameSync(making, HOME);
    console.log(`${held.scenes} scenes and ${sums.size - 1} files are back, and whole. npm start goes on from there.`);
  } finally {
    await clear();
  }
});
