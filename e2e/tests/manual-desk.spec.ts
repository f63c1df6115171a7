import { expect, type Page, test } from '@playwright/test';

import { capture, type Desk, deskNamed, productionNamed, read } from './from-server';
import { checkAll } from './press';
import { counted, countOn, printTouches } from './touches';

test.describe.configure({ mode: 'serial' });

type State = Readonly<Record<string, Readonly<Record<string, unknown>>>>;

const desk = (page: Page): Promise<Desk> => deskNamed(page, 'Netloft 24');
const stateOf = async (page: Page): Promise<State> => read<State>(page, `/desks/${(await desk(page)).id}/state`);
const enter = async (page: Page, settings: Record<string, unknown>) =>
  page.request.post(`/api/desks/${(await desk(page)).id}/settings`, { data: { settings } });
const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name, exact: true });
const title = (page: Page) => page.getByRole('heading', { level: 1 });

/** Says by its keyboard where a control stands. */
async function type(page: Page, control: string, value: string): Promise<void> {
  await page.getByRole('button', { name: new RegExp(`^${control}: .*, type it$`) }).tap();
  await page.getByTestId('typed-value').fill(value);
  await button(page, 'Set').tap();
}

test.afterAll(printTouches);

test('the old desk of 24 strips and its rack are captured by eye: only what differs is touched', async ({ page }) => {
  await countOn(page);
  await page.goto(`/desk/${(await desk(page)).id}`);
  await expect(page.getByTestId('link-state')).toContainText('By hand');
  const total = Object.keys(await stateOf(page)).length;
  // At three seconds to read a strip and one for each touch, that is under four minutes.
  await counted(page, { job: 'a desk of 37 strips by eye, 20 settings differ', by: 'touches', most: 110 }, async () => {
    await button(page, 'Capture by eye').tap();
    for (let at = 1; at <= total; at++) {
      await expect(page.getByText(new RegExp(`strip ${at} of ${total}$`))).toBeVisible();
      if (at <= 8) await type(page, 'Level', String(-10 - at));
      if (at === 3 || at === 4) await page.getByRole('switch', { name: 'Muted' }).tap();
      if (at >= 9 && at <= 16) await button(page, 'Level up').tap();
      if (at === 35 || at === 36) await type(page, 'Threshold', '-12');
      if (at < total) await button(page, /^(Next strip|As it was, next)$/).tap();
    }
    await button(page, 'Capture scene').tap();
    await button(page, 'Capture').tap();
    await expect(page.getByText(/^Captured 4 .*Every setting saved\.$/)).toBeVisible();
  });
  const state = await stateOf(page);
  expect([1, 8].map((n) => state[`in.${n}`]?.['fader/level'])).toEqual([-11, -18]);
  expect([state['in.3']?.['mute/on'], state['rack.2']?.['compressor/threshold']]).toEqual([true, -12]);
});

test('what is left in the middle is where it was, and a name is given on the way', async ({ page }) => {
  await page.goto(`/desk/${(await desk(page)).id}/by-eye`);
  await page.getByRole('tab', { name: 'Rack' }).tap();
  await expect(title(page)).toHaveText('Left compressor');
  await button(page, /^(Next strip|As it was, next)$/).tap();
  await page.getByRole('button', { name: 'Right compressor: rename' }).tap();
  await page.getByTestId('typed-value').fill('Mix right');
  await button(page, 'Set').tap();
  await expect(title(page)).toHaveText('Mix right');
  await page.reload();
  await expect(title(page)).toHaveText('Mix right');
  await enter(page, { 'rack.2/label/name': 'Right compressor' });
});

test('a scene comes back strip by strip, is left on one phone and ended on another', async ({
  page,
  browser,
  baseURL,
}) => {
  const { id } = await desk(page);
  const { versions } = await productionNamed(page, 'Low water');
  const scene = await capture(page, await desk(page), versions[0]!.id, 'Before the walk');
  await enter(page, {
    'in.1/fader/level': -2,
    'in.2/fader/level': -40,
    'in.5/mute/on': true,
    'in.9/eq/low/gain': 6,
    'in.9/fader/level': -30,
  });
  await page.goto(`/restore/${scene}/preview?desk=${id}`);
  await expect(page.getByText('All of it is set by hand')).toBeVisible();
  await checkAll(page);
  await button(page, 'Restore 5 settings').tap();

  // What falls comes first, then the rest, and the unmute at the end.
  await expect(page.getByText('0 of 5 settings set')).toBeVisible();
  await expect(title(page)).toHaveText('Fiddle');
  await page.getByRole('checkbox', { name: /^Fader set to/ }).tap();
  await expect(page.getByText('1 of 5 settings set')).toBeVisible();
  await button(page, 'Next').tap();
  await expect(title(page)).toHaveText('Fiddle room');
  await button(page, 'Skip').tap();
  await expect(title(page)).toHaveText('Wren vox');
  await page.getByRole('checkbox', { name: /^EQ low gain could not be set$/i }).tap();
  await button(page, 'Rest set, next').tap();
  await expect(title(page)).toHaveText('Upright bass DI');
  await expect
    .poll(async () => (await stateOf(page))['in.9'])
    .toMatchObject({
      'eq/low/gain': 6,
      'fader/level': expect.any(Number),
    });
  const address = page.url();

  // Another phone goes on where this one was left, and this one sees it.
  const other = await browser.newContext({
    baseURL: baseURL ?? '',
    viewport: { width: 390, height: 844 },
    hasTouch: true,
  });
  const second = await other.newPage();
  await second.goto(`/desk/${id}`);
  await second.getByTestId('unfinished').tap();
  await expect(second).toHaveURL(address);
  await expect(title(second)).toHaveText('Fiddle room');
  await button(second, 'All set, next').tap();
  await expect(page.getByText('3 of 5 settings set, 1 could not be')).toBeVisible();
  await button(second, 'Next').tap();
  await button(second, 'All set, next').tap();
  await expect(title(second)).toHaveText('The end of the walk');
  await expect(second.getByText('Could not be set')).toBeVisible();
  await button(second, 'End the walk').tap();
  await expect(second.getByTestId('restore-incomplete')).toContainText('Could not be set by hand.');
  await expect(page.getByTestId('restore-incomplete')).toBeVisible();
  await other.close();

  // The rest of it is a walk of one stop.
  await button(page, 'Finish').tap();
  await checkAll(page);
  await button(page, 'Finish 1 setting').tap();
  await button(page, 'All set, next').tap();
  await button(page, 'End the walk').tap();
  await expect(page.getByTestId('restore-confirmed')).toContainText('Every setting was set by hand.');
  expect(await stateOf(page)).toEqual(await read<State>(page, `/scenes/${scene}/state`));
});

test('a locked show keeps the walk as it is, and says so', async ({ page }) => {
  const { id } = await desk(page);
  const { versions } = await productionNamed(page, 'Low water');
  const scene = await capture(page, await desk(page), versions[0]!.id, 'Before the lock');
  await enter(page, { 'in.1/fader/level': -2 });
  await page.goto(`/restore/${scene}/preview?desk=${id}`);
  await button(page, 'Restore 1 setting').tap();
  await expect(button(page, 'All set, next')).toBeEnabled();
  await page.request.patch(`/api/desks/${id}`, { data: { showLock: true } });
  await expect(button(page, 'All set, next')).toBeDisabled();
  await page.request.patch(`/api/desks/${id}`, { data: { showLock: false } });
  await button(page, 'All set, next').tap();
  await button(page, 'End the walk').tap();
  await expect(page.getByTestId('restore-confirmed')).toBeVisible();
});
