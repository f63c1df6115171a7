import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';

import { PlainError } from './plain-error.mjs';
import { ROOT } from './project.mjs';
import { fingerprintOf, isStamped, stamp } from './stamp.mjs';

/** Installs the npm packages when they are missing or the lock file changed. */
export function installPackages() {
  const major = Number(process.versions.node.split('.')[0]);
  if (major < 20) throw new PlainError(`Old Echo needs Node.js 20 or newer; this is ${process.version}.`);
  const print = fingerprintOf(['package-lock.json']);
  if (existsSync(join(ROOT, 'node_modules', '.package-lock.json')) && isStamped('npm', print)) return;
  console.log('Installing npm packages …');
  const done = spawnSync('npm', ['ci', '--no-audit', '--no-fund'], { cwd: ROOT, encoding: 'utf8' });
  if (done.status !== 0)
    throw new PlainError(
      `The npm packages could not be installed:\n${done.stderr ?? done.error}\nCheck the network and start again.`,
    );
  stamp('npm', print);
}
