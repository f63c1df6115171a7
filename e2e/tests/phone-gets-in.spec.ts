import { AxeBuilder } from '@axe-core/playwright';
import { type Browser, type BrowserContext, expect, type Page, test } from '@playwright/test';

import { capture, deskNamed, ownProduction } from './from-server';
import { stage } from './stage';
import { StandIn } from './stand-in';

test.describe.configure({ mode: 'serial' });

const boathouse = new StandIn('boathouse');
const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name, exact: true });

/** Another device on the network. It goes on past the certificate that it does not know, as a person would. */
const newPhone = (browser: Browser): Promise<BrowserContext> =>
  browser.newContext({
    baseURL: stage.network,
    ignoreHTTPSErrors: true,
    hasTouch: true,
    viewport: { width: 390, height: 844 },
    serviceWorkers: 'block',
  });

/** Where the picture on the screen leads a phone of somebody new. */
async function pictured(page: Page, who: string, role: 'Viewer' | 'Engineer'): Promise<string> {
  await page.goto('/people');
  await button(page, 'Let somebody in').tap();
  await page.getByTestId('person-name').fill(who);
  await page.getByRole('radio', { name: role }).tap();
  await button(page, 'Show the code').tap();
  const code = (await page.getByTestId('entry-code').textContent())?.replace(' ', '') ?? '';
  expect((await new AxeBuilder({ page }).analyze()).violations.map(({ id }) => id)).toEqual([]);
  await expect(page.getByRole('img', { name: /^https:\/\/[\d.]+:\d+\/enter, code / })).toBeVisible();
  return `/enter?code=${code}`;
}

let phone: BrowserContext;

test.afterAll(() => phone.close());

test('a phone is let in by what the screen shows, and restores', async ({ page, browser }) => {
  phone = await newPhone(browser);
  const held = await phone.newPage();
  await held.goto('/');
  await expect(held.getByText('This device is not let in')).toBeVisible();
  expect((await new AxeBuilder({ page: held }).analyze()).violations.map(({ id }) => id)).toEqual([]);
  // What makes it trust this machine is there before it is in.
  expect((await held.request.get('/authority.crt')).headers()['content-type']).toBe('application/x-x509-ca-cert');
  await held.getByTestId('entry-code').fill('WRONG 12345');
  await held.getByTestId('device-name').fill('Phone at front of house');
  await button(held, 'Go in').tap();
  await expect(held.getByRole('alert')).toContainText('This code lets nobody in');

  await held.goto(await pictured(page, 'Rosa Tidewell', 'Engineer'));
  await held.getByTestId('device-name').fill('Phone at front of house');
  await button(held, 'Go in').tap();
  await expect(held.getByTestId('link-state')).toContainText('Connected');
  await expect(page.getByText('Phone at front of house is in.')).toBeVisible();
  await button(page, 'Close').tap();
  await expect(page.getByText('Phone at front of house', { exact: true })).toBeVisible();

  const desk = await deskNamed(page, 'Boathouse');
  await page.request.patch(`/api/desks/${desk.id}`, { data: { mode: 'studio', safes: [] } });
  const before = (await boathouse.settings())['in.2/pan/position'];
  const { versions } = await ownProduction(page, desk, 'On the phone');
  const scene = await capture(page, desk, versions[0]!.id, 'For the phone');
  await boathouse.hands({ 'in.2/pan/position': before === 17 ? -17 : 17 });
  await held.goto(`/restore/${scene}/preview?desk=${desk.id}`);
  await button(held, 'Restore 1 setting').tap();
  await expect(held.getByText(/All confirmed/)).toBeVisible();
  expect((await boathouse.settings())['in.2/pan/position']).toBe(before);
});

test('it sees what it was let in as, and lets nobody in', async () => {
  const [held] = phone.pages();
  await held!.goto('/settings');
  await expect(held!.getByText(/^Phone at front of house, let in at \d\d:\d\d/)).toBeVisible();
  await expect(button(held!, 'People on the network')).toBeHidden();
  await held!.goto('/people');
  await expect(held!.getByText('Owners let people in and shut them out.')).toBeVisible();
  await expect(button(held!, 'Let somebody in')).toBeHidden();
});

test('shut out, it shows nothing more at once, wherever it is', async ({ page }) => {
  const [held] = phone.pages();
  await held!.goto('/desk');
  await expect(held!.getByTestId('link-state')).toContainText('Connected');
  await held!.evaluate(`caches.open('last-seen').then((kept) => kept.put('/api/desks', new Response('[]')))`);
  await page.goto('/people');
  await button(page, 'Hold to shut Phone at front of house out: hold').hover();
  await page.mouse.down();
  await expect(page.getByText('Phone at front of house is shut out.')).toBeVisible();
  await page.mouse.up();
  await expect(held!.getByText('This device is not let in')).toBeVisible();
  await expect(held!.getByTestId('link-state')).toBeHidden();
  await expect(page.getByText('In by no device at the moment.').first()).toBeVisible();
  // Nor is anything left in it of what it has seen.
  await expect.poll(() => held!.evaluate('caches.keys()')).toEqual([]);
  // The picture that let it in does so no more.
  await held!.reload();
  await expect(button(held!, 'Go in')).toBeVisible();
});

test('a viewer looks on: what changes anything is not there, and a touch on a scene shows what it would do', async ({
  page,
  browser,
}) => {
  const context = await newPhone(browser);
  const held = await context.newPage();
  await held.goto(await pictured(page, 'Ines Lowwater', 'Viewer'));
  await held.getByTestId('device-name').fill('Tablet in the house');
  await button(held, 'Go in').tap();
  await expect(held.getByTestId('link-state')).toContainText('Connected');
  for (const name of ['Capture scene', 'Swap', 'The show is not locked']) await expect(button(held, name)).toBeHidden();
  await held.goto('/mixes');
  await expect(held.getByRole('button', { name: /^Restore / })).toHaveCount(0);
  // Nor in a sheet.
  await held.getByRole('button', { name: /^8 Last lantern/ }).tap();
  await held.getByRole('button', { name: 'More about Last lantern' }).tap();
  await expect(held.getByRole('button', { name: 'Recall sheet' })).toBeVisible();
  for (const name of ['Duplicate', 'Protect', 'Move to the bin']) await expect(button(held, name)).toBeHidden();
  // What is asked for all the same is refused, in a sentence.
  const { id } = await deskNamed(page, 'Boathouse');
  const refused = await held.request.patch(`/api/desks/${id}`, { data: { mode: 'studio' } });
  expect([refused.status(), ((await refused.json()) as { title: string }).title]).toEqual([
    403,
    'A viewer looks and listens.',
  ]);
  await context.close();
});

test('with a password one gets in on another device, and signs out of it', async ({ page, browser }) => {
  const password = 'harbour violet thimble eleven';
  const [first, second] = [await newPhone(browser), await newPhone(browser)];
  const held = await first.newPage();
  await held.goto(await pictured(page, 'Bruna Quay', 'Engineer'));
  await held.getByTestId('device-name').fill('Phone of the first day');
  await button(held, 'Go in').tap();
  await expect(held.getByTestId('link-state')).toContainText('Connected');
  await held.goto('/settings');
  await button(held, 'Set a password').tap();
  await held.getByTestId('new-password').fill(password);
  await held.getByTestId('same-password').fill(password);
  await button(held, 'Save').tap();
  await expect(held.getByText('Bruna Quay gets in by a password too.')).toBeVisible();

  const other = await second.newPage();
  await other.goto('/');
  await other.getByRole('tab', { name: 'By a password' }).tap();
  await other.getByTestId('person-name').fill('Bruna Quay');
  await other.getByTestId('device-name').fill('Borrowed phone');
  await other.getByTestId('password').fill('harbour violet thimble twelve');
  await button(other, 'Go in').tap();
  await expect(other.getByRole('alert')).toContainText('Nobody is let in by this name and password');
  await other.getByTestId('password').fill(password);
  await button(other, 'Go in').tap();
  await expect(other.getByTestId('link-state')).toContainText('Connected');
  await other.goto('/settings');
  await button(other, 'Sign out').tap();
  await expect(other.getByText('This device is not let in')).toBeVisible();
  // Who did it is told.
  await page.goto('/changes');
  await expect(page.getByText(/Bruna Quay · Phone of the first day/).first()).toBeVisible();
  await Promise.all([first.close(), second.close()]);
});
