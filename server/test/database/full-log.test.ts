import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';

const ROOT = join(__dirname, '..', '..', '..');
/** A file of Linux on which nothing can be written: there is no room on it. */
const FULL = '/dev/full';
const PROGRAM = `
  import { Children } from './scripts/children.mjs';
  const speaks = 'console.log("one"); setTimeout(() => console.log("two"), 100)';
  const { ended, said } = new Children().start('A part', process.execPath, ['-e', speaks], { log: '${FULL}' });
  console.log(await ended, said().split('\\n'));
`;

let said: string;
beforeAll(() => {
  said = execFileSync(process.execPath, ['--input-type=module', '-e', PROGRAM], { cwd: ROOT, encoding: 'utf8' });
});

test('a full disk, on which no log can be kept, ends neither what speaks nor what listens to it', () => {
  expect(existsSync(FULL)).toBe(true);
  expect(said).toBe("ended with 0 [ 'one', 'two' ]\n");
});
