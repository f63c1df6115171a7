import { readFile } from 'node:fs/promises';

import { expect, type Page, test } from '@playwright/test';

import { checkAll, hold, toHold } from './press';
import { stage } from './stage';
import { StandIn } from './stand-in';

const [quay, boathouse] = [new StandIn('quay-48'), new StandIn('boathouse')];

interface Named {
  readonly id: string;
  readonly name: string;
}
const read = async <T>(page: Page, path: string): Promise<T> =>
  (await (await page.request.get(`/api${path}`)).json()) as T;
const named = async (page: Page, path: string, name: string): Promise<string> =>
  (await read<Named[]>(page, path)).find((one) => one.name === name)!.id;

/** Opens a desk, the one of the studio at work in the studio and the other at a show, whatever was tried on it before. */
async function atDesk(page: Page, name: string): Promise<string> {
  const id = await named(page, '/desks', name);
  await page.request.patch(`/api/desks/${id}`, { data: { mode: name === 'Boathouse' ? 'studio' : 'live' } });
  await page.goto(`/desk/${id}`);
  await expect(page.getByTestId('link-state')).toContainText('Connected');
  return id;
}

/** Restores what is previewed, at a show or in the studio. */
async function restore(page: Page): Promise<void> {
  await checkAll(page);
  if (await page.getByText('Live', { exact: true }).isVisible()) await hold(page, toHold(page));
  else await page.getByRole('button', { name: /^(Restore|Apply) \d+ settings?$/ }).click();
  await expect(page.getByRole('heading', { name: /All confirmed\.$/ })).toBeVisible();
}

test('the starter set is browsed, searched, and seen before it is put anywhere', async ({ page }) => {
  await page.goto('/library');
  await expect(page.getByRole('button', { name: 'Lead voice, close' })).toBeVisible();
  await page.getByRole('tab', { name: 'Buses' }).click();
  await expect(page.getByRole('button', { name: 'Gentle main' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Lead voice, close' })).toHaveCount(0);
  await page.getByRole('tab', { name: /^All/ }).click();
  await page.getByPlaceholder('Search the library').fill('reeds bellows');
  await expect(page.locator('[data-testid^="preset-"]')).toHaveCount(1);
  await page.getByRole('button', { name: 'Accordion, treble side' }).click();
  await expect(page.getByTestId('preset-note')).toContainText('174 Hz');
  await expect(page.getByRole('img', { name: 'EQ curve' })).toBeVisible();
  await page.getByRole('button', { name: 'Add to favourites' }).click();
  await page.goto('/library');
  await page.getByRole('tab', { name: 'Favourites' }).click();
  await expect(page.getByRole('button', { name: 'Accordion, treble side' })).toBeVisible();
});

test('a voice made from the song lands on three strips of the live desk; one moves away, and is put back', async ({
  page,
}) => {
  const studio = await atDesk(page, 'Boathouse');
  await page.goto(`/desk/${studio}/strip/in.10`);
  await page.getByRole('button', { name: 'More about Wren vox' }).click();
  await page.getByRole('button', { name: 'Save to the library' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Lead voice, close');
  await expect(page.getByText('Lead voice, close exists already')).toBeVisible();
  await page.getByRole('textbox', { name: 'Name' }).fill('Wren as on the record');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Saved Wren as on the record to the library.')).toBeVisible();

  await atDesk(page, 'Quay 48');
  await page.goto('/library');
  await page.getByRole('button', { name: 'Wren as on the record' }).click();
  await page.getByRole('button', { name: 'Apply to strips …' }).click();
  for (const strip of ['in.30', 'in.31', 'in.32']) await page.getByTestId(`onto-${strip}`).click();
  await expect(page.getByTestId('not-applied')).toContainText('de-ess');
  const before = await quay.settings();
  await page.getByRole('button', { name: 'Preview 3 strips' }).click();
  await restore(page);
  const after = await quay.settings();
  const moved = Object.keys(after).filter((key) => JSON.stringify(after[key]) !== JSON.stringify(before[key]));
  expect(new Set(moved.map((address) => address.split('/')[0]))).toEqual(new Set(['in.30', 'in.31', 'in.32']));
  expect(moved.filter((address) => /\/(source|label|fader|mute)\//.test(address))).toEqual([]);
  const own = (await boathouse.settings())['in.10/eq/3/gain'];
  expect(after['in.31/eq/3/gain']).toBe(own);

  await quay.hands({ 'in.31/eq/3/gain': -5 });
  await page.goto('/library');
  await page.getByRole('button', { name: 'Wren as on the record' }).click();
  await expect(page.getByTestId('preset-usage')).toContainText('changed since applied');
  await page.getByRole('button', { name: 'Reset strip to preset' }).click();
  await restore(page);
  expect((await quay.settings())['in.31/eq/3/gain']).toBe(own);
});

test('the accordion strip set applied twice gives two of its strips and one shared room', async ({ page }) => {
  await atDesk(page, 'Boathouse');
  const names = async () =>
    Object.entries(await boathouse.settings())
      .filter(([address, name]) => address.endsWith('/label/name') && /^(Accordion [LR]|Room)$/.test(String(name)))
      .map(([address, name]) => `${address.split('/')[0]} ${String(name)}`)
      .sort();
  const before = (await names()).length;
  for (let time = 1; time <= 2; time++) {
    await page.goto('/library');
    await page.getByRole('button', { name: 'Accordion, two channels and its room' }).click();
    await page.getByRole('button', { name: 'Apply this set …' }).click();
    await expect(page.getByTestId('place-fx.1')).toContainText('is already there and shared');
    await page.getByRole('button', { name: 'Apply to 2 strips' }).click();
    // What opens in the main has to be answered first: the touch leads to its preview.
    await restore(page);
    expect(await names()).toHaveLength(before + 2 * time);
  }
  expect((await names()).filter((name) => name.endsWith('Room'))).toEqual(['fx.1 Room']);
});

test('several strips change together, as one move that can be undone', async ({ page }) => {
  await atDesk(page, 'Boathouse');
  const before = await boathouse.settings();
  for (const strip of ['in.1', 'in.3'])
    await page
      .getByTestId(`strip-${strip}`)
      .locator('..')
      .getByTestId(`strip-${strip}`)
      .click({ delay: 700, position: { x: 60, y: 25 } });
  await page.getByRole('button', { name: 'Actions …' }).click();
  await page.getByRole('button', { name: 'Edit selected strips' }).click();
  await page.getByRole('button', { name: '−1', exact: true }).click();
  await page.getByRole('button', { name: '−1', exact: true }).click();
  await expect(page.getByTestId('step')).toHaveText('−2 dB');
  // The other half of the accordion moves along.
  await page.getByRole('button', { name: 'Apply to 3 strips' }).click();
  await expect(page.getByText(/3 settings confirmed/)).toBeVisible();
  const after = await boathouse.settings();
  for (const strip of ['in.1', 'in.3', 'in.4'])
    expect(Number(after[`${strip}/fader/level`])).toBeCloseTo(Number(before[`${strip}/fader/level`]) - 2, 5);
  await page.getByRole('button', { name: 'Way back' }).click();
  await expect.poll(async () => (await boathouse.settings())['in.1/fader/level']).toBe(before['in.1/fader/level']);
});

test('a strip is dragged onto another, and only its sound is offered to land there, on both halves of the pair', async ({
  page,
}) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await atDesk(page, 'Boathouse');
  const [from, onto] = [page.getByTestId('grip-in.1'), page.getByTestId('drop-in.3')];
  const [a, b] = [(await from.boundingBox())!, (await onto.boundingBox())!];
  await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
  await page.mouse.down();
  await page.mouse.move(a.x + 20, a.y + 20, { steps: 4 });
  await page.mouse.move(b.x + b.width / 3, b.y + b.height / 2, { steps: 8 });
  await page.mouse.up();
  await page.waitForURL(/\/library\/apply\?strip=in\.1&to=in\.3/);
  await expect(page.getByTestId('sentence')).toContainText('to Accordion L and Accordion R');
  await expect(page.getByRole('button', { name: 'Apply to 2 strips' })).toBeEnabled();
});

test('the show is carried over to the small desk, with one match corrected and a report on paper', async ({ page }) => {
  const show = await named(page, '/productions', 'Night Ferry');
  await page.goto(`/mixes/${show}/parts`);
  await page.getByRole('button', { name: 'Fill in suggestions' }).click();
  await page.getByRole('button', { name: /^Save/ }).click();
  await expect(page.getByText(/^Parts saved for \d+ strips\./)).toBeVisible();
  await page.goto(`/convert?production=${show}`);
  await page.getByRole('tab', { name: 'Skiff 16' }).click();
  await page.getByRole('button', { name: 'Shaker goes to Input 6' }).click();
  await page.getByRole('radio', { name: 'Input 12' }).click();
  await expect(page.getByTestId('match-in.6')).toContainText('your choice');
  await page.getByRole('button', { name: /^Carry over \d+ scenes$/ }).click();
  await expect(page.getByTestId('carried')).toContainText('changed or left behind');
  await expect(page.getByText('Shaker → Input 12')).toBeVisible();
  const [paper] = await Promise.all([
    page.waitForEvent('popup'),
    page.getByRole('button', { name: 'Print the report' }).click(),
  ]);
  await expect(paper.getByRole('heading', { name: 'Night Ferry to Skiff 16' })).toBeVisible();
  await expect(paper.getByText('your choice')).toBeVisible();
  await page.getByRole('button', { name: 'Open the last scene' }).click();
  await page.waitForURL(/\/scene\//);
});

test('a production goes into a file, and only its sends come out of it on an Old Echo that is empty', async ({
  page,
  browser,
}) => {
  const other = stage.empty;
  test.skip(!other, 'the tests start a second, empty server; by hand there is none');
  const show = await named(page, '/productions', 'Night Ferry');
  await page.goto(`/files?production=${show}`);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the archive' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Night Ferry.zip');
  const bytes = await readFile(await download.path());

  const there = await browser.newPage({ baseURL: other, viewport: { width: 1280, height: 800 } });
  await there.goto('/');
  await expect(there.getByText('No desk yet')).toBeVisible();
  // Dragged into the window.
  await there.evaluate(`(() => {
    const data = Uint8Array.from(atob('${bytes.toString('base64')}'), (letter) => letter.charCodeAt(0));
    const transfer = new DataTransfer();
    transfer.items.add(new File([data], 'Night Ferry.zip'));
    window.dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, cancelable: true }));
  })()`);
  await there.waitForURL(/\/files\//);
  await expect(there.getByTestId('what')).toContainText('The show Night Ferry, of the desk Quay 48');
  await expect(there.getByText('There is no Quay 48 here')).toBeVisible();
  await there.getByTestId('include-sections').click();
  await there.getByTestId('include-sections/sends').click();
  await there.getByRole('button', { name: /^Import/ }).click();
  await expect(there.getByTestId('ended')).toContainText('Everything you chose is here.');
  await there.getByRole('button', { name: 'Open it' }).click();
  await there.getByText('Harbour bells', { exact: true }).first().click();
  await there.waitForURL(/\/scene\//);
  const id = there.url().split('/').at(-1)!;
  const stateOf = async (of: Page, scene: string) =>
    (await (await of.request.get(`/api/scenes/${scene}/state`)).json()) as Record<string, Record<string, unknown>>;
  // Nothing was replaced there, so the scene has the id it has here.
  const [state, was] = [await stateOf(there, id), await stateOf(page, id)];
  expect(state['in.1']!['sends/mix.1/level']).toBe(was['in.1']!['sends/mix.1/level']);
  // What was left in the file is not there, rather than filled in.
  expect([state['in.1']!['fader/level'], was['in.1']!['fader/level']]).toEqual([undefined, expect.any(Number)]);
  await there.close();

  // Here all of it is known: it would go into the show it is from, and nothing of it comes in a second time by itself.
  await page.goto('/files');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Open a file' }).click(),
  ]);
  await chooser.setFiles({ name: 'Night Ferry.zip', mimeType: 'application/zip', buffer: bytes });
  await expect(page.getByRole('tab', { name: 'Night Ferry', exact: true })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByTestId('include-versions')).toHaveAttribute('aria-checked', 'false');
  await expect(page.getByRole('button', { name: 'Nothing chosen' })).toBeDisabled();
});

test('a file that is none says so, and nothing comes in', async ({ page }) => {
  await page.goto('/files');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Open a file' }).click(),
  ]);
  await chooser.setFiles({ name: 'setlist.json', mimeType: 'application/json', buffer: Buffer.from('{"songs": [') });
  await expect(page.getByTestId('refused')).toContainText('The file is incomplete or not JSON');
  await page.getByRole('button', { name: 'Dismiss' }).click();
});

test('a recall sheet is printed to PDF', async ({ page }) => {
  const song = await named(page, '/productions', 'Lanterns on the Quay');
  const { scenes } = await read<{ scenes: (Named & { number: number })[] }>(
    page,
    `/productions/${song}/scenes?limit=200`,
  );
  const scene = scenes.find(({ number }) => number === 2)!;
  // The page asks to be printed by itself; here it is printed below.
  await page.addInitScript('window.print = () => undefined');
  await page.goto(`/api/sheets/scenes/${scene.id}`);
  await expect(page.getByRole('heading', { name: 'Wren vox' })).toBeVisible();
  const pdf = await page.pdf({ format: 'A4' });
  expect([pdf.subarray(0, 5).toString(), pdf.length > 20_000]).toEqual(['%PDF-', true]);
});
