import { expect, type Page, test } from '@playwright/test';

import { capture, deskNamed, productionNamed, read } from './from-server';
import { StandIn } from './stand-in';

type Box = Readonly<Record<'left' | 'top' | 'right' | 'bottom', number>>;

/** Where all strips are. Runs in the page. */
const BOXES = `[...document.querySelectorAll('[data-testid^="glance-"]')].map((one) => one.getBoundingClientRect().toJSON())`;

/** Strips that stand on the screen, whole, each where no other is. */
async function seen(page: Page): Promise<number> {
  const { width, height } = page.viewportSize()!;
  await expect(page.getByTestId('glance-main.1')).toBeVisible();
  const boxes = await page.evaluate<Box[]>(BOXES);
  const whole = boxes.filter((one) => one.left >= 0 && one.top >= 0 && one.right <= width && one.bottom <= height);
  for (const [i, one] of whole.entries())
    for (const other of whole.slice(i + 1))
      expect(
        Math.min(one.right, other.right) - Math.max(one.left, other.left) > 1 &&
          Math.min(one.bottom, other.bottom) - Math.max(one.top, other.top) > 1,
      ).toBe(false);
  return whole.length;
}

test.describe('wide', () => {
  test.use({ viewport: { width: 1280, height: 800 }, hasTouch: false });

  test('all strips of a 48-input desk stand on one screen, beside the scenes; a switch is seen to happen there', async ({
    page,
  }) => {
    const quay = new StandIn('quay-48');
    const desk = await deskNamed(page, 'Quay 48');
    const path = `/api/desks/${desk.id}`;
    const { mode, safes } = (await (await page.request.get(path)).json()) as { mode: string; safes: unknown };
    await page.request.patch(path, { data: { mode: 'studio', showLock: false, safes: [] } });
    // What others left drifted is not put back with it.
    await capture(page, desk, (await productionNamed(page, 'Night Ferry')).versions[0]!.id, 'To see a switch');
    await page.goto(`/desk/${desk.id}`);
    expect(await seen(page)).toBe(104);
    await expect(page.getByLabel('Scenes at hand', { exact: true })).toBeVisible();
    const before = Number((await quay.settings())['in.2/fader/level']);
    await quay.hands({ 'in.2/fader/level': before - 6 });
    const cell = page.getByTestId('glance-in.2');
    await expect(cell).toHaveAccessibleName(/1 setting drifted/);
    await page.getByRole('button', { name: 'Put all back' }).click();
    await expect(cell).toHaveAccessibleName(/changed/);
    await expect(page.getByTestId('last-switch')).toContainText(/Last restore: /);
    // The echo is over after two seconds.
    await expect(cell).not.toHaveAccessibleName(/changed|drifted/);
    await page.getByRole('checkbox', { name: 'In use' }).last().click();
    await expect.poll(() => page.locator('[data-testid^="glance-"]').count()).toBeLessThan(80);
    await cell.click();
    await expect(page).toHaveURL(/strip\/in\.2/);
    await page.request.patch(path, { data: { mode, safes } });
  });
});

test.describe('held sideways', () => {
  test.use({ viewport: { width: 844, height: 390 } });

  test('the whole desk is there, and every other screen has room for what it is about', async ({ page }) => {
    const desk = await deskNamed(page, 'Quay 48');
    await page.goto(`/desk/${desk.id}`);
    expect(await seen(page)).toBe(104);
    for (const name of ['Capture', 'Swap', 'Way back'])
      await expect(page.getByRole('button', { name, exact: true })).toBeInViewport({ ratio: 1 });
    const show = (await productionNamed(page, 'Night Ferry')).id;
    const { scenes } = await read<{ scenes: { id: string }[] }>(
      page,
      `/productions/${show}/scenes?limit=3&ownOnly=true`,
    );
    const [one, other] = scenes.map(({ id }) => id);
    /** Each with what has to be in sight on it. */
    const screens: readonly (readonly [address: string, what: string])[] = [
      [`/desk/${desk.id}/strip/in.1`, 'text=Fader'],
      [`/mixes/${show}`, '[data-testid^=scene-]'],
      [`/mixes/${show}/scene/${one}`, 'text=Saved recall scope'],
      [`/desk/${desk.id}/restore/${other}`, 'text=Sections'],
      [`/compare?a=${other}&b=${one}`, 'text=Differences'],
      [`/desk/${desk.id}/capture`, '[data-testid=scene-name]'],
      ['/library', 'text=Ambience'],
      ['/settings', 'text=Boathouse'],
      ['/productions', 'text=Night Ferry'],
      ['/files', 'text=The library'],
    ];
    for (const [address, what] of screens) {
      await page.goto(address);
      await expect(page.locator(what).first(), address).toBeInViewport({ ratio: 0.9 });
      expect(await page.evaluate('document.documentElement.scrollWidth'), address).toBeLessThanOrEqual(844);
    }
  });
});
