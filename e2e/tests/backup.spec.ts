import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

import { expect, test } from '@playwright/test';

import { stage } from './stage';

const folder = mkdtempSync(join(tmpdir(), 'old-echo-backup-'));
const scripts = fileURLToPath(new URL('../../scripts/', import.meta.url));

function run(script: string, home: string, ...args: string[]): { status: number | null; said: string } {
  const env = { ...process.env, OLD_ECHO_HOME: home };
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(scripts, script), ...args], {
    env,
    encoding: 'utf8',
  });
  return { status, said: stdout + stderr };
}

test.describe.configure({ mode: 'serial' });
test.skip(stage.home === '', 'only the data of this run is backed up');

test.afterAll(() => rmSync(folder, { recursive: true }));

const backups = join(folder, 'backups');
const file = () => join(backups, readdirSync(backups)[0]!);

test('a backup is made while it runs, and is read back', async ({ page }) => {
  // A hand rides on meanwhile, and the desk keeps writing down where it is.
  const moves = `http://127.0.0.1:${stage.desks['quay-48']}/moves`;
  const ride = `let n = 0; setInterval(() => fetch('${moves}', { method: 'POST', headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ 'in.3/fader/level': -20 - (n++ % 20) }) }), 20)`;
  const hand = spawn(process.execPath, ['-e', ride]);
  const made = run('backup.mjs', stage.home, backups);
  hand.kill();
  expect(made).toMatchObject({
    status: 0,
    said: expect.stringMatching(/\d+ scenes and \d+ files, read back and whole/),
  });
  expect(readdirSync(backups)).toEqual([expect.stringMatching(/^old-echo-\d{4}-\d\d-\d\d-\d{4}\.tar$/)]);
  // Nothing of the look into it is left, and it goes on.
  expect((await page.request.get('/api/desks')).status()).toBe(200);
});

test('it comes back into an empty place, with every scene of it; over data that is there it does not', () => {
  const home = join(folder, 'home');
  const back = run('restore-backup.mjs', home, file());
  const [scenes] = /\d+ scenes/.exec(back.said) ?? [];
  expect(back.status, back.said).toBe(0);
  expect(run('backup.mjs', home, join(folder, 'again')).said).toContain(scenes);
  const once = run('restore-backup.mjs', home, file());
  expect(once).toMatchObject({
    status: 1,
    said: expect.stringMatching(/There is data in .* already, and nothing was changed/),
  });
  // Without its database it is not begun anew.
  rmSync(join(home, 'mariadb'), { recursive: true });
  const gone = run('backup.mjs', home);
  expect(gone).toMatchObject({ status: 1, said: expect.stringMatching(/nothing to back up/) });
});

test('one that was damaged is told, and nothing comes of it', () => {
  const bytes = readFileSync(file());
  const at = bytes.indexOf('RIFF') + 2000;
  bytes[at] = (bytes[at] ?? 0) ^ 1;
  const damaged = join(folder, 'damaged.tar');
  writeFileSync(damaged, bytes);
  const home = join(folder, 'other');
  expect(run('restore-backup.mjs', home, damaged)).toMatchObject({
    status: 1,
    said: expect.stringMatching(/in the backup is damaged\. Nothing was changed/),
  });
  expect([existsSync(home), existsSync(`${home}.making`)]).toEqual([false, false]);
});
