import { expect, type Page, test } from '@playwright/test';

import { checkAll, hold, toHold } from './press';
import { differing, StandIn } from './stand-in';

const quay = new StandIn('quay-48');

async function openDesk(page: Page): Promise<void> {
  await page.goto('/');
  await expect(page.getByTestId('link-state')).toContainText('Connected');
}

async function openScene(page: Page, number: number): Promise<void> {
  await page.goto('/mixes');
  await page.getByTestId(`scene-${number}`).click();
  await expect(page.getByText(new RegExp(`^Scene ${number} `))).toBeVisible();
}

test.describe.configure({ mode: 'serial' });

test('a strip that is kept safe stays, although everything is asked for, and the preview says why', async ({
  page,
}) => {
  await openDesk(page);
  await page.getByRole('tab', { name: /^Inputs/ }).click();
  await page.getByTestId('strip-in.4').click();
  await page.getByLabel('Keep this strip safe from restores').click();
  await expect(page.getByText('Safe', { exact: true })).toBeVisible();
  await quay.hands({ 'in.4/fader/level': -44, 'in.5/fader/level': -44 });
  await openScene(page, 1);
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await expect(page.getByTestId('sentence')).toContainText('all safe');
  await page.getByRole('button', { name: /^Preview/ }).click();
  await expect(page.getByTestId('strip-in.5')).toBeVisible();
  await expect(page.getByTestId('strip-in.4')).toHaveCount(0);
  await page.getByTestId('skipped').click();
  await expect(page.getByText('Fader · safe').first()).toBeVisible();
  const link = page.url();

  // The address of a preview leads back to the same preview.
  await page.goto(link);
  await expect(page.getByTestId('strip-in.5')).toBeVisible();
  await expect(page.getByTestId('strip-in.4')).toHaveCount(0);

  await page.goto('/desk');
  await page.getByTestId('strip-in.4').click();
  await page.getByLabel('Keep this strip safe from restores').click();
  await expect(page.getByText('Safe', { exact: true })).toBeVisible();
});

test('the preview follows a hand on the desk, and what is restored is what was last shown', async ({ page }) => {
  await openScene(page, 7);
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await page.getByRole('button', { name: /^Preview/ }).click();
  await quay.hands({ 'in.8/fader/level': -51.5 });
  await expect(page.getByTestId('strip-in.8')).toContainText('was −51.5');
  await checkAll(page);
  await hold(page, toHold(page));
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  expect((await quay.settings())['in.8/fader/level']).toBe(-6);
});

test('two people edit one scene: the second is told, keeps what was typed, and decides', async ({ page, browser }) => {
  const other = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  const edit = async (who: Page) => {
    await openScene(who, 3);
    await who.getByRole('button', { name: 'Edit' }).click();
  };
  await edit(page);
  await edit(other);
  await other.getByRole('textbox', { name: 'Note' }).fill('Foyer louder from eight.');
  await other.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(other.getByText('Foyer louder from eight.').first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Note' }).fill('Doors at half past seven.');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText(/Someone else changed/)).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('Doors at half past seven.');
  await expect(page.getByText(/Now reads: .*Foyer louder from eight/)).toBeVisible();
  await page.getByRole('button', { name: 'Save mine instead' }).click();
  await expect(page.getByText('Doors at half past seven.', { exact: true })).toBeVisible();
  await other.close();
});

test('a move on one page is seen on the other within a moment, and so is a new scene', async ({ page, browser }) => {
  const other = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await openDesk(page);
  await openDesk(other);
  await quay.hands({ 'in.6/fader/level': -7.7 });
  for (const who of [page, other]) await expect(who.getByTestId('strip-in.6')).toContainText('−7.7');
  await other.getByRole('button', { name: 'Capture scene' }).click();
  await other.getByTestId('scene-name').fill('Seen by both');
  await other.getByRole('button', { name: 'Capture', exact: true }).click();
  await expect(page.getByTestId('current-scene')).toContainText('Seen by both');
  await other.close();
});

test('search finds strips and scenes, and says so when there are none', async ({ page }) => {
  await openDesk(page);
  await page.getByRole('button', { name: 'Search strips' }).click();
  await page.getByPlaceholder('Search strips').fill('accordion');
  await expect(page.getByText('4 strips found').or(page.getByText('3 strips found'))).toBeVisible();
  await page.getByPlaceholder('Search strips').fill('bagpipe');
  await expect(page.getByText('No strip found')).toBeVisible();
  await page.goto('/mixes');
  await page.getByRole('button', { name: 'Search scenes' }).click();
  await page.getByPlaceholder(/Search names/).fill('soundcheck done');
  await expect(page.getByTestId('scene-2')).toBeVisible();
  await expect(page.getByTestId('scene-5')).toHaveCount(0);
});

test('day and night are remembered', async ({ page }) => {
  const standing = page.getByTestId('current-scene').locator('..');
  await openDesk(page);
  await expect(standing).toHaveCSS('background-color', 'rgb(255, 251, 243)');
  await page.goto('/settings');
  await page.getByRole('tab', { name: 'Night' }).click();
  await openDesk(page);
  await expect(standing).toHaveCSS('background-color', 'rgb(24, 34, 39)');
  await page.reload();
  await expect(standing).toHaveCSS('background-color', 'rgb(24, 34, 39)');
});

test('the link is cut in the middle of a restore: an honest report, and the way back once it returns', async ({
  page,
}) => {
  await openDesk(page);
  const moves: Record<string, number> = {};
  for (let n = 1; n <= 46; n++)
    for (let mix = 1; mix <= 12; mix++) moves[`in.${n}/sends/mix.${mix}/level`] = -40 - (n % 9);
  await quay.hands(moves);
  await expect(page.getByTestId('drift-count')).toHaveText(/^5\d\d$/);
  const before = await quay.settings();
  await page.goto('/mixes');
  await page.locator('[data-testid^=scene-]').first().click();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await page.getByRole('button', { name: /^Preview/ }).click();
  await quay.line({ delay: 250, seed: 8 });
  await checkAll(page);
  await hold(page, toHold(page));
  await quay.freeze(true);
  await expect(page.getByTestId('restore-incomplete')).toBeVisible();
  await expect(page.getByRole('heading', { name: /\d+ of \d+ settings? confirmed/ })).toBeVisible();
  await expect(page.getByText('Quay 48 stopped answering.').first()).toBeVisible();
  for (const name of ['Finish', 'Roll back'])
    await expect(page.getByRole('button', { name, exact: true })).toBeDisabled();
  await quay.line({});
  await quay.freeze(false);
  await expect(page.getByTestId('link-banner')).toBeHidden();
  await page.getByRole('button', { name: 'Roll back', exact: true }).click();
  const nothing = page.getByRole('button', { name: /Nothing to restore/ });
  await expect(
    toHold(page)
      .or(nothing)
      .or(page.getByRole('button', { name: /to answer$/ })),
  ).toBeVisible();
  if (!(await nothing.isVisible())) {
    await checkAll(page);
    await hold(page, toHold(page));
    await expect(page.getByText(/All confirmed/)).toBeVisible();
  }
  expect(differing(before, await quay.settings())).toEqual([]);
});
