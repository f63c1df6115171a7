import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import { PlainError, runScript } from './plain-error.mjs';
import { DATA, ROOT } from './project.mjs';

/** Tests that do harm, and tell what came of it. */
const TESTS = [
  'server/test/recall/(faults|mapped-faults|killed|clocks|wild-night)',
  'server/test/files/spoiled',
  'server/test/(jobs|sound)/killed',
  'server/test/database/silent-database',
  'server/test/http/fuzz',
  'core/test',
  'stand-in/test/carried-out',
];
const PAGE = join(ROOT, 'docs', 'faults.md');
const ROWS = join(DATA, 'fault-rows.md');

/** What a row is of: its fault, and what was done where that is one of several ways. */
const keyOf = (row) => {
  const [fault = '', done = ''] = row.split(' | ');
  return /\d/.test(done) ? fault : `${fault} | ${done}`;
};

/** The page with rows in the place of those of the same fault, and new ones at the end of the table. */
function withRows(page, rows) {
  const lines = page.split('\n');
  for (const row of rows) {
    const at = lines.findIndex((line) => line.startsWith('| ') && keyOf(line) === keyOf(row));
    if (at >= 0) lines[at] = row;
    else lines.splice(lines.findLastIndex((line) => line.startsWith('| ')) + 1, 0, row);
  }
  return lines.join('\n');
}

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
  writeFileSync(PAGE, withRows(readFileSync(PAGE, 'utf8'), readFileSync(ROWS, 'utf8').trim().split('\n')));
  console.log('docs/faults.md has the table of this run.');
});
