import { expect, test, type Page } from '@playwright/test';

interface Scene {
  readonly id: string;
  readonly name: string;
}

/** The scenes of the demo's song by name. */
async function scenesOf(page: Page): Promise<(name: string) => string> {
  const productions = (await (await page.request.get('/api/productions')).json()) as Scene[];
  const song = productions.find(({ name }) => name === 'Lanterns on the Quay')!;
  const { scenes } = (await (await page.request.get(`/api/productions/${song.id}/scenes?limit=100`)).json()) as {
    scenes: Scene[];
  };
  return (name) => scenes.find((scene) => scene.name === name)!.id;
}

async function compare(page: Page, a: string, ...others: string[]): Promise<void> {
  const id = await scenesOf(page);
  await page.goto(`/compare?a=${id(a)}&b=${others.map(id).join(',')}`);
  await expect(page.getByTestId('sentence')).toContainText('B differs in');
}

test('two scenes: the gist, the picture, the strip’s own page, and what one hears most first', async ({ page }) => {
  await compare(page, 'Static balance', 'Fiddle forward');
  await expect(page.getByTestId('side-A')).toContainText('2 Static balance');
  await expect(page.getByTestId('sentence')).toContainText('B differs in 31 settings on 11 strips.');
  const fader = page.getByTestId('cell-in.1/fader');
  await expect(fader).toHaveAttribute('aria-label', 'Fiddle, Fader: −8.0 to −4.5 dB');
  await fader.click();
  await expect(page.getByTestId('detail-in.1/fader')).toContainText('−8.0 to −4.5 dB');
  await expect(page.getByRole('img', { name: 'EQ curve; the two differ' })).toBeVisible();
  // The link opens the same comparison again.
  await page.reload();
  await expect(page.getByTestId('detail').getByText('Fiddle', { exact: true })).toBeVisible();
});

test('keys: the next difference, swapped, one scene older', async ({ page }) => {
  await compare(page, 'Static balance', 'Fiddle forward');
  const name = () => page.getByTestId('detail').locator('[role="heading"]').first().textContent();
  const first = await name();
  await page.keyboard.press('n');
  await page.keyboard.press('n');
  await page.keyboard.press('p');
  await page.keyboard.press('p');
  expect(await name()).toBe(first);
  await page.keyboard.press('v');
  await expect(page.getByTestId('side-A')).toContainText('7 Fiddle forward');
  await expect(page.getByTestId('cell-in.1/fader')).toHaveAttribute('aria-label', 'Fiddle, Fader: −4.5 to −8.0 dB');
  await page.keyboard.press('{');
  await expect(page.getByTestId('side-B')).toContainText('1 Rough balance');
});

test('one against two others; filters; levels and outputs', async ({ page }) => {
  await compare(page, 'Static balance', 'Fiddle forward', 'Voice rides');
  await page.getByRole('tab', { name: /5 Voice rides · 13 settings/ }).click();
  await expect(page.getByTestId('side-B')).toContainText('5 Voice rides');
  await page.getByRole('tab', { name: /7 Fiddle forward/ }).click();
  await page.getByRole('checkbox', { name: 'Effect returns' }).click();
  await expect(page.getByTestId('cell-in.1/fader')).toHaveCount(0);
  await expect(page.getByTestId('cell-fx.2/fader')).toBeVisible();
  await page.getByRole('checkbox', { name: 'Effect returns' }).click();
  await page.getByRole('tab', { name: 'Levels' }).click();
  await expect(page.getByTestId('levels')).toContainText('Fiddle');
  await page.getByRole('tab', { name: 'Outputs' }).click();
  await expect(page.getByTestId('outputs')).toContainText('Main mix');
});

test('a scene against the desk, chosen on the screen; two kinds of desk are told apart', async ({ page }) => {
  const id = await scenesOf(page);
  await page.goto(`/compare?a=${id('Static balance')}&b=${id('Fiddle forward')}`);
  await page.getByTestId('side-B').click();
  await page.getByRole('radio', { name: '5 Voice rides' }).click();
  await expect(page.getByTestId('sentence')).toContainText('B differs in 13 settings');
  await page.goto(`/compare?a=${id('Static balance')}&b=now`);
  await expect(page.getByText('Two kinds of desk')).toBeVisible();
});

test('by ear: both mixes are worked out, matched in level, switched, measured and tested blind', async ({ page }) => {
  test.setTimeout(300_000);
  await compare(page, 'Static balance', 'Fiddle forward');
  await page.getByRole('button', { name: 'Listen to A and B' }).click();
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible({ timeout: 90_000 });
  await expect(page.getByTestId('sentence')).toContainText(/B is \d\.\d LU (louder|softer) and differs in 31 settings/);
  await expect(page.getByRole('checkbox', { name: 'Matched' })).toBeChecked();
  await expect(page.getByText(/^[AB] −\d\.\d dB$/)).toBeVisible();
  await page.getByRole('button', { name: 'Play' }).click();
  await page.getByRole('button', { name: 'Hear B' }).click();
  await expect(page.getByText(/^B playing/)).toBeVisible();
  await page.keyboard.press('x');
  await expect(page.getByText(/^A playing/)).toBeVisible();
  await page.getByRole('tab', { name: 'Sound' }).click();
  await expect(page.getByTestId('sound-charts')).toContainText('LUFS');
  await page.getByRole('button', { name: 'Blind' }).click();
  for (let i = 0; i < 10; i++) await page.getByRole('button', { name: 'X is A' }).click();
  await page.getByRole('button', { name: 'Show the result' }).click();
  await expect(page.getByTestId('blind-result')).toContainText(/\d+ of 10 right, p = \d\.\d{3}/);
});

test.describe('wide', () => {
  test.use({ viewport: { width: 1280, height: 800 } });
  test('all strips and sections, with the strip beside them', async ({ page }) => {
    await compare(page, 'Static balance', 'Fiddle forward');
    await expect(page.getByTestId('cell-picture').getByText('Shaker', { exact: true })).toBeVisible();
    await page.getByTestId('difference-in.1/eq').click();
    await expect(page.getByTestId('detail-in.1/eq')).toBeVisible();
  });
});
