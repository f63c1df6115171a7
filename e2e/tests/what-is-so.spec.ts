import { expect, type Page, test } from '@playwright/test';

import { capture, deskNamed, ownProduction, productionNamed, read } from './from-server';
import { checkAll, hold, toHold } from './press';
import { differing, StandIn } from './stand-in';

const quay = new StandIn('quay-48');
const skiff = new StandIn('skiff-16');

const baseline = (page: Page) => page.getByTestId('baseline');
const drift = (page: Page) => page.getByTestId('drift-count');

test.describe.configure({ mode: 'serial' });

test('nothing of one desk goes to another: not from its log, not by an address, not by another tab', async ({
  page,
  context,
}) => {
  const [here, there] = [await deskNamed(page, 'Quay 48'), await deskNamed(page, 'Skiff 16')];
  const busking = await productionNamed(page, 'Quayside busking');
  const scene = await capture(page, there, busking.versions[0]!.id, 'Pavement');
  await skiff.hands({ 'in.2/fader/level': -33 });
  await page.goto(`/desk/${there.id}/restore/${scene}/preview`);
  await expect(page.getByText('To Skiff 16')).toBeVisible();
  await checkAll(page);
  await hold(page, toHold(page));
  await expect(page.getByText(/All confirmed/)).toBeVisible();

  const before = await quay.settings();
  await page.goto(`/desk/${here.id}`);
  await expect(page.getByRole('heading', { name: 'Quay 48' })).toBeVisible();
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Restore log' }).nth(2).click();
  await expect(page.getByText('Skiff 16').first()).toBeVisible();
  await page
    .getByRole('link', { name: /Pavement/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Way back' }).click();
  await expect(page.getByText('To Skiff 16')).toBeVisible();
  expect(new URL(page.url()).pathname).toContain(there.id);

  // The address with another desk in it says whose it is, and sends nothing.
  await page.goto(`/desk/${here.id}/restore/${scene}/preview`);
  await expect(page.getByText('This is not a scene of Quay 48')).toBeVisible();
  await expect(toHold(page)).toHaveCount(0);
  const sent = await page.request.post(`/api/desks/${here.id}/restores`, {
    data: { recall: { deskId: here.id, sceneId: scene, scope: [] }, fingerprint: null },
  });
  expect(sent.status()).toBe(422);
  expect(await sent.text()).toContain('was not made on Quay 48');

  // Another tab that goes to another desk changes nothing here, after a reload neither.
  await page.goto(`/desk/${here.id}`);
  await page.goto('/desk');
  const other = await context.newPage();
  await other.goto(`/desk/${there.id}`);
  await expect(other.getByRole('heading', { name: 'Skiff 16' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Quay 48' })).toBeVisible();
  await other.close();
  expect(differing(before, await quay.settings())).toEqual([]);
});

test('after a part came back, one true line names what the desk is meant to hold, and drift counts from that', async ({
  page,
}) => {
  const desk = await deskNamed(page, 'Quay 48');
  await page.request.patch(`/api/desks/${desk.id}`, { data: { mode: 'studio', safes: [] } });
  const show = await productionNamed(page, 'Night Ferry');
  await quay.hands({ 'in.1/eq/1/gain': 0, 'in.2/eq/1/gain': 0, 'in.1/fader/level': -21, 'in.2/fader/level': -22 });
  const one = await capture(page, desk, show.versions[0]!.id, 'Flat and low');
  await quay.hands({ 'in.1/eq/1/gain': 3, 'in.2/eq/1/gain': 3, 'in.1/fader/level': -11, 'in.2/fader/level': -12 });
  await capture(page, desk, show.versions[0]!.id, 'Bright and up');
  const recall = { scope: [{ strips: ['*'], sections: ['eq'], include: true }] };
  await page.goto(`/desk/${desk.id}/restore/${one}/preview?recall=${encodeURIComponent(JSON.stringify(recall))}`);
  await checkAll(page);
  await page.getByRole('button', { name: 'Restore 2 settings' }).click();
  await expect(page.getByText('Restored 2 settings. All confirmed.')).toBeVisible();
  await expect(page.getByTestId('what-moved')).toContainText('2 settings on');
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(baseline(page)).toContainText(/^\d+ Bright and up, with EQ from \d+ Flat and low$/);
  await expect(drift(page)).toHaveText('0');

  // What moves from here on is drift, and putting it back leads to what was recalled, not to the older scene.
  await quay.hands({ 'in.1/eq/1/gain': 7, 'in.1/fader/level': -30 });
  await expect(drift(page)).toHaveText('2');
  await page.getByTestId('current-scene').click();
  await page.getByRole('button', { name: 'Put all back' }).click();
  await expect(page.getByText(/^Put back to \d+ Bright and up, with EQ from .*2 settings confirmed/)).toBeVisible();
  const held = await quay.settings();
  expect([held['in.1/eq/1/gain'], held['in.1/fader/level'], held['in.2/eq/1/gain']]).toEqual([0, -11, 0]);
  await expect(baseline(page)).toContainText('with EQ from');
  await expect(drift(page)).toHaveText('0');
});

test('a capture goes into the song that one looks at, and asks once before the desk goes over to it', async ({
  page,
}) => {
  const desk = await deskNamed(page, 'Quay 48');
  const { id } = await ownProduction(page, desk, 'Second night', 'show');
  await page.goto(`/mixes/${id}`);
  await page.getByRole('button', { name: 'Capture scene' }).click();
  await expect(page.getByText('Quay 48 · Second night')).toBeVisible();
  await page.getByTestId('scene-name').fill('Doors');
  await page.getByRole('textbox', { name: 'Note' }).fill('Half typed.');
  await page.goBack();
  await page.getByRole('button', { name: 'Capture scene' }).click();
  // What was typed is there again.
  await expect(page.getByTestId('scene-name')).toHaveValue('Doors');
  await page.getByRole('button', { name: 'Capture', exact: true }).click();
  await expect(page.getByText('Work on Second night now?')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Work on Second night now?')).toBeHidden();
  await expect(page.getByTestId('scene-name')).toBeVisible();
  await page.getByRole('button', { name: 'Capture', exact: true }).click();
  await page.getByRole('button', { name: 'Capture in Second night' }).click();
  await expect(page.getByText('Captured 1 Doors. Every setting saved.')).toBeVisible();
  expect((await deskNamed(page, 'Quay 48')).scene?.productionId).toBe(id);

  // Under a name that is taken: replace it, or keep both.
  await page.goto(`/desk/${desk.id}/capture`);
  await page.getByTestId('scene-name').fill('Doors');
  await expect(page.getByText('1 Doors has this name')).toBeVisible();
  await page.getByRole('button', { name: 'Keep both' }).click();
  await expect(page.getByText('Captured 2 Doors 2. Every setting saved.')).toBeVisible();
  await page.goto(`/desk/${desk.id}/capture`);
  await page.getByTestId('scene-name').fill('x'.repeat(70));
  await expect(page.getByTestId('length')).toContainText('these are 70');
  await expect(page.getByRole('button', { name: 'Capture', exact: true })).toBeDisabled();
});

test('a desk that does not answer is shown as it was last heard, on a page opened fresh; what was prepared is looked at again', async ({
  page,
}) => {
  const desk = await deskNamed(page, 'Quay 48');
  const scene = desk.scene!.id;
  await quay.hands({ 'in.3/fader/level': -17.5, 'in.3/label/name': 'Whistle' });
  await page.goto(`/desk/${desk.id}`);
  await expect(page.getByTestId('strip-in.3')).toContainText('Whistle');
  await expect(drift(page)).toHaveText(/\d/);
  const count = await drift(page).textContent();
  await quay.freeze(true);
  try {
    await expect(page.getByTestId('link-banner')).toBeVisible();
    await page.goto(`/desk/${desk.id}`);
    await expect(page.getByTestId('link-banner')).toContainText(/as last read at \d\d:\d\d/);
    await expect(page.getByTestId('strip-in.3')).toContainText('Whistle');
    await expect(page.getByTestId('strip-in.3')).toContainText('−17.5');
    await expect(drift(page)).toHaveText(count!);
    await page.goto(`/compare?a=${scene}&b=now`);
    await expect(page.getByTestId('side-B')).toContainText('As last read');
    await page.goto(`/desk/${desk.id}/restore/${scene}/preview`);
    await expect(page.getByText(/Against the values read at \d\d:\d\d from Quay 48/)).toBeVisible();
    await expect(page.getByRole('button', { name: 'Quay 48 does not answer' })).toBeDisabled();
  } finally {
    await quay.hands({ 'in.4/fader/level': -44 });
    await quay.freeze(false);
  }
  await expect(page.getByText(/is connected again\. Since it was last read/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Look at what moved first' })).toBeDisabled();
  await page.getByRole('button', { name: 'OK', exact: true }).click();
  await checkAll(page);
  await expect(page.getByRole('button', { name: /^Restore \d+ settings/ })).toBeEnabled();
});

test('Back and Escape close what lies on top and nothing else; what is behind is out of reach meanwhile', async ({
  page,
}) => {
  const desk = await deskNamed(page, 'Quay 48');
  await page.goto(`/desk/${desk.id}`);
  await expect(baseline(page)).toBeVisible();
  await page.goto(`/mixes/${desk.scene!.productionId}/scene/${desk.scene!.id}`);
  const more = page.getByRole('button', { name: /^More about/ });
  await more.click();
  const item = page.getByRole('button', { name: 'Swap to it' });
  await expect(item).toBeVisible();
  expect(await page.locator('#page').getAttribute('inert')).not.toBeNull();
  const address = page.url();
  await page.goBack();
  await expect(item).toBeHidden();
  expect(page.url()).toBe(address);
  await expect(more).toBeFocused();
  await more.click();
  await page.keyboard.press('Escape');
  await expect(item).toBeHidden();
  expect(page.url()).toBe(address);
  expect(await page.locator('#page').getAttribute('inert')).toBeNull();
  await page.keyboard.press('?');
  await expect(page.getByText('Capture a scene')).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByText('Capture a scene')).toBeHidden();
  await page.keyboard.press('Escape');
  await expect(page).not.toHaveURL(address);
});

test('Back and Forward pass over menus that were closed, also after a choice, a download and a page opened anew', async ({
  page,
}) => {
  const desk = await deskNamed(page, 'Quay 48');
  await page.goto(`/desk/${desk.id}`);
  await expect(baseline(page)).toBeVisible();
  await page.getByRole('button', { name: 'Mixes' }).click();
  // The newest: what lies far below it is not drawn.
  const { id } = await productionNamed(page, 'Night Ferry');
  const all = await read<{ scenes: { number: number; name: string }[] }>(page, `/productions/${id}/scenes?limit=200`);
  const { number, name } = all.scenes.reduce((a, b) => (b.number > a.number ? b : a));
  await expect(page).toHaveURL(/\/mixes$/);
  await page.getByRole('button', { name: new RegExp(`^${number} `) }).click();
  const [more, heading] = [page.getByRole('button', { name: /^More about/ }), page.getByRole('heading').first()];
  const is = async (title: string, path: RegExp) => {
    await expect(page).toHaveURL(path);
    await expect(heading).toHaveText(title);
  };
  for (let i = 0; i < 3; i++) {
    await more.click();
    await expect(page.getByRole('button', { name: 'Carry over to another desk' })).toBeVisible();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('button', { name: 'Carry over to another desk' })).toBeHidden();
  }
  await more.click();
  await page.getByRole('button', { name: 'Carry over to another desk' }).click();
  await expect(page).toHaveURL(/\/convert/);
  await page.goBack();
  await is(name, /scene/);
  await page.goBack();
  await is('Night Ferry', /\/mixes$/);
  await page.goBack();
  await is('Quay 48', /\/desk\//);
  await page.goForward();
  await is('Night Ferry', /\/mixes$/);
  await page.goForward();
  await is(name, /scene/);
  await more.click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as a file' }).click(),
  ]);
  expect(file.suggestedFilename()).toContain(name);
  await more.click();
  await page.reload();
  await is(name, /scene/);
  await page.goBack();
  await is('Night Ferry', /\/mixes$/);
});

test('an address that leads nowhere says so, and leads to the desk', async ({ page }) => {
  for (const address of ['/desk/none/at/all', '/_sitemap']) {
    await page.goto(address);
    await expect(page.getByText('There is no such page')).toBeVisible();
  }
  await page.getByRole('button', { name: 'To the desk' }).click();
  await expect(baseline(page)).toBeVisible();
});

test('an address of what is not there any more says so, on a page that stands', async ({ page }) => {
  const { id, scene } = await deskNamed(page, 'Quay 48');
  const gone = '01M8DYWP0VTA3DDWQANXJHNN00';
  const faults: string[] = [];
  page.on('pageerror', ({ message }) => faults.push(`${page.url()}: ${message}`));
  for (const address of [
    ...['', '/strip/in.1', '/log', '/capture', '/edit-strips', '/ripple'].map((below) => `/desk/${gone}${below}`),
    ...['restore', 'restores', 'staged-settings'].map((what) => `/desk/${id}/${what}/${gone}`),
    `/desk/${id}/strip/in.99`,
    ...['', '/about', '/venues', '/parts', '/outboard', '/stems', `/scene/${gone}`].map(
      (below) => `/mixes/${gone}${below}`,
    ),
    `/mixes/${scene!.productionId}/scene/${gone}`,
    ...['library', 'convert', 'files', 'restores'].map((what) => `/${what}/${gone}`),
    `/compare?a=${gone}&b=now`,
    `/combine?id=${gone}`,
  ]) {
    await page.goto(address);
    const words = page
      .getByRole('main')
      .getByText(/no longer (exists|here|in the library)|No such|was saved or discarded/);
    await expect(words.first(), address).toBeVisible();
  }
  expect(faults).toEqual([]);
});

test('a page of a song opens fresh although its desk is not the first, and desks and songs become known in one moment', async ({
  page,
}) => {
  const song = await productionNamed(page, 'Lanterns on the Quay');
  await page.addInitScript(`
    const lists = /\\/api\\/(desks|productions)$/;
    const real = window.fetch;
    let [here, open] = [0, undefined];
    const both = new Promise((resolve) => (open = resolve));
    window.fetch = async (...asked) => {
      const answer = await real(...asked);
      if (lists.test(new URL(answer.url).pathname) && ++here === 2) open();
      if (lists.test(new URL(answer.url).pathname)) await both;
      return answer;
    };
  `);
  for (const below of ['', '/about', '/venues', '/parts', '/outboard', '/stems', '/mix-notes', '/bin']) {
    await page.goto(`/mixes/${song.id}${below}`);
    await expect(page.getByRole('main').getByText(song.name).first(), below).toBeVisible();
    await expect(page.getByRole('status').filter({ hasText: 'Loading' }), below).toHaveCount(0);
  }
});

test('what cannot be used says why when it is touched, also in a sheet', async ({ page }) => {
  const show = await productionNamed(page, 'Night Ferry');
  await page.goto(`/mixes/${show.id}/venues`);
  const touch = async (name: string) => {
    const button = page.getByRole('button', { name, exact: true });
    await expect(button).toBeDisabled();
    await button.scrollIntoViewIfNeeded();
    const { x, y, width, height } = (await button.boundingBox())!;
    await page.touchscreen.tap(x + width / 2, y + height / 2);
  };
  await touch('Add venue');
  await expect(page.getByText('Give it a name first.')).toBeVisible();
  await page.getByRole('button', { name: 'Save the desk for it …' }).first().click();
  for (const section of ['Pan', 'EQ', 'Effect lengths']) await page.getByRole('checkbox', { name: section }).click();
  await touch('Save');
  await expect(page.getByText('Choose a section first.')).toBeVisible();
});

test('what one touch removed is there again after one more', async ({ page }) => {
  const desk = await deskNamed(page, 'Quay 48');
  await page.goto(`/mixes/${desk.scene!.productionId}/outboard`);
  await page.getByRole('button', { name: 'Add a unit' }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).first().fill('Tape echo');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('button', { name: 'Edit', exact: true }).click();
  await page.getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByText('No units yet')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Tape echo').first()).toBeVisible();
  await expect(page.getByText('No units yet')).toBeHidden();
});

test('now, in a link that compares, is the desk of its scene, whichever desk was open last', async ({ page }) => {
  const [desk, other] = [await deskNamed(page, 'Quay 48'), await deskNamed(page, 'Skiff 16')];
  await page.goto(`/desk/${other.id}`);
  await expect(page.getByRole('heading', { name: 'Skiff 16' })).toBeVisible();
  await page.goto(`/compare?a=${desk.scene!.id}&b=now`);
  await expect(page.getByTestId('side-B')).toContainText('Quay 48');
  await expect(page.getByTestId('across')).toHaveCount(0);
  expect(page.url()).toContain(`desk=${desk.id}`);
});

test('names of the longest length keep every screen whole', async ({ page }) => {
  const desk = await deskNamed(page, 'Quay 48');
  const production = await ownProduction(page, desk, 'Longest night', 'show');
  const names = ['W'.repeat(60), 'مرحبا '.repeat(10).slice(0, 60).trim(), `${'🎻'.repeat(28)} end`];
  await quay.hands({
    'in.1/label/name': 'WWWWWWWWWWWW',
    'in.2/label/name': 'مرحبا بكم',
    'in.3/label/name': '🎻🎻🎻🎻🎻',
  });
  for (const name of names) {
    const scene = await capture(page, desk, production.versions[0]!.id, name);
    for (const path of [
      `/desk/${desk.id}`,
      `/mixes/${production.id}`,
      `/mixes/${production.id}/scene/${scene}`,
      `/desk/${desk.id}/capture`,
      `/desk/${desk.id}/restore/${scene}`,
      `/desk/${desk.id}/restore/${scene}/preview`,
      `/compare?a=${scene}&b=now`,
      `/desk/${desk.id}/strip/in.1`,
    ]) {
      await page.goto(path);
      await expect(page.getByRole('button').first()).toBeVisible();
      await expect(page.getByRole('progressbar')).toHaveCount(0);
      const [wide, over] = await page.evaluate<[number, number]>(`[
        document.documentElement.scrollWidth,
        [...document.querySelectorAll('[role=button], button, [role=heading]')].filter((one) => {
          const { left, right, width } = one.getBoundingClientRect();
          let scrolls = false;
          for (let around = one.parentElement; around; around = around.parentElement)
            if (/auto|scroll/.test(getComputedStyle(around).overflowX)) scrolls = true;
          return width > 0 && !scrolls && (left < -1 || right > window.innerWidth + 1);
        }).length,
      ]`);
      expect([path, wide, over]).toEqual([path, 390, 0]);
    }
  }
});
