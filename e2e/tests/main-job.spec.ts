import { setTimeout as pause } from 'node:timers/promises';

import { expect, type Locator, type Page, test } from '@playwright/test';

import { checkAll, hold } from './press';
import { differing, StandIn } from './stand-in';

const quay = new StandIn('quay-48');

/** Takes the dot of a strip's fader and drags it sideways. */
async function drag(page: Page, strip: Locator, by: number): Promise<void> {
  const box = (await strip.getByRole('slider').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 1; i <= 8; i++) await page.mouse.move(x + (by * i) / 8, y);
  await page.mouse.up();
}

const strip = (page: Page, id: string): Locator => page.getByTestId(`strip-${id}`);
const drifted = (page: Page): Locator => page.getByTestId('drift-count');

async function openDesk(page: Page): Promise<void> {
  await page.goto('/');
  await expect(page.getByTestId('link-state')).toContainText('Connected');
  await expect(strip(page, 'in.1')).toContainText('Fiddle');
}

test.describe.configure({ mode: 'serial' });

test('the main job, from the desk and back', async ({ page }) => {
  // The desk, as it stands.
  await openDesk(page);
  await expect(page.getByTestId('current-scene')).toContainText('Harbour bells');
  // How far it has drifted depends on what was done on this desk before.
  await expect(drifted(page)).toHaveText(/^[1-9]\d*$/);

  // A scene, under the name that is suggested.
  await page.getByRole('button', { name: 'Capture scene' }).click();
  await expect(page.getByTestId('scene-name')).not.toHaveValue('As it stands');
  await page.getByTestId('scene-name').fill('Second house');
  await page.getByRole('textbox', { name: 'Note' }).fill('Balcony is full.');
  await page.getByRole('button', { name: 'Capture', exact: true }).click();
  await expect(page.getByTestId('current-scene')).toContainText('Second house');
  await expect(drifted(page)).toHaveText('0');
  const captured = await quay.settings();

  // Faders move: two on the screen, one by a hand on the desk.
  await drag(page, strip(page, 'in.1'), -30);
  await drag(page, strip(page, 'in.4'), 20);
  // It would get much louder, live: that is held for.
  await page.getByRole('button', { name: 'Hold to move: hold' }).hover();
  await page.mouse.down();
  await expect(page.getByRole('dialog', { name: 'Hold to move' })).toHaveCount(0);
  await page.mouse.up();
  await quay.hands({ 'in.8/fader/level': -22, 'in.8/eq/3/gain': -6 });
  await expect(drifted(page)).toHaveText('4');
  await expect(strip(page, 'in.8')).toContainText('−22.0');
  await expect(strip(page, 'in.8')).toContainText('was −6.0');
  const moved = await quay.settings();
  expect(differing(captured, moved).sort()).toEqual([
    'in.1/fader/level',
    'in.4/fader/level',
    'in.8/eq/3/gain',
    'in.8/fader/level',
  ]);

  // What comes back: the fader section of two strips.
  await page.getByRole('button', { name: 'Mixes', exact: true }).click();
  await page.getByTestId('scene-9').click();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await expect(page.getByTestId('sentence')).toContainText('Everything on 101 strips');
  const none = page.getByRole('button', { name: 'None', exact: true });
  await none.first().click();
  await page.getByRole('checkbox', { name: 'Fader' }).click();
  await none.last().click();
  await expect(page.getByRole('button', { name: 'Nothing to restore' })).toBeDisabled();
  await page.getByPlaceholder(/Search \d+ strips/).fill('vox');
  await page.getByTestId('pick-in.8').click();
  await page.getByPlaceholder(/Search \d+ strips/).fill('fiddle');
  await page.getByTestId('pick-in.1').click();
  await expect(page.getByTestId('sentence')).toContainText('Faders on 2 strips come back.');
  await page.getByRole('button', { name: 'Preview 2 changes' }).click();

  // The preview: echoes, what stays and why. Nothing has been sent.
  await expect(strip(page, 'in.8')).toContainText('was −22.0');
  await page.getByTestId('skipped').click();
  await expect(page.getByText('EQ band 3 gain · out of scope')).toBeVisible();
  expect(differing(moved, await quay.settings())).toEqual([]);

  // Restored and confirmed; nothing else moved.
  await checkAll(page);
  await hold(page, page.getByRole('button', { name: /Hold to restore 2 settings/ }));
  await expect(page.getByText('Restored 2 settings. All confirmed.')).toBeVisible();
  const restored = await quay.settings();
  expect(differing(moved, restored).sort()).toEqual(['in.1/fader/level', 'in.8/fader/level']);
  expect(restored['in.8/fader/level']).toBe(captured['in.8/fader/level']);

  // And the way back, one tap away.
  await page.getByRole('button', { name: 'Way back' }).click();
  await checkAll(page);
  await hold(page, page.getByRole('button', { name: /Hold to restore 2 settings/ }));
  await expect(page.getByText('Restored 2 settings. All confirmed.')).toBeVisible();
  expect(differing(moved, await quay.settings())).toEqual([]);
});

test('two sections on three strips come back, and nothing else on the whole desk', async ({ page }) => {
  await openDesk(page);
  const moves: Record<string, unknown> = {};
  for (const n of [1, 2, 3, 4, 5, 9])
    Object.assign(moves, { [`in.${n}/fader/level`]: -33, [`in.${n}/pan/position`]: 44, [`in.${n}/eq/1/gain`]: 3.3 });
  await quay.hands({ ...moves, 'mix.2/fader/level': -20, 'main.1/eq/2/gain': -9 });
  const before = await quay.settings();
  await page.goto('/mixes');
  await page.getByTestId('scene-7').click();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await page.getByRole('button', { name: 'None', exact: true }).first().click();
  for (const section of ['Fader', 'Pan']) await page.getByRole('checkbox', { name: section }).click();
  await page.getByRole('button', { name: 'None', exact: true }).last().click();
  for (const [name, id] of [
    ['fiddle', 'in.1'],
    ['upright', 'in.4'],
    ['brass 1', 'in.9'],
  ] as const) {
    await page.getByPlaceholder(/Search \d+ strips/).fill(name);
    await page.getByTestId(`pick-${id}`).click();
  }
  await expect(page.getByTestId('sentence')).toContainText('Pans and faders on 3 strips come back.');
  await page.getByRole('button', { name: 'Preview 6 changes' }).click();
  await checkAll(page);
  await hold(page, page.getByRole('button', { name: /Hold to restore 6 settings/ }));
  await expect(page.getByText('Restored 6 settings. All confirmed.')).toBeVisible();
  expect(differing(before, await quay.settings()).sort()).toEqual(
    ['in.1', 'in.4', 'in.9'].flatMap((s) => [`${s}/fader/level`, `${s}/pan/position`]),
  );
});

test('letting go early restores nothing', async ({ page }) => {
  await page.goto('/mixes');
  await page.getByTestId('scene-1').click();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await page.getByRole('button', { name: /^Preview/ }).click();
  await checkAll(page);
  const before = await quay.settings();
  await page.getByRole('button', { name: /Hold to restore/ }).hover();
  await page.mouse.down();
  // A hold that is let go of too early, and then longer than a whole one.
  await pause(250);
  await page.mouse.up();
  await pause(900);
  expect(page.url()).toContain('/preview');
  expect(differing(before, await quay.settings())).toEqual([]);
});

test('a lost link is told at once, nothing pretends to work, and it recovers by itself', async ({ page }) => {
  await openDesk(page);
  await quay.freeze(true);
  await expect(page.getByTestId('link-banner')).toContainText('Quay 48 stopped answering.');
  await expect(page.getByTestId('link-state')).toContainText('Not connected');
  await expect(page.getByRole('button', { name: 'Capture scene' })).toBeDisabled();
  const shown = await strip(page, 'in.1').textContent();
  await drag(page, strip(page, 'in.1'), 30);
  await expect(strip(page, 'in.1')).toHaveText(shown ?? '');
  await quay.freeze(false);
  await expect(page.getByTestId('link-banner')).toBeHidden();
  await expect(page.getByRole('button', { name: 'Capture scene' })).toBeEnabled();
  await quay.hands({ 'in.1/fader/level': -12.3 });
  await expect(strip(page, 'in.1')).toContainText('−12.3');
});

test('the keyboard alone captures, walks strips, moves a control, and finds its keys', async ({ page }) => {
  await openDesk(page);
  await page.keyboard.press('?');
  await expect(page.getByText('Way back of the last restore')).toBeVisible();
  await page.keyboard.press('Escape');
  await openDesk(page);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/strip\/in\.2$/);
  const fader = page.getByRole('slider', { name: 'Level' }).first();
  await fader.focus();
  const before = Number(await fader.getAttribute('aria-valuenow'));
  await page.keyboard.press('ArrowLeft');
  await expect.poll(async () => Number((await quay.settings())['in.2/fader/level'])).toBeCloseTo(before - 0.5, 5);
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/desk\/[^/]+$/);
  await page.keyboard.press('c');
  await page.getByTestId('scene-name').fill('By keyboard');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('current-scene')).toContainText('By keyboard');
  const captured = await quay.settings();

  // And a restore: to the newest scene, what comes back, the preview, the button held, the way back.
  await quay.hands({ 'in.2/fader/level': -41, 'in.3/fader/level': -42 });
  await expect(drifted(page)).toHaveText('2');
  await page.keyboard.press('m');
  await expect(page.getByTestId('scene-1')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'By keyboard' })).toBeVisible();
  await page.keyboard.press('r');
  await expect(page.getByRole('button', { name: 'Preview 2 changes' })).toBeEnabled();
  await page.keyboard.press('r');
  // Both get much louder, which has to be answered.
  await expect(page.getByRole('button', { name: /cautions? to answer/ })).toBeVisible();
  while ((await page.getByRole('button', { name: 'I have checked' }).count()) > 0) {
    await page.keyboard.press('a');
    await page.keyboard.press('Enter');
  }
  await expect(page.getByRole('button', { name: /Hold to restore 2/ })).toBeVisible();
  await page.keyboard.press('r');
  await page.keyboard.down('Enter');
  await page.waitForURL(/\/restores\//);
  await page.keyboard.up('Enter');
  await expect(page.getByText('Restored 2 settings. All confirmed.')).toBeVisible();
  expect(differing(captured, await quay.settings())).toEqual([]);
  await page.keyboard.press('w');
  await expect(page.getByRole('heading', { name: '2 changes' })).toBeVisible();
});

test('a finger that scrolls over a dot moves nothing', async ({ page }) => {
  await openDesk(page);
  const before = await quay.settings();
  const box = (await strip(page, 'in.4').getByRole('slider').boundingBox())!;
  const client = await page.context().newCDPSession(page);
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', x: number, y: number) =>
    client.send('Input.dispatchTouchEvent', { type, touchPoints: type === 'touchEnd' ? [] : [{ x, y }] });
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await touch('touchStart', x, y);
  for (let i = 1; i <= 10; i++) await touch('touchMove', x + i, y - i * 12);
  await touch('touchEnd', x + 10, y - 120);
  // Longer than a move takes to get to the desk.
  await pause(300);
  expect(differing(before, await quay.settings())).toEqual([]);
  // The page went along with the finger.
  const scrolled = async () => box.y - ((await strip(page, 'in.4').getByRole('slider').boundingBox())?.y ?? -Infinity);
  await expect.poll(scrolled).toBeGreaterThan(60);
  // Sideways, the same finger moves the fader.
  const at = (await strip(page, 'in.8').getByRole('slider').boundingBox())!;
  const [left, top] = [at.x + at.width / 2, at.y + at.height / 2];
  await touch('touchStart', left, top);
  for (let i = 1; i <= 10; i++) await touch('touchMove', left - i * 4, top);
  await touch('touchEnd', left - 40, top);
  await expect.poll(async () => differing(before, await quay.settings())).toEqual(['in.8/fader/level']);
});

test('a name that is taken is told before anything is sent', async ({ page }) => {
  await page.goto('/capture');
  await page.getByTestId('scene-name').fill('Low tide');
  await expect(page.getByText(/Low tide has this name$/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Capture', exact: true })).toBeDisabled();
});

test('wide: what comes back and its preview stand side by side, and follow one another', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto('/mixes');
  await page.getByTestId('scene-6').click();
  await expect(page.getByText('Wren and accordion only. Long hall; ride the DCA.', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Recall scope' })).toBeVisible();
  const changes = page.getByRole('heading', { name: /\d+ changes/ });
  const all = await changes.textContent();
  await page.getByRole('button', { name: 'Fader on every strip' }).click();
  await expect(changes).not.toHaveText(all ?? '');
});

test('a touch that would be stopped opens the preview in the studio too, and one tap restores once it is answered', async ({
  page,
}) => {
  const boathouse = new StandIn('boathouse');
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Boathouse' }).click();
  await expect(page.getByTestId('link-state')).toContainText('Connected');
  const before = await boathouse.settings();
  await page.getByRole('button', { name: 'Mixes', exact: true }).click();
  await page.getByTestId('scene-4').click();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await expect(page.getByText(/Stop: answer first/).first()).toBeVisible();
  expect(differing(before, await boathouse.settings())).toEqual([]);
  await checkAll(page);
  await page.getByRole('button', { name: /^Restore \d+ settings/ }).click();
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  expect(differing(before, await boathouse.settings()).length).toBeGreaterThan(10);
  await page.getByRole('button', { name: 'Way back' }).click();
  await checkAll(page);
  await page.getByRole('button', { name: /^Restore \d+ settings/ }).click();
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  await expect.poll(async () => differing(before, await boathouse.settings())).toEqual([]);
});
