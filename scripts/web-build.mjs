import { execFile } from 'node:child_process';
import { existsSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';

import { PlainError } from './plain-error.mjs';
import { ROOT, WEB_BUILD } from './project.mjs';
import { fingerprintOf, isStamped, stamp } from './stamp.mjs';

/** Whatever goes into it. */
const SOURCES = [
  ...['app', 'src', 'app.json', 'babel.config.js', 'metro.config.js', 'package.json'].map((name) => `app/${name}`),
  ...['core/src', 'core/package.json', 'package-lock.json', 'scripts/web-build.mjs'],
];

/** How long one attempt may take, in ms. The bundler has been seen to wait for its own threads for ever. */
const PATIENCE = 480_000;

/**
 * Builds the app for the web when anything that goes into it changed.
 * @param signal ends the build
 */
export async function buildWeb(signal) {
  const print = fingerprintOf(SOURCES);
  if (existsSync(join(WEB_BUILD, 'index.html')) && isStamped('web', print)) return;
  console.log('Building the web app; this takes about two minutes the first time …');
  const fresh = `${WEB_BUILD}-new`;
  const attempt = async () => {
    rmSync(fresh, { recursive: true, force: true });
    await promisify(execFile)(
      process.execPath,
      [join(ROOT, 'node_modules', 'expo', 'bin', 'cli'), 'export', '--platform', 'web', '--output-dir', fresh],
      {
        cwd: join(ROOT, 'app'),
        env: { ...process.env, EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', CI: '1', NODE_ENV: 'production' },
        timeout: PATIENCE,
        killSignal: 'SIGKILL',
        maxBuffer: 50_000_000,
        signal,
      },
    );
  };
  try {
    await attempt().catch((error) => {
      if (!error.killed || signal?.aborted) throw error;
      console.log(`The web app was not built within ${PATIENCE / 60_000} minutes; trying once more …`);
      return attempt();
    });
  } catch (error) {
    const said = error.killed ? `It did not end within ${PATIENCE / 60_000} minutes.` : '';
    throw new PlainError(`The web app could not be built:\n${said}${error.stdout ?? ''}\n${error.stderr ?? error}`);
  }
  if (!existsSync(join(fresh, 'index.html'))) throw new PlainError('The web app could not be built: it has no page.');
  rmSync(WEB_BUILD, { recursive: true, force: true });
  renameSync(fresh, WEB_BUILD);
  stamp('web', print);
}
