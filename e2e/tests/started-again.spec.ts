import { setTimeout as pause } from 'node:timers/promises';

import { expect, type Page, test } from '@playwright/test';

import { stage } from './stage';
import { differing, StandIn } from './stand-in';

const quay = new StandIn('quay-48');
/** Ends a part as a power cut would. */
const kill = (name: string): boolean => process.kill(stage.processes[name]!, 'SIGKILL');
const banner = (page: Page) => page.getByTestId('link-banner');

async function capture(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Capture scene' }).click();
  await page.getByTestId('scene-name').fill(name);
  await page.getByRole('button', { name: 'Capture', exact: true }).click();
}

test.describe.configure({ mode: 'serial' });
test.skip(Object.keys(stage.processes).length === 0, 'only what this run has started is ended');

test.beforeEach(async ({ page }) => {
  await page.goto('/');
  await expect(page.getByTestId('link-state')).toContainText('Connected');
  await expect(page.getByTestId('drift-count')).toHaveText(/^\d+$/);
});

test('a desk that ends ends nothing else; it comes back as it stood, and is heard', async ({ page }) => {
  await quay.hands({ 'in.5/fader/level': -31 });
  await expect(page.getByTestId('strip-in.5')).toContainText('−31.0');
  // The desk has had time to keep it.
  await expect.poll(() => quay.settings().then((all) => all['in.5/fader/level'])).toBe(-31);
  await pause(600);
  const before = await quay.settings();
  kill('The stand-in for quay-48');
  // It may be back before anybody has missed it; what it does then is heard.
  await expect
    .poll(() =>
      quay.settings().then(
        (all) => differing(before, all),
        () => 'gone',
      ),
    )
    .toEqual([]);
  await quay.hands({ 'in.5/fader/level': -33 });
  await expect(page.getByTestId('strip-in.5')).toContainText('−33.0');
  await expect(banner(page)).toBeHidden();
});

test('the server ends under an open page, which says so and goes on by itself', async ({ page }) => {
  const scene = await page.getByTestId('current-scene').textContent();
  kill('The server');
  await expect(banner(page)).toContainText('Can’t reach the server');
  await expect(banner(page)).toBeHidden();
  await expect(page.getByTestId('link-state')).toContainText('Connected');
  await expect(page.getByTestId('current-scene')).toHaveText(scene ?? '');
  await capture(page, 'After the server');
  await expect(page.getByTestId('current-scene')).toContainText('After the server');
});

test('the database ends: hands go on, and what was captured before is there afterwards', async ({ page }) => {
  await capture(page, 'Before the database');
  await expect(page.getByTestId('current-scene')).toContainText('Before the database');
  kill('MariaDB');
  await quay.hands({ 'in.5/fader/level': -28 });
  await expect(page.getByTestId('strip-in.5')).toContainText('−28.0');
  await expect
    .poll(async () => (await page.request.get('/api/productions').catch(() => undefined))?.status())
    .toBe(200);
  await page.reload();
  await expect(page.getByTestId('current-scene')).toContainText('Before the database');
  await capture(page, 'After the database');
  await expect(page.getByTestId('current-scene')).toContainText('After the database');
});
