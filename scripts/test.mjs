import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { setPriority } from 'node:os';
import { join, relative } from 'node:path';
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

/** The commands that are running at the moment. */
const running = new Set();

/** Runs a command with its output shown; returns whether it ended well. A higher priority number gives way. */
const run = (command, args, env = {}, priority = 0) =>
  new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: ROOT,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    });
    running.add(child);
    const end = (well) => {
      running.delete(child);
      resolve(well);
    };
    child.once('exit', (code) => end(code === 0));
    child.once('error', () => end(false));
    if (priority !== 0 && child.pid !== undefined) setPriority(child.pid, priority);
  });

/** Prints the ten files of tests that took longest. */
function slowest(files) {
  const seconds = ({ startTime, endTime }) => (endTime - startTime) / 1000;
  const ranked = [...files].sort((a, b) => seconds(b) - seconds(a)).slice(0, 10);
  console.log('\nThe slowest files:');
  for (const file of ranked) console.log(`${seconds(file).toFixed(1).padStart(7)} s  ${relative(ROOT, file.name)}`);
}

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
      for (const child of running) child.kill('SIGINT');
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
      const env = {
        OLD_ECHO_DB_PORT: String(port),
        OLD_ECHO_DB_PASSWORD: password,
        OLD_ECHO_SMALL_DB_PORT: String(small.port),
        OLD_ECHO_SMALL_DB_PASSWORD: small.password,
        OLD_ECHO_HALTING_DB_PORT: String(halting.port),
        OLD_ECHO_HALTING_DB_PASSWORD: halting.password,
        OLD_ECHO_HALTING_DB_PID: String(halting.entry.child.pid),
      };
      const jest = async (projects, priority) => {
        const report = join(folder, `${projects[0]}.json`);
        const options = ['--runInBand', '--passWithNoTests', '--json', `--outputFile=${report}`, '--silent=false'];
        const args = ['--selectProjects', ...projects, ...options, ...positionals];
        await run(process.execPath, ['node_modules/jest/bin/jest.js', ...args], env, priority);
        return JSON.parse(readFileSync(report, 'utf8'));
      };
      // What only computes gives way to what talks to desks and databases, where time matters.
      const reports = await Promise.all([jest(['server'], 0), jest(['core', 'app'], 10)]);
      const sum = (key) => reports.reduce((all, report) => all + report[key], 0);
      count('unit', sum('numPassedTests'), sum('numFailedTests') + sum('numRuntimeErrorTestSuites'));
      slowest(reports.flatMap(({ testResults }) => testResults));
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
