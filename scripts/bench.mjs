import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';

import { certificateIn } from './certificate.mjs';
import { Children } from './children.mjs';
import { compile, programFile } from './compile.mjs';
import { needDebian } from './debian.mjs';
import { installPackages } from './install.mjs';
import { freePort } from './mariadb.mjs';
import { runScript } from './plain-error.mjs';
import { DATA, ROOT } from './project.mjs';
import { DESKS, makeDemo, startAll } from './stage.mjs';
import { buildWeb } from './web-build.mjs';

await runScript(async () => {
  needDebian(['mariadb', 'chromium', 'ffmpeg', 'sox']);
  installPackages();
  compile();
  mkdirSync(DATA, { recursive: true });
  const folder = mkdtempSync(join(DATA, 'bench-'));
  const children = new Children();
  let clearing;
  const clear = () => (clearing ??= children.endAll().then(() => rmSync(folder, { recursive: true, force: true })));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => void clear().then(() => process.exit(1)));
  try {
    await buildWeb();
    const ports = Object.fromEntries(await Promise.all(Object.keys(DESKS).map(async (id) => [id, await freePort()])));
    makeDemo(folder, ports);
    // Nothing is kept by itself meanwhile: what is measured is what was asked for.
    process.env.OLD_ECHO_AUTOSAVE_IDLE = '3600';
    const certificate = await certificateIn(join(folder, 'certificate'));
    const { port, networkPort, database } = await startAll(children, folder, {
      network: { port: 0, ...certificate },
      ports,
      port: 0,
      host: '127.0.0.1',
      databases: ['%'],
    });
    const bench = spawn(process.execPath, [programFile('bench/src/main'), ...process.argv.slice(2)], {
      cwd: ROOT,
      stdio: 'inherit',
      env: {
        ...process.env,
        OLD_ECHO_URL: `http://127.0.0.1:${port}`,
        OLD_ECHO_NETWORK: `https://127.0.0.1:${networkPort}`,
        OLD_ECHO_AUTHORITY: certificate.authority,
        OLD_ECHO_DB_PORT: String(database.port),
        OLD_ECHO_DB_PASSWORD: database.password,
      },
    });
    process.exitCode = await new Promise((resolve) => bench.once('exit', (code) => resolve(code ?? 1)));
  } finally {
    await clear();
  }
});
