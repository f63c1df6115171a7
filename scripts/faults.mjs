import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import { PlainError, runScript } from './plain-error.mjs';
import { DATA, ROOT } from './project.mjs';

/** Tests that do harm, and tell what came of it. */
const TESTS = [
  'server/test/recall/(faults|clocks)',
  'server/test/jobs/killed-jobs',
  'server/test/database/silent-database',
  'server/test/http/fuzz',
  'core/test',
  'stand-in/test/carried-out',
];
const PAGE = join(ROOT, 'docs', 'faults.md');
const ROWS = join(DATA, 'fault-rows.md');

await runScript(async () => {
  mkdirSync(DATA, { recursive: true });
  rmSync(ROWS, { force: true });
  const wanted = process.argv.slice(2);
  const done = spawnSync(
    process.execPath,
    [join(ROOT, 'scripts', 'test.mjs'), '--only', 'unit', '--', ...(wanted.length > 0 ? wanted : TESTS)],
    { stdio: 'inherit', env: { ...process.env, OLD_ECHO_FAULT_TESTS: 'full', OLD_ECHO_FAULT_TABLE: ROWS } },
  );
  if (done.status !== 0) throw new PlainError('Something did not hold; docs/faults.md stays as it was.');
  // A part of the tests says nothing of the others.
  if (wanted.length > 0) return;
  const table = /\| fault \|[^]*?\n(?=\n|$)/;
  const rows = readFileSync(ROWS, 'utf8');
  const head = '| fault | done | outcome |\n| --- | --- | --- |\n';
  writeFileSync(PAGE, readFileSync(PAGE, 'utf8').replace(table, () => head + rows));
  console.log('docs/faults.md has the table of this run.');
});
