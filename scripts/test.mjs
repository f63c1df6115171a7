import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { setPriority } from 'node:os';
import { join, relative } from 'node:path';
import { parseArgs } from 'node:util';

import { certificateIn } from './certificate.mjs';
import { Children } from './children.mjs';
import { compile } from './compile.mjs';
import { needDebian } from './debian.mjs';
import { browserFailures, printFailures, unitFailures } from './failures.mjs';
import { installPackages } from './install.mjs';
import { freePort, startMariaDB } from './mariadb.mjs';
import { runScript } from './plain-error.mjs';
import { DATA, ROOT } from './project.mjs';
import { DESKS, makeDemo, startAll, startEmpty } from './stage.mjs';
import { buildWeb } from './web-build.mjs';

const CHECKS = ['types', 'lint', 'arrows'];
const STEPS = [...CHECKS, 'core', 'server', 'browser'];
/** Steps that have a name together. */
const SEVERAL = { unit: ['core', 'server'] };
/** A database that runs full after a few scenes: all tables share one file that cannot grow. */
const SMALL = ['--innodb-file-per-table=0', '--innodb-data-file-path=ibdata1:12M;ibdata2:9M'];
/** What is written only for tests does not have to outlive a power cut. */
const FLEETING = ['--innodb-flush-log-at-trx-commit=0', '--innodb-doublewrite=0', '--innodb-flush-method=nosync'];
/** Tests make databases of their own, under names of their own. */
const ANY = ['%'];
const { values, positionals } = parseArgs({
  options: { only: { type: 'string', multiple: true }, changed: { type: 'boolean', default: false } },
  allowPositionals: true,
});
const chosen = values.only?.flatMap((step) => SEVERAL[step] ?? [step]);
// What a change touches is found by its imports, so only for what Jest runs.
const wanted = (step) => chosen?.includes(step) ?? !(values.changed && step === 'browser');
/** Of changes that are not committed yet, or else of the last commit. */
const touched = () =>
  execFileSync('git', ['status', '--porcelain'], { cwd: ROOT }).length > 0 ? '--onlyChanged' : '--lastCommit';

/** The priority number of what only computes: it gives way. */
const GIVING_WAY = 10;

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
function printSlowest(files) {
  const seconds = ({ startTime, endTime }) => (endTime - startTime) / 1000;
  const ranked = [...files].sort((a, b) => seconds(b) - seconds(a)).slice(0, 10);
  console.log('\nThe slowest files:');
  for (const file of ranked) console.log(`${seconds(file).toFixed(1).padStart(7)} s  ${relative(ROOT, file.name)}`);
}

/** The databases of the server's tests: one as it should be, one that runs full, one that the tests stop by its process id. */
async function startDatabases(children, folder) {
  const { port, password, entry } = await startMariaDB(children, join(folder, 'unit'), {
    more: FLEETING,
    databases: ANY,
  });
  const small = await startMariaDB(children, join(folder, 'small'), { more: [...FLEETING, ...SMALL], databases: ANY });
  const halting = await startMariaDB(children, join(folder, 'halting'), { more: FLEETING, databases: ANY });
  const env = {
    OLD_ECHO_DB_PORT: String(port),
    OLD_ECHO_DB_PASSWORD: password,
    OLD_ECHO_FULL_DISK_DB_PORT: String(small.port),
    OLD_ECHO_FULL_DISK_DB_PASSWORD: small.password,
    OLD_ECHO_CRASHING_DB_PORT: String(halting.port),
    OLD_ECHO_CRASHING_DB_PASSWORD: halting.password,
    OLD_ECHO_CRASHING_DB_PID: String(halting.entry.child.pid),
  };
  return { env, entries: [entry, small.entry, halting.entry] };
}

/** Starts a demo, an empty server beside it, and says where they are: one such stage for each browser at work. */
async function openStage(children, home) {
  const desks = Object.fromEntries(await Promise.all(Object.keys(DESKS).map(async (id) => [id, await freePort()])));
  makeDemo(home, desks);
  const network = { port: 0, ...(await certificateIn(join(home, 'certificate'))) };
  const at = { ports: desks, port: 0, host: '127.0.0.1', network };
  const { port, networkPort, database, processes } = await startAll(children, home, at);
  const empty = await startEmpty(children, join(home, 'empty'), database);
  return {
    url: `http://127.0.0.1:${port}`,
    network: `https://127.0.0.1:${networkPort}`,
    empty: `http://127.0.0.1:${empty}`,
    home,
    desks,
    processes,
  };
}

/** Starts a loudspeaker that nobody hears; returns where a program that plays finds it. */
async function startLoudspeaker(children, home) {
  mkdirSync(home, { recursive: true, mode: 0o700 });
  const socket = join(home, 'loudspeaker');
  const modules = ['module-null-sink', `module-native-protocol-unix socket=${socket} auth-anonymous=1`];
  const options = ['-n', '--daemonize=no', '--exit-idle-time=-1', '--use-pid-file=no'];
  const entry = children.start(
    'The loudspeaker',
    'pulseaudio',
    [...options, ...modules.flatMap((one) => ['-L', one])],
    {
      env: { HOME: home, XDG_RUNTIME_DIR: home },
    },
  );
  while (!existsSync(socket)) {
    const ended = await Promise.race([entry.ended, new Promise((resolve) => setTimeout(resolve, 100))]);
    if (ended) throw new Error(`The loudspeaker ${ended}. ${entry.lastSaid()}`);
  }
  return `unix:${socket}`;
}

await runScript(async () => {
  needDebian([
    ...(wanted('server') || wanted('browser') ? ['mariadb'] : []),
    ...(wanted('browser') ? ['chromium', 'firefox', 'pulseaudio'] : []),
    ...['ffmpeg', 'flac', 'sox', 'unzip', 'liblo'],
  ]);
  installPackages();
  compile();
  mkdirSync(DATA, { recursive: true });
  // A folder of its own: tests never touch the data of `npm start`.
  const folder = mkdtempSync(join(DATA, 'test-'));
  const children = new Children();
  const total = { passed: 0, failed: 0 };
  const failures = [];
  const count = (name, passed, failed) => {
    total.passed += passed;
    total.failed += failed;
    console.log(`\n${name}: ${passed} passed, ${failed} failed`);
  };
  const building = new AbortController();
  const build = () => buildWeb(building.signal).catch((error) => error);
  let built;
  let clearing;
  const clear = () => (clearing ??= children.endAll().then(() => rmSync(folder, { recursive: true, force: true })));
  // Whoever stops this may have told only this process; what it started ends with it.
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => {
      for (const child of running) child.kill('SIGINT');
      building.abort();
      void clear().then(() => process.exit(1));
    });

  try {
    const runChecks = async () => {
      for (const check of CHECKS.filter(wanted)) {
        if (building.signal.aborted) return;
        const well = await run('npm', ['run', '--silent', check], {}, GIVING_WAY);
        count(check, well ? 1 : 0, well ? 0 : 1);
        if (!well) failures.push(`  ${check}: see what it printed`);
      }
    };
    if (!wanted('core') && !wanted('server')) await runChecks();
    else {
      const databases = wanted('server') ? await startDatabases(children, folder) : { env: {}, entries: [] };
      const jest = async (projects, priority) => {
        const report = join(folder, `${projects[0]}.json`);
        const options = [
          '--runInBand',
          '--passWithNoTests',
          '--forceExit',
          '--json',
          `--outputFile=${report}`,
          '--silent=false',
        ];
        const args = [
          '--selectProjects',
          ...projects,
          ...options,
          ...(values.changed ? [touched()] : []),
          ...positionals,
        ];
        await run(process.execPath, ['node_modules/jest/bin/jest.js', ...args], databases.env, priority);
        return JSON.parse(readFileSync(report, 'utf8'));
      };
      // What only computes gives way to what talks to desks and databases, where time matters.
      const computed = wanted('core') ? jest(['core', 'app'], GIVING_WAY) : undefined;
      const checked = runChecks();
      // What is built for the browser is built while the server's tests still run.
      // Where one of them failed as a whole, that is told below; nothing is left behind unheard.
      if (wanted('browser')) built = Promise.all([computed, checked]).then(build, (error) => error);
      const served = wanted('server') ? jest(['server'], 0) : undefined;
      const reports = (await Promise.all([served, computed, checked])).filter(Boolean);
      const sum = (key) => reports.reduce((all, report) => all + report[key], 0);
      count('unit', sum('numPassedTests'), sum('numFailedTests') + sum('numRuntimeErrorTestSuites'));
      failures.push(...reports.flatMap(unitFailures));
      printSlowest(reports.flatMap(({ testResults }) => testResults));
      await Promise.all(databases.entries.map((entry) => children.end(entry)));
    }
    if (wanted('browser')) {
      const failure = await (built ?? build());
      if (failure) throw failure;
      const stages = [];
      for (const n of [0, 1]) stages.push(await openStage(children, join(folder, `browser-${n}`)));
      const loudspeaker = await startLoudspeaker(children, join(folder, 'sound'));
      const report = join(folder, 'playwright.json');
      await run(
        process.execPath,
        ['node_modules/@playwright/test/cli.js', 'test', '--config', 'e2e/playwright.config.ts', ...positionals],
        {
          OLD_ECHO_STAGES: JSON.stringify(stages),
          OLD_ECHO_LOUDSPEAKER: loudspeaker,
          PLAYWRIGHT_JSON_OUTPUT_FILE: report,
        },
      );
      const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'));
      failures.push(...browserFailures({ suites }));
      // What a test has killed was started again; whatever ended of its own accord is a fault, even where no test saw it.
      const crashed = children.lost.filter(({ how }) => how !== 'was ended by SIGKILL');
      failures.push(...crashed.map(({ name, how }) => `  ${name} ${how}.`));
      count('browser', stats.expected, stats.unexpected + stats.flaky + crashed.length);
    }
  } finally {
    await clear();
  }
  if (total.passed + total.failed === 0) throw new Error(`No test ran; steps are ${STEPS.join(', ')}.`);
  printFailures(failures);
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  if (total.failed > 0) process.exitCode = 1;
});
