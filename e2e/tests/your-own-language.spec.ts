import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';

import { expect, type Page, test } from '@playwright/test';

import type { RestoreView } from '@old-echo/core/contracts/restore';
import { fewValues, lessonsOf } from '@old-echo/core/desk/learn/lessons';
import { parseProfile, specOf } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';

import { capture, deskNamed, ownProduction, read } from './from-server';
import { stage } from './stage';

test.describe.configure({ mode: 'serial' });
test.skip(!stage.empty, 'the tests start a second, empty server; by hand there is none');
test.use({ baseURL: stage.empty });

const file = (path: string) => fileURLToPath(new URL(`../../${path}`, import.meta.url));
/** What the desk has, without a word of how it is spoken to. */
const { link: _, ...source } = JSON.parse(readFileSync(file('demo/foreign/weir-16.json'), 'utf8')) as Record<
  string,
  unknown
>;
const weir = parseProfile({ ...source, id: 'weir-unmapped', name: 'Weir, unmapped' });

let program: ChildProcess;
let port: number;

test.beforeAll(async () => {
  port = await new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const at = server.address();
      server.close(() => resolve(typeof at === 'object' && at ? at.port : 0));
    });
  });
  const args = ['--scheme', 'weir', '--profile', file('demo/foreign/weir-16.json')];
  program = spawn(
    process.execPath,
    [file('stand-in/dist/main.mjs'), ...args, '--port', `${port}`, '--control', `${port}`],
    {
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  );
  await new Promise((resolve) => program.stdout?.once('data', resolve));
});

test.afterAll(() => void program.kill());

const tell = (page: Page, what: string, data: object) =>
  page.request.post(`http://127.0.0.1:${port}/${what}`, { data });
const stood = async (page: Page): Promise<Record<string, Value>> =>
  (await (await page.request.get(`http://127.0.0.1:${port}/settings`)).json()) as Record<string, Value>;

const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name, exact: true });
const lesson = (page: Page) => page.getByTestId('lesson');

/** What the desk's list of messages says of controls that do not answer at their own address. */
const questionFor = (setting: string): string | undefined => {
  const [, family, n = ''] = /^(in|mix|main)\.(\d+)\/label\/name$/.exec(setting) ?? [];
  const at = { in: `/row/${n.padStart(2, '0')}`, mix: `/out/${n}`, main: '/whole' }[family ?? ''];
  return at && `/tell/called ${at}`;
};

const endsOf = (setting: string): Value[] => fewValues(specOf(weir, setting)!);

/** Puts a control somewhere, from somewhere else. */
async function hand(page: Page, setting: string, value: Value): Promise<void> {
  const other = endsOf(setting).find((one) => one !== value);
  await tell(page, 'moves', { [setting]: other });
  await tell(page, 'moves', { [setting]: value });
}

test('a desk that nobody knows the language of is learned by moving its controls, one by one', async ({ page }) => {
  await page.goto('/add-desk');
  await button(page, /^It has an OSC of its own/).tap();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: /^From a profile file/ }).tap(),
  ]);
  const bare = { ...source, id: 'weir-unmapped', name: 'Weir, unmapped' };
  await chooser.setFiles({
    name: 'weir.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(bare)),
  });
  await expect(page.getByRole('radio', { name: 'Weir, unmapped' })).toBeChecked();
  await page.getByTestId('desk-host').fill('127.0.0.1');
  await page.getByTestId('desk-port').fill(String(port));
  await page.getByTestId('learn-say').fill('/there');
  await button(page, 'Listen').tap();
  await expect(page.getByTestId('heard')).toContainText('/there/yes');

  const lessons = lessonsOf(weir);
  const learned = new Set<string>();
  let moves = 0;
  await button(page, /^Next: /).tap();
  for (const one of lessons) {
    const key = one.pattern.slice(one.pattern.indexOf('/'));
    const values = learned.has(key) ? fewValues(one.spec) : one.values;
    for (const [i, value] of values.entries()) {
      await expect(page.getByText(`Value ${i + 1} of ${values.length}`)).toBeVisible();
      await hand(page, one.shown.setting, value);
      await button(page, 'It stands there').tap();
    }
    const asked = lesson(page).getByRole('heading');
    let last = '';
    for (const neighbour of one.neighbours) {
      await expect(lesson(page)).toContainText('Now move the same control elsewhere');
      await expect(asked).not.toHaveText(last);
      last = (await asked.textContent()) ?? '';
      const now = (await stood(page))[neighbour.setting];
      await hand(page, neighbour.setting, endsOf(neighbour.setting).find((value) => value !== now) ?? '');
      await button(page, 'Moved').tap();
    }
    moves += values.length + one.neighbours.length;
    learned.add(key);
    await expect(page.getByText('Learned', { exact: true })).toBeVisible();
    // In the middle of it the page is opened fresh: what was learned is still there.
    await button(page, 'Keep it').tap();
    const question = questionFor(one.shown.setting);
    if (question) {
      const field = page.getByTestId('question');
      await field.fill('/tell/nothing 1');
      await button(page, 'Ask').tap();
      await expect(page.getByText(/^Nothing that arrived says how .+ stands\.$/)).toBeVisible();
      await field.fill(question);
      await button(page, 'Ask').tap();
      await expect(field).toBeHidden();
    }
    if (learned.size === 5 && one === lessons[4]) {
      await expect(page.getByText('Value 1 of')).toBeVisible();
      await page.reload();
      await expect(page.getByText(`5 of ${lessons.length} kinds of control learned`)).toBeVisible();
      await button(page, /^Next: /).tap();
    }
  }
  console.log(
    `${lessons.length} kinds of control, ${Object.keys(await stood(page)).length} settings, learned by ${moves} moves`,
  );
  await button(page, 'Use what was learned').tap();
  await expect(page.getByText('All of them can be asked for.')).toBeVisible();
  await page.getByTestId('desk-name').fill('Weir, learned');
  await page.getByTestId('learn-pace').fill('4000');
  await button(page, 'Add desk').tap();
  await page.waitForURL(/\/desk\/[0-9A-Z]{26}$/);
  await expect(page.getByTestId('link-state')).toContainText('Connected');
});

/** Somewhere else for everything. */
const elsewhere = (before: Readonly<Record<string, Value>>): Record<string, Value> =>
  Object.fromEntries(
    Object.entries(before).map(([setting, value]): [string, Value] => {
      if (typeof value === 'boolean') return [setting, !value];
      if (setting.endsWith('/tap')) return [setting, value === 'pre' ? 'post' : 'pre'];
      if (setting.endsWith('/name')) return [setting, value === 'Wren' ? 'Tam' : 'Wren'];
      if (typeof value === 'string') return [setting, value === 'none' ? 'Socket 1' : 'none'];
      if (typeof value !== 'number') return [setting, value];
      return [setting, setting.endsWith('/level') ? (value === -12 ? -20 : -12) : value / 2 + 2];
    }),
  );

test('it is captured and restored, on a bad line too', async ({ page }) => {
  const desk = await deskNamed(page, 'Weir, learned');
  const { versions } = await ownProduction(page, desk, 'Learned');
  const before = await stood(page);
  const scene = await capture(page, desk, versions[0]!.id, 'As learned');
  const recall = { deskId: desk.id, sceneId: scene, scope: [{ strips: ['*'], sections: ['*'], include: true }] };
  for (const loss of [0, 0.1]) {
    const moved = elsewhere(before);
    await tell(page, 'moves', moved);
    const seen = async () => {
      const state = await read<Record<string, Record<string, Value>>>(page, `/desks/${desk.id}/state`);
      const now = await stood(page);
      return Object.keys(moved).filter((setting) => {
        const at = setting.indexOf('/');
        const [here, there] = [state[setting.slice(0, at)]?.[setting.slice(at + 1)], now[setting]];
        return typeof there === 'number' ? Math.abs(Number(here) - there) > 0.6 : here !== there;
      });
    };
    await expect.poll(seen).toEqual([]);
    const looked = await page.request.post(`/api/desks/${desk.id}/previews`, { data: recall });
    const { fingerprint, cautions } = (await looked.json()) as { fingerprint: string; cautions: { id: string }[] };
    await tell(page, 'network-faults', { loss, seed: 5 });
    const begun = await page.request.post(`/api/desks/${desk.id}/restores`, {
      data: { recall, fingerprint, answers: cautions.map((caution) => ({ id: caution.id, way: 'checked' })) },
    });
    expect(begun.status(), await begun.text()).toBe(202);
    const restore = ((await begun.json()) as { id: string }).id;
    const ended = () => read<RestoreView>(page, `/restores/${restore}`);
    await expect.poll(async () => (await ended()).status).toBe('confirmed');
    await tell(page, 'network-faults', {});
    const { report } = await ended();
    expect(report?.unconfirmed).toEqual([]);
    expect(report?.confirmed).toBeGreaterThan(500);
    console.log(
      `${report?.confirmed} settings of a learned desk restored in ${report?.milliseconds} ms at a loss of ${loss}`,
    );
    const after = await stood(page);
    const differs = Object.keys(before).filter((setting) =>
      typeof before[setting] === 'number'
        ? Math.abs(before[setting] - Number(after[setting])) > 0.5
        : before[setting] !== after[setting],
    );
    expect(differs).toEqual([]);
  }
});
