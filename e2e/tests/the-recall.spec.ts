import { expect, type Page, test } from '@playwright/test';

import { checkAll, hold, toHold } from './press';
import { differing, StandIn } from './stand-in';

const quay = new StandIn('quay-48');

/** A desk with nothing to be careful about: a scene of it as it stands, and the page of what comes back of that. */
async function captured(page: Page, name: string): Promise<string> {
  await page.goto('/capture');
  await page.getByTestId('scene-name').fill(name);
  await page.getByRole('button', { name: 'Capture', exact: true }).click();
  await expect(page.getByTestId('current-scene')).toContainText(name);
  const desks = (await (await page.request.get('/api/desks')).json()) as { scene: { id: string } }[];
  return desks[0]!.scene.id;
}

const mode = async (page: Page, mode: 'studio' | 'live') => {
  const desks = (await (await page.request.get('/api/desks')).json()) as { id: string }[];
  await page.request.patch(`/api/desks/${desks[0]!.id}`, { data: { mode } });
  return desks[0]!.id;
};

test.describe.configure({ mode: 'serial' });

test.beforeEach(async ({ page }) => {
  await mode(page, 'live');
});

test('a stop has to be answered: left out, faded or checked; and the log says what was', async ({ page }) => {
  await quay.hands({ 'in.1/mute/on': false, 'in.1/fader/level': -4, 'in.2/fader/level': -12 });
  const scene = await captured(page, 'Fiddle on top');
  await quay.hands({ 'in.1/fader/level': -34, 'in.2/fader/level': -14 });
  await page.goto('/settings');
  await page.getByTestId('who').fill('Ida');
  await page.goto(`/restore/${scene}/preview`);
  const caution = page.getByTestId('caution-louder');
  await expect(caution).toContainText('Fiddle gets 30.0 dB louder in Main L/R');
  await expect(page.getByRole('button', { name: /^\d+ cautions? to answer/ })).toBeDisabled();

  // Left out, the rest can be restored; brought back in, it has to be answered again.
  await caution.getByRole('button', { name: 'Leave out' }).click();
  await expect(caution).toHaveCount(0);
  await expect(page.getByText('1 setting left out')).toBeVisible();
  await expect(page.getByTestId('strip-in.1')).toHaveCount(0);
  await page.getByRole('button', { name: 'Include again' }).click();
  await caution.getByRole('button', { name: 'Fade over 3 s' }).click();
  await expect(caution).toContainText('Fades over 3 s');
  await page.getByRole('tab', { name: '1 s', exact: true }).click();
  await checkAll(page);
  await hold(page, toHold(page));
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  expect((await quay.settings())['in.1/fader/level']).toBe(-4);
  await expect(page.getByText('Stop: Fiddle gets 30.0 dB louder in Main L/R. Faded.')).toBeVisible();

  await page.goto('/settings');
  await page.getByRole('button', { name: 'Restore log' }).first().click();
  const row = page.getByRole('link', { name: /Fiddle on top/ }).first();
  await expect(row).toContainText('Ida');
  await expect(row).toContainText('all confirmed');
  await row.click();
  await page.getByRole('button', { name: 'Way back' }).click();
  await expect(page.getByText(/^Preview · Before/)).toBeVisible();
});

test('one strip’s exceptions: a section left out, and a single setting by itself', async ({ page }) => {
  const scene = await captured(page, 'Exceptions');
  await quay.hands({ 'in.3/fader/level': -41, 'in.3/eq/2/gain': -9, 'in.3/eq/3/gain': -9, 'in.3/pan/position': 12 });
  const before = await quay.settings();
  await page.goto(`/restore/${scene}`);
  await expect(page.getByRole('button', { name: 'Preview 4 changes' })).toBeVisible();
  await page.getByRole('button', { name: 'Strips of Inputs' }).click();
  await page.getByRole('button', { name: 'Recall scope of Accordion R' }).click();
  await page.getByTestId('cell-in.3-fader').click();
  await page.getByRole('button', { name: 'Single settings of EQ' }).click();
  await page.getByTestId('setting-in.3/eq/2/gain').click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByTestId('sentence')).toContainText('except 1 setting');
  await expect(page.getByTestId('pick-in.3')).toContainText('1 section left out · 1 single setting');
  await page.getByRole('button', { name: 'Preview 2 changes' }).click();
  await checkAll(page);
  await hold(page, toHold(page));
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  expect(differing(before, await quay.settings()).sort()).toEqual(['in.3/eq/3/gain', 'in.3/pan/position']);
});

test('only the send to one mix, saved under a name and taken again', async ({ page }) => {
  const scene = await captured(page, 'Only ears');
  await quay.hands({ 'in.1/sends/mix.1/level': -50, 'in.1/sends/mix.2/level': -50, 'in.2/pan/position': -3 });
  await page.goto(`/restore/${scene}`);
  await page.getByRole('button', { name: 'None' }).first().click();
  await page.getByRole('checkbox', { name: 'Sends' }).click();
  await page.getByRole('button', { name: /^Choose sends/ }).click();
  await page.getByRole('button', { name: 'None' }).last().click();
  await page.getByTestId('send-mix.2').click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByTestId('sentence')).toContainText('of the sends only Mix 2');
  await expect(page.getByRole('button', { name: 'Preview 1 change' })).toBeVisible();
  await page.getByRole('button', { name: 'Saved recall scopes' }).click();
  await page.getByTestId('scope-name').fill('Accordion mix only');
  await page.getByRole('button', { name: 'Save under this name' }).click();
  await expect(page.getByText('Recall scope Accordion mix only saved.')).toBeVisible();
  await page.goto(`/restore/${scene}`);
  await expect(page.getByRole('button', { name: 'Preview 3 changes' })).toBeVisible();
  await page.getByRole('button', { name: 'Saved recall scopes' }).click();
  await page.getByRole('button', { name: 'Accordion mix only', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Preview 1 change' })).toBeVisible();
});

test('a strip of the scene onto two others, without its source', async ({ page }) => {
  const scene = await captured(page, 'Onto');
  await page.goto(`/restore/${scene}`);
  await page.getByRole('button', { name: 'Strips of Inputs' }).click();
  await page.getByRole('button', { name: 'Recall scope of Upright bass' }).click();
  await page.getByRole('button', { name: /^Apply to other strips/ }).click();
  await page.getByTestId('onto-in.30').click();
  await page.getByTestId('onto-in.31').click();
  await page.getByRole('button', { name: 'Apply to 2 strips' }).click();
  await expect(page.getByText('Upright bass → Input 30, Input 31')).toBeVisible();
  // Its fader and mute would open two empty lines.
  await page.getByRole('checkbox', { name: 'Fader' }).click();
  await page.getByRole('checkbox', { name: 'Sends' }).click();
  const before = await quay.settings();
  await page.getByRole('button', { name: /^Preview \d+ changes/ }).click();
  await checkAll(page);
  await hold(page, toHold(page));
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  const now = await quay.settings();
  const changed = differing(before, now);
  expect(changed.every((address) => /^in\.3[01]\//.test(address) && !address.includes('/source/'))).toBe(true);
  expect(now['in.31/eq/2/freq']).toBe(now['in.4/eq/2/freq']);
});

test('stopped in the middle of a fade, and rolled back: the desk is as it was', async ({ page }) => {
  const faders = Object.fromEntries([5, 7, 8].map((n) => [`in.${n}/fader/level`, -14]));
  await quay.hands(faders);
  const scene = await captured(page, 'Slowly');
  await quay.hands(Object.fromEntries(Object.keys(faders).map((address) => [address, -17])));
  const before = await quay.settings();
  await page.goto(`/restore/${scene}/preview`);
  await page.getByRole('tab', { name: '8 s', exact: true }).click();
  await hold(page, toHold(page));
  await expect(page.getByText('Levels', { exact: true })).toBeVisible();
  await expect.poll(async () => differing(before, await quay.settings()).length).toBe(3);
  await expect(page.getByTestId('moving')).toContainText('→ −14.0 dB');
  await page.getByRole('button', { name: 'Roll back at once' }).click();
  await expect(page.getByText('Rolled back. All confirmed.')).toBeVisible();
  expect(differing(before, await quay.settings())).toEqual([]);
});

test('a capture in the middle of a fade is refused where it is seen, and nothing that was typed is lost', async ({
  page,
  context,
}) => {
  await quay.hands({ 'in.1/fader/level': -10 });
  const scene = await captured(page, 'Before the fade');
  await quay.hands({ 'in.1/fader/level': -20 });
  await page.goto(`/restore/${scene}/preview`);
  await page.getByRole('tab', { name: '8 s', exact: true }).click();
  await checkAll(page);
  const other = await context.newPage();
  await other.goto('/capture');
  await other.getByTestId('scene-name').fill('In the middle');
  await hold(page, toHold(page));
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  const capture = other.getByRole('button', { name: 'Capture', exact: true });
  await capture.click();
  await expect(other.getByRole('alert')).toContainText('Before the fade');
  await expect(other.getByRole('alert')).toBeInViewport();
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  await capture.click();
  await expect(other.getByTestId('current-scene')).toContainText('In the middle');
});

test('flip: one key swaps the desk there and back', async ({ page }) => {
  await mode(page, 'studio');
  await captured(page, 'Flip side A');
  const a = await quay.settings();
  await quay.hands({ 'in.5/fader/level': -19, 'in.7/eq/2/gain': 3 });
  await captured(page, 'Flip side B');
  const b = await quay.settings();
  await page.goto('/mixes');
  await page
    .getByRole('link', { name: /Flip side A/ })
    .or(page.getByText('Flip side A'))
    .first()
    .click();
  await page
    .getByRole('button', { name: /^More about/ })
    .last()
    .click();
  await page.getByRole('button', { name: 'Swap to it' }).click();
  await expect(page.getByText(/Swapped to \d+ Flip side A/)).toBeVisible();
  expect(differing(a, await quay.settings())).toEqual([]);
  await page.goto('/desk');
  await expect(page.getByTestId('swap-to')).toContainText('Flip side B');
  await page.keyboard.press('f');
  await expect(page.getByText(/Swapped to \d+ Flip side B/)).toBeVisible();
  expect(differing(b, await quay.settings())).toEqual([]);
  await page.keyboard.press('f');
  await expect(page.getByText(/Swapped to \d+ Flip side A/)).toBeVisible();
  await page.keyboard.press('f');
  await expect(page.getByTestId('baseline')).toContainText('Flip side B');
  await expect.poll(async () => differing(b, await quay.settings())).toEqual([]);
  await expect(page.getByTestId('current-scene')).toContainText('Flip side B');
});

test('the show lock: put on with a tap, lifted by holding', async ({ page }) => {
  await quay.hands({ 'in.5/fader/level': -18 });
  await page.goto('/desk');
  await page.getByRole('button', { name: 'The show is not locked' }).click();
  await page.getByRole('button', { name: 'Lock', exact: true }).click();
  await expect(page.getByRole('button', { name: 'The show is locked' })).toBeVisible();
  await page.goto('/mixes');
  await page.getByTestId('scene-1').click();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await page.getByRole('button', { name: /^Preview/ }).click();
  await expect(page.getByRole('button', { name: /The show is locked/ })).toBeVisible();
  await page.goto('/desk');
  await page.getByRole('button', { name: 'The show is locked' }).click();
  await page.getByRole('button', { name: /^Hold to unlock/ }).hover();
  await page.mouse.down();
  await expect(page.getByText('The show on Quay 48 is unlocked.')).toBeVisible();
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'The show is not locked' })).toBeVisible();
});

test('a change made on the desk goes into later scenes, and is taken back as one', async ({ page }) => {
  const first = await captured(page, 'Ripple from');
  await quay.hands({ 'in.8/pan/position': 20 });
  await captured(page, 'Ripple one');
  await quay.hands({ 'in.8/pan/position': 30 });
  await captured(page, 'Ripple two');
  await mode(page, 'studio');
  await page.goto(`/restore/${first}/preview`);
  await page.getByRole('button', { name: 'Restore 1 setting' }).click();
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  await quay.hands({ 'in.4/eq/1/gain': -4.5 });
  await page.goto('/ripple');
  await expect(page.getByTestId('sentence')).toHaveText(
    '1 setting to 2 scenes. Everything else in them stays as it is.',
  );
  await page.getByRole('button', { name: 'What changes in Ripple two' }).click();
  await expect(page.getByTestId('changes-in.4')).toContainText('−4.5');
  await page.getByRole('button', { name: 'Apply to 2 scenes' }).click();
  await expect(page.getByText(/Applied to 2 scenes/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Undone.')).toBeVisible();
  await page.goto('/ripple');
  await expect(page.getByRole('button', { name: 'Apply to 2 scenes' })).toBeVisible();
});

test('of the night, rides stay out of later scenes unless chosen, and then go in by as much as they moved', async ({
  page,
}) => {
  await quay.hands({ 'in.8/fader/level': -10, 'in.8/eq/1/gain': 0 });
  const first = await captured(page, 'Rides from');
  await quay.hands({ 'in.8/fader/level': -14 });
  await captured(page, 'Rides into');
  await mode(page, 'studio');
  await page.goto(`/restore/${first}/preview`);
  await page.getByRole('button', { name: 'Restore 1 setting' }).click();
  await expect(page.getByText(/All confirmed/)).toBeVisible();
  await mode(page, 'live');
  await quay.hands({ 'in.8/fader/level': -8, 'in.8/eq/1/gain': -3 });
  await page.goto('/ripple');
  await expect(page.getByTestId('sentence')).toHaveText(
    '1 setting to 1 scene. Everything else in them stays as it is.',
  );
  await page.getByTestId('ripple-in.8/fader/level').click();
  await page.getByRole('tab', { name: 'By as much as here' }).click();
  await expect(page.getByTestId('ripple-in.8/fader/level')).toContainText('+2.0 dB');
  await page.getByRole('button', { name: 'What changes in Rides into' }).click();
  await expect(page.getByTestId('changes-in.8')).toContainText('−12.0');
  await page.getByRole('button', { name: 'Apply to 1 scene' }).click();
  await expect(page.getByText(/Applied to 1 scene/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Undone.')).toBeVisible();
});

test('a section and a single setting are kept safe, and the preview says so', async ({ page }) => {
  const scene = await captured(page, 'Safe inside');
  await page.goto('/desk');
  await page.getByTestId('strip-in.7').click();
  await page.getByRole('button', { name: 'EQ: no safes' }).click();
  await page.getByTestId('safe-eq/2/gain').click();
  await expect(page.getByText(/: safe\.$/)).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('button', { name: 'EQ: some settings safe' })).toBeVisible();
  await quay.hands({ 'in.7/eq/2/gain': -7, 'in.7/eq/3/gain': -7 });
  await page.goto(`/restore/${scene}/preview`);
  await expect(page.getByRole('heading', { name: '1 change' })).toBeVisible();
  await page.getByTestId('skipped').click();
  await expect(page.getByText('EQ band 2 gain · safe')).toBeVisible();
  await page.goto('/desk');
  await page.getByTestId('strip-in.7').click();
  await page.getByRole('button', { name: 'EQ: some settings safe' }).click();
  await page.getByTestId('safe-eq/2/gain').click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('button', { name: 'EQ: no safes' })).toBeVisible();
});

test('strips selected on the desk are chosen together, and the desk moving meanwhile is told', async ({ page }) => {
  const scene = await captured(page, 'Selected');
  await quay.hands({ 'in.2/pan/position': -11, 'in.3/pan/position': -12, 'in.5/pan/position': -13 });
  await page.goto('/desk');
  for (const strip of ['in.2', 'in.3'])
    await page.getByTestId(`strip-${strip}`).click({ delay: 900, position: { x: 60, y: 25 } });
  await expect(page.getByText('2 selected', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Mixes', exact: true }).click();
  await page.getByText('Selected', { exact: true }).first().click();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await page.getByRole('button', { name: 'Selected on the desk (2)' }).click();
  await page.getByRole('button', { name: 'Preview 2 changes' }).click();
  await quay.hands({ 'in.2/eq/1/gain': 2 });
  await expect(page.getByText('The desk moved while you were looking')).toBeVisible();
  await expect(page.getByText(/1 change added/)).toBeVisible();
  await page.getByRole('button', { name: 'OK', exact: true }).click();
  await expect(page.getByText('The desk moved while you were looking')).toHaveCount(0);
  expect(page.url()).toContain(scene);
});

test.describe('wide', () => {
  test.use({ viewport: { width: 1280, height: 800 }, hasTouch: false });

  test('the grid is painted by dragging, and the preview beside it follows', async ({ page }) => {
    const scene = await captured(page, 'Painted');
    await quay.hands(Object.fromEntries([1, 2, 3, 4].map((n) => [`in.${n}/pan/position`, 40 + n])));
    await page.goto(`/restore/${scene}`);
    await expect(page.getByRole('heading', { name: '4 changes' })).toBeVisible();
    const cell = async (n: number) => (await page.locator(`[data-cell="in.${n}/pan"]`).boundingBox())!;
    const [from, to] = [await cell(1), await cell(3)];
    await page.mouse.move(from.x + 8, from.y + 8);
    await page.mouse.down();
    await page.mouse.move(to.x + 8, to.y + 8, { steps: 12 });
    await page.mouse.up();
    await expect(page.getByRole('heading', { name: '1 change', exact: true })).toBeVisible();
    await expect(page.getByTestId('sentence')).toContainText('Some settings of');
    await page.getByRole('button', { name: 'Pan on every strip' }).click();
    await expect(page.getByRole('heading', { name: '4 changes' })).toBeVisible();
  });
});
