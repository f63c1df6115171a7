import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

import { expect, type Page, test } from '@playwright/test';

import { type Desk, deskNamed, read } from './from-server';
import { stage } from './stage';
import { differing, StandIn } from './stand-in';

const skiff = new StandIn('skiff-16');
/** The file that ships with the demo. */
const profile = fileURLToPath(new URL('../../demo/profiles/skiff-16.json', import.meta.url));

test.describe.configure({ mode: 'serial' });
test.skip(!stage.empty, 'the tests start a second, empty server; by hand there is none');
test.use({ baseURL: stage.empty });

const link = (page: Page) => page.getByTestId('link-state');
const field = (page: Page, name: 'name' | 'host' | 'port') => page.getByTestId(`desk-${name}`);

/** Brings a profile in on the page that adds a desk. */
async function profileFile(
  page: Page,
  file: string | { name: string; mimeType: string; buffer: Buffer },
): Promise<void> {
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: /^From a profile file/ }).tap(),
  ]);
  await chooser.setFiles(file);
}

test('from an Old Echo without its model: the profile is brought, the link tried, the desk added and its knobs followed', async ({
  page,
}) => {
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Add a desk' }).tap();
  const source = JSON.parse(readFileSync(profile, 'utf8')) as { families: { count: number }[] };
  const bad = { ...source, families: [{ ...source.families[0]!, count: 0 }] };
  await profileFile(page, { name: 'bad.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(bad)) });
  await expect(page.getByText(/not readable at families\[0\]\.count/)).toBeVisible();
  await profileFile(page, profile);
  await expect(page.getByRole('radio', { name: 'Skiff 16' })).toBeChecked();
  await field(page, 'name').fill('Skiff on the pier');
  await field(page, 'host').fill('127.0.0.1');

  // A port where nothing is, then that of a desk.
  await field(page, 'port').fill('4');
  await page.getByRole('button', { name: 'Try the link' }).tap();
  await expect(page.getByTestId('link-trial')).toHaveText('No desk listens at 127.0.0.1:4.');
  await field(page, 'port').fill(String(stage.desks['skiff-16']));
  await page.getByRole('button', { name: 'Try the link' }).tap();
  await expect(page.getByTestId('link-trial')).toHaveText('Skiff 16 answers');
  await expect(page.getByText(/^All \d+ settings answered\.$/)).toBeVisible();

  // Left in the middle and opened fresh, nothing that was typed is gone.
  await page.reload();
  await expect(field(page, 'name')).toHaveValue('Skiff on the pier');
  await page.getByRole('button', { name: 'Add desk' }).tap();
  await page.waitForURL(/\/desk\/[0-9A-Z]{26}$/);
  await expect(link(page)).toContainText('Connected');
  const level = page.getByTestId('strip-in.2').getByText('−21.0');
  const before = await skiff.settings();
  await skiff.hands({ 'in.2/fader/level': -21 });
  await expect(level).toBeVisible();
  await skiff.hands({ 'in.2/fader/level': before['in.2/fader/level'] });
});

test('a desk that is in use elsewhere and says it is there is offered, and chosen at one touch', async ({ page }) => {
  await page.goto('/add-desk');
  const port = String(stage.desks['boathouse']);
  await page.getByRole('button', { name: /^Find it on the network/ }).tap();
  await page
    .getByRole('dialog')
    .getByRole('radio', { name: 'Boathouse' })
    .filter({ hasText: `127.0.0.1:${port}` })
    .tap();
  await expect(field(page, 'port')).toHaveValue(port);
  await expect(field(page, 'host')).toHaveValue('127.0.0.1');
});

test('a second one is not added at its address; renamed, moved away and back, it is found again', async ({ page }) => {
  const desk = await deskNamed(page, 'Skiff on the pier');
  const port = String(stage.desks['skiff-16']);
  await page.goto('/add-desk');
  await page.getByRole('radio', { name: 'Skiff 16' }).tap();
  await field(page, 'host').fill('127.0.0.1');
  await field(page, 'port').fill(port);
  await page.getByRole('button', { name: 'Add desk' }).tap();
  await expect(page.getByText(`Skiff on the pier is at 127.0.0.1:${port}.`)).toBeVisible();

  await page.goto(`/desk/${desk.id}/place`);
  await field(page, 'name').fill('Skiff in the hall');
  await field(page, 'port').fill('4');
  await page.getByRole('button', { name: 'Save', exact: true }).tap();
  await page.goto(`/desk/${desk.id}`);
  await expect(link(page)).toContainText('Not connected');
  await page.goto(`/desk/${desk.id}/place`);
  await field(page, 'name').fill('Skiff on the pier');
  await field(page, 'port').fill(port);
  await page.getByRole('button', { name: 'Save', exact: true }).tap();
  await page.goto(`/desk/${desk.id}`);
  await expect(link(page)).toContainText('Connected');
});

test('removed at one touch it is out of use and nothing reaches it; the undo, or the settings, bring it back', async ({
  page,
}) => {
  const desk = await deskNamed(page, 'Skiff on the pier');
  const isInUse = async () =>
    (await read<Desk & { removedAt: string | null }>(page, `/desks/${desk.id}`)).removedAt === null;
  const before = await skiff.settings();
  const outOfUse = page.getByText('Skiff on the pier · out of use');
  const remove = async () => {
    await page.goto(`/desk/${desk.id}/place`);
    await page.getByRole('button', { name: 'Remove Skiff on the pier' }).tap();
    await expect(outOfUse).toBeVisible();
  };
  await remove();
  await page.getByRole('button', { name: 'Undo' }).tap();
  await expect(outOfUse).toBeHidden();
  await expect.poll(isInUse).toBe(true);
  await remove();
  await page.goto(`/desk/${desk.id}`);
  await expect(page.getByTestId('link-banner')).toContainText('Skiff on the pier is out of use.');
  expect(differing(before, await skiff.settings())).toEqual([]);
  await page.getByRole('button', { name: 'Bring it back in the settings' }).tap();
  await page.getByRole('button', { name: 'Bring back Skiff on the pier' }).tap();
  await expect(outOfUse).toBeHidden();
  await page.goto(`/desk/${desk.id}`);
  await expect(link(page)).toContainText('Connected');
});

test.describe('a desk with an OSC of its own', () => {
  const file = (path: string) => fileURLToPath(new URL(`../../${path}`, import.meta.url));
  const map = file('demo/foreign/weir-16.json');
  const args = ['--scheme', 'weir', '--profile', map, '--port', '0'];
  let weir: ChildProcess;
  let port: string;

  test.beforeAll(async () => {
    const program = spawn(process.execPath, [file('stand-in/dist/main.mjs'), ...args], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    weir = program;
    port = await new Promise<string>((resolve) =>
      program.stdout.on('data', (told: Buffer) => resolve(/port (\d+)/.exec(told.toString())?.[1] ?? '')),
    );
  });

  test.afterAll(() => void weir.kill());

  test('is added by its map alone, read, and moved', async ({ page }) => {
    await page.goto('/add-desk');
    await profileFile(page, map);
    await expect(page.getByRole('radio', { name: 'Weir 16' })).toBeChecked();
    await field(page, 'host').fill('127.0.0.1');
    await field(page, 'port').fill(port);
    await page.getByRole('button', { name: 'Try the link' }).tap();
    await expect(page.getByTestId('link-trial')).toHaveText('Weir 16 answers');
    await expect(page.getByText('All 518 settings answered.')).toBeVisible();
    await field(page, 'name').fill('At the weir');
    await page.getByRole('button', { name: 'Add desk' }).tap();
    await page.waitForURL(/\/desk\/[0-9A-Z]{26}$/);
    await expect(link(page)).toContainText('Connected');
    const { id } = await deskNamed(page, 'At the weir');
    const moved = await page.request.post(`/api/desks/${id}/settings`, {
      data: { settings: { 'in.2/fader/level': -60, 'in.2/label/name': 'Sluice' }, confirmed: [] },
    });
    expect(await moved.json()).toEqual({ unconfirmed: [] });
    await expect(page.getByTestId('strip-in.2')).toContainText('Sluice');
    await expect(page.getByTestId('strip-in.2').getByText('−60.0')).toBeVisible();
    await page.request.post(`/api/desks/${id}/remove`, { data: {} });
  });
});
