import { expect, type Page, test } from '@playwright/test';

import { deskNamed, productionNamed } from './from-server';
import { StandIn } from './stand-in';

// As a phone has it: the page may keep itself.
test.use({ serviceWorkers: 'allow' });

const quay = new StandIn('quay-48');

/** Waits until the page is kept and answered from there. */
async function kept(page: Page): Promise<void> {
  await page.goto('/');
  await page.evaluate(`navigator.serviceWorker.ready.then(() => undefined)`);
  await page.reload();
  await page.waitForFunction(`navigator.serviceWorker.controller !== null`);
}

test('it can be put on the home screen: a name, icons of the sizes they say, and it opens on the desk', async ({
  page,
}) => {
  await page.goto('/');
  const href = (await page.locator('link[rel=manifest]').getAttribute('href'))!;
  const manifest = (await (await page.request.get(href)).json()) as {
    name: string;
    display: string;
    start_url: string;
    icons: { src: string; sizes: string; purpose?: string }[];
  };
  expect(manifest).toMatchObject({ name: 'Old Echo', display: 'standalone', start_url: '/desk' });
  // What Chromium asks of an app that can be installed: 192 and 512 pixels; one that may be cut to any shape.
  expect(manifest.icons.map(({ sizes }) => sizes)).toEqual(expect.arrayContaining(['192x192', '512x512']));
  expect(manifest.icons.some(({ purpose }) => purpose === 'maskable')).toBe(true);
  for (const { src, sizes } of manifest.icons) {
    const png = await (await page.request.get(src)).body();
    // Width and height in the header chunk (PNG, third edition, 11.2.1).
    expect([src, `${png.readUInt32BE(16)}x${png.readUInt32BE(20)}`]).toEqual([src, sizes]);
  }
});

test('without the server it opens to what was seen last and says so; nothing is sent to a desk then, and nothing afterwards', async ({
  page,
}) => {
  const desk = await deskNamed(page, 'Quay 48');
  const show = await productionNamed(page, 'Night Ferry');
  const before = (await quay.settings())['in.1/fader/level'];
  await quay.hands({ 'in.1/fader/level': -11 });
  await kept(page);
  await page.goto(`/mixes/${show.id}`);
  await expect(page.getByTestId('scene-4')).toBeVisible();
  await page.goto(`/desk/${desk.id}`);
  const fader = page.getByTestId('strip-in.1').getByRole('slider');
  await expect(fader).toHaveAttribute('aria-valuetext', '−11.0 dB');
  // It is kept once nothing has moved for a moment.
  const seen = `caches.open('last-seen-desk').then((all) => all.match('/last-seen/${desk.id}')).then((one) => one?.text())`;
  await expect.poll(() => page.evaluate<string | undefined>(seen)).toContain('"fader/level":-11');
  await page.context().setOffline(true);
  await quay.hands({ 'in.1/fader/level': -4 });
  const held = await quay.settings();
  await page.reload();
  const banner = page.getByTestId('link-banner');
  await expect(banner).toContainText('Can’t reach the server.');
  await expect(banner).toContainText('Nothing can be sent until then. Values shown are as last read');
  await expect(fader).toHaveAttribute('aria-valuetext', '−11.0 dB');
  await expect(page.getByRole('button', { name: 'Capture scene' })).toBeDisabled();
  await page.goto(`/mixes/${show.id}`);
  await expect(page.getByTestId('scene-4')).toContainText('Night Ferry');
  await expect(banner).toBeVisible();
  await page.goto(`/desk/${desk.id}`);
  await expect(fader).toHaveAttribute('aria-valuetext', '−11.0 dB');
  await page.context().setOffline(false);
  await expect(banner).toBeHidden();
  await expect(fader).toHaveAttribute('aria-valuetext', '−4.0 dB');
  expect(await quay.settings()).toEqual(held);
  await quay.hands({ 'in.1/fader/level': before });
});
