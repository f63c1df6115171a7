import { execFile } from 'node:child_process';
import { existsSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';

import { PlainError } from './plain-error.mjs';
import { ROOT, WEB_BUILD } from './project.mjs';
import { fingerprintOf, isStamped, stamp } from './stamp.mjs';

/** Whatever goes into it. */
const SOURCES = [
  ...['app', 'src', 'public', 'app.json', 'babel.config.js', 'metro.config.js', 'package.json'].map(
    (name) => `app/${name}`,
  ),
  ...['core/src', 'core/package.json', 'package-lock.json', 'scripts/web-build.mjs'],
];

/** How long one attempt may take, in ms. The bundler has been seen to wait for its own threads for ever. */
const PATIENCE = 480_000;

/** Answers of the server that are kept to be read while it is not there; the oldest go first. */
const KEPT_ANSWERS = 400;

/**
 * Lets browsers open the app without the server: the page itself from a store of its own, and what was read before as it was read last.
 * The server is always asked first, and nothing but reading is ever answered from there.
 */
async function writeServiceWorker(folder) {
  // What a fresh clone has not installed yet when this file is read.
  const { generateSW } = await import('workbox-build');
  const { warnings } = await generateSW({
    globDirectory: folder,
    globPatterns: ['**/*.{html,js,ttf,png,webmanifest}'],
    swDest: join(folder, 'sw.js'),
    mode: 'production',
    sourcemap: false,
    inlineWorkboxRuntime: true,
    dontCacheBustURLsMatching: /\/_expo\/static\/|\/assets\//,
    maximumFileSizeToCacheInBytes: 10_000_000,
    cleanupOutdatedCaches: true,
    clientsClaim: true,
    skipWaiting: true,
    navigateFallback: '/index.html',
    navigateFallbackDenylist: [/^\/api\//],
    runtimeCaching: [
      {
        urlPattern: /\/api\//,
        method: 'GET',
        handler: 'NetworkFirst',
        options: {
          cacheName: 'last-seen',
          expiration: { maxEntries: KEPT_ANSWERS },
          cacheableResponse: { statuses: [200], headers: { 'content-type': 'application/json; charset=utf-8' } },
        },
      },
    ],
  });
  if (warnings.length > 0) throw new PlainError(warnings.join('\n'));
}

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
  await writeServiceWorker(fresh);
  rmSync(WEB_BUILD, { recursive: true, force: true });
  renameSync(fresh, WEB_BUILD);
  stamp('web', print);
}
