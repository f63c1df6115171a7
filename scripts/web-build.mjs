import { spawnSync } from 'node:child_process';
import { existsSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';

import { PlainError } from './plain-error.mjs';
import { ROOT, WEB_BUILD } from './project.mjs';
import { fingerprintOf, isStamped, stamp } from './stamp.mjs';

/** Builds the app for the web when anything that goes into it changed. */
export function buildWeb() {
  const print = fingerprintOf(['app', 'core/src', 'core/package.json', 'package-lock.json', 'scripts/web-build.mjs']);
  if (existsSync(join(WEB_BUILD, 'index.html')) && isStamped('web', print)) return;
  console.log('Building the web app; this takes about two minutes the first time …');
  const fresh = `${WEB_BUILD}-new`;
  rmSync(fresh, { recursive: true, force: true });
  const done = spawnSync(
    process.execPath,
    [join(ROOT, 'node_modules', 'expo', 'bin', 'cli'), 'export', '--platform', 'web', '--output-dir', fresh],
    {
      cwd: join(ROOT, 'app'),
      env: { ...process.env, EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', CI: '1', NODE_ENV: 'production' },
      encoding: 'utf8',
    },
  );
  if (done.status !== 0 || !existsSync(join(fresh, 'index.html')))
    throw new PlainError(`The web app could not be built:\n${done.stdout}\n${done.stderr}`);
  rmSync(WEB_BUILD, { recursive: true, force: true });
  renameSync(fresh, WEB_BUILD);
  stamp('web', print);
}
