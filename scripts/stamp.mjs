import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

import { DATA, ROOT } from './project.mjs';

const SKIPPED = new Set(['node_modules', 'dist', '.expo', '.data']);

function* filesIn(path) {
  if (!existsSync(path)) return;
  if (statSync(path).isFile()) yield path;
  else for (const name of readdirSync(path).sort()) if (!SKIPPED.has(name)) yield* filesIn(join(path, name));
}

/** A fingerprint of the contents of files and folders, named relative to the project. */
export function fingerprintOf(paths) {
  const hash = createHash('sha256');
  for (const file of paths.flatMap((path) => [...filesIn(join(ROOT, path))]))
    hash.update(file.slice(ROOT.length)).update('\0').update(readFileSync(file)).update('\0');
  return hash.digest('hex');
}

const stampFile = (name) => join(DATA, 'stamps', name);

/** Whether work called `name` was last done for exactly this fingerprint. */
export const isStamped = (name, print) =>
  existsSync(stampFile(name)) && readFileSync(stampFile(name), 'utf8') === print;

export function stamp(name, print) {
  mkdirSync(dirname(stampFile(name)), { recursive: true });
  writeFileSync(stampFile(name), print);
}
