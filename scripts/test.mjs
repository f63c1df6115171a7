import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';

import { Children } from './children.mjs';
import { compile } from './compile.mjs';
import { needDebian } from './debian.mjs';
import { installPackages } from './install.mjs';
import { freePort, startMariaDB } from './mariadb.mjs';
import { runScript } from './plain-error.mjs';
import { DATA, ROOT } from './project.mjs';
import { DESKS, makeDemo, startAll, startEmpty } from './stage.mjs';
import { buildWeb } from './web-build.mjs';

const STEPS = ['types', 'lint', 'arrows', 'unit', 'browser'];
/** A database that runs full after a few scenes: all tables share one file that cannot grow. */
const SMALL = ['--innodb-file-per-table=0', '--innodb-data-file-path=ibdata1:12M;ibdata2:9M'];
const { values, positionals } = parseArgs({
  options: { only: { type: 'string', multiple: true } },
  allowPositionals: true,
});
const wanted = (step) => !values.only || values.only.includes(step);

/** The command that is running at the moment. */
let running;

/** Runs a command with its output shown; returns whether it ended well. */
const run = (command, args, env = {}) =>
  new Promise((resolve) => {
    const child = (running = spawn(command, args, {
      cwd: ROOT,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    }));
    child.once('exit', (code) => resolve(code === 0));
    child.once('error', () => resolve(false));
  });

await runScript(async () => {
  needDebian(['mariadb', 'chromium', 'ffmpeg', 'sox', 'unzip']);
  installPackages();
  compile();
  mkdirSync(DATA, { recursive: true });
  // A folder of its own: tests never touch the data of `npm start`.
  const folder = mkdtempSync(join(DATA, 'test-'));
  const children = new Children();
  const total = { passed: 0, failed: 0 };
  const count = (name, passed, failed) => {
    total.passed += passed;
    total.failed += failed;
    console.log(`\n${name}: ${passed} passed, ${failed} failed`);
  };
  let clearing;
  const clear = () => (clearing ??= children.endAll().then(() => rmSync(folder, { recursive: true, force: true })));
  // Whoever stops this may have told only this process; what it started ends with it.
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => {
      running?.kill('SIGINT');
      void clear().then(() => process.exit(1));
    });

  try {
    for (const check of ['types', 'lint', 'arrows'])
      if (wanted(check)) {
        const well = await run('npm', ['run', '--silent', check]);
        count(check, well ? 1 : 0, well ? 0 : 1);
      }
    if (wanted('unit')) {
      const { port, password, entry } = await startMariaDB(children, join(folder, 'unit'));
      const small = await startMariaDB(children, join(folder, 'small'), SMALL);
      // One that is stopped and let go on by the tests, by its own process id.
      const halting = await startMariaDB(children, join(folder, 'halting'));
      const report = join(folder, 'jest.json');
      await run(
        process.execPath,
        ['node_modules/jest/bin/jest.js', '--json', `--outputFile=${report}`, '--silent=false', ...positionals],
        {
          OLD_ECHO_DB_PORT: String(port),
          OLD_ECHO_DB_PASSWORD: password,
          OLD_ECHO_SMALL_DB_PORT: String(small.port),
          OLD_ECHO_SMALL_DB_PASSWORD: small.password,
          OLD_ECHO_HALTING_DB_PORT: String(halting.port),
          OLD_ECHO_HALTING_DB_PASSWORD: halting.password,
          OLD_ECHO_HALTING_DB_PID: String(halting.entry.child.pid),
        },
      );
      const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
      count('unit', numPassedTests, numFailedTests + numRuntimeErrorTestSuites);
      await Promise.all([entry, small.entry, halting.entry].map((one) => children.end(one)));
    }
    if (wanted('browser')) {
      buildWeb();
      const ports = Object.fromEntries(await Promise.all(Object.keys(DESKS).map(async (id) => [id, await freePort()])));
      const home = join(folder, 'browser');
      makeDemo(home, ports);
      const { port, database } = await startAll(children, home, { ports, port: 0, host: '127.0.0.1' });
      const empty = await startEmpty(children, join(home, 'empty'), database);
      const report = join(folder, 'playwright.json');
      await run(
        process.execPath,
        ['node_modules/@playwright/test/cli.js', 'test', '--config', 'e2e/playwright.config.ts', ...positionals],
        {
          OLD_ECHO_URL: `http://127.0.0.1:${port}`,
          OLD_ECHO_EMPTY_URL: `http://127.0.0.1:${empty}`,
          OLD_ECHO_DESKS: JSON.stringify(ports),
          PLAYWRIGHT_JSON_OUTPUT_FILE: report,
        },
      );
      const { stats } = JSON.parse(readFileSync(report, 'utf8'));
      count('browser', stats.expected, stats.unexpected + stats.flaky);
    }
  } finally {
    await clear();
  }
  if (total.passed === 0) throw new Error(`No test ran; steps are ${STEPS.join(', ')}.`);
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  if (total.failed > 0) process.exitCode = 1;
});
