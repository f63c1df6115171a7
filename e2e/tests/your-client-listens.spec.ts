import { setTimeout as pause } from 'node:timers/promises';

import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';

import type { MixNoteView } from '@old-echo/core/contracts/mix-note';

import { productionNamed, read } from './from-server';
import { stage } from './stage';
import { beginningOf, isRecording, loadedMixes, record, tapeOf } from './tape';

test.describe.configure({ mode: 'serial' });

const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name, exact: true });
/** Another device on the network, that nobody has let in and that has never seen Old Echo. */
const onPhone = {
  baseURL: stage.network,
  ignoreHTTPSErrors: true,
  hasTouch: true,
  viewport: { width: 390, height: 844 },
  serviceWorkers: 'block',
} as const;

const song = (page: Page) => productionNamed(page, 'Lanterns on the Quay');
let path = '';
/** What the versions were before they were marked as sent. */
let before: readonly { id: string; note: string; status: string }[] = [];

test.beforeAll(async ({ request }) => {
  const productions = (await (await request.get(`${stage.url}/api/productions`)).json()) as {
    name: string;
    versions: { id: string; note: string; status: string }[];
  }[];
  before = productions.find(({ name }) => name === 'Lanterns on the Quay')!.versions;
});

test.afterAll(async ({ request }) => {
  const at = `${stage.url}/api`;
  const productions = (await (await request.get(`${at}/productions`)).json()) as {
    versions: { id: string; revision: number }[];
  }[];
  for (const { id, note, status } of before) {
    const now = productions.flatMap(({ versions }) => versions).find((version) => version.id === id)!;
    await request.patch(`${at}/versions/${id}`, { data: { note, status, revision: now.revision } });
    const notes = (await (await request.get(`${at}/mix-notes?version=${id}`)).json()) as MixNoteView[];
    for (const written of notes.filter(({ requestedBy }) => requestedBy === 'Tam'))
      await request.delete(`${at}/mix-notes/${written.id}`);
  }
});

test('two mixes are sent as a link in one step: made, noted, marked as sent', async ({ page }) => {
  const { id } = await song(page);
  const { scenes } = await read<{ scenes: { id: string; name: string }[] }>(
    page,
    `/productions/${id}/scenes?limit=100`,
  );
  const [a, b] = ['Static balance', 'Fiddle forward'].map((name) => scenes.find((scene) => scene.name === name)!.id);
  await page.goto(`/compare?a=${a}&b=${b}`);
  await button(page, 'Listen to A and B').tap();
  await expect(button(page, 'Play')).toBeVisible();
  await page.getByRole('tab', { name: 'Sound' }).tap();
  await button(page, 'Send both …').tap();
  await page.getByRole('tab', { name: 'As a link' }).tap();
  await page.getByTestId('link-name').fill('The band');
  await page.getByTestId('link-word').fill('saltmarsh');
  await page.getByLabel('Note, e.g. what to listen for').fill('Listen to the bridge.');
  await button(page, 'Make the link and mark as sent').tap();
  const address = (await page.getByTestId('link-address').textContent()) ?? '';
  expect(address).toMatch(/^https:\/\/[\d.]+:\d+\/listen\/[\w-]{43}$/);
  path = new URL(address).pathname;
  await button(page, 'Close').tap();
  const sent = (await song(page)).versions as unknown as { status: string; note: string }[];
  expect(sent.some(({ note }) => / to The band as a link: A .*, B .*\. Listen to the bridge\.$/.test(note))).toBe(true);
});

test('on a phone that has never seen Old Echo both are heard, noted, liked and approved, and nothing else is there', async ({
  browser,
  page,
}) => {
  const context = await browser.newContext(onPhone);
  const held = await context.newPage();
  await held.goto(path);
  await held.getByTestId('client-word').fill('saltmarsh');
  await button(held, 'Listen').tap();
  await expect(held.getByText('Listen to the bridge.')).toBeVisible();
  await expect(held.getByRole('button', { name: 'Desk', exact: true })).toBeHidden();
  await button(held, 'Play').tap();
  await expect(held.getByTestId('client-place')).toHaveText(/^0:0[2-9] \/ 0:\d\d$/);
  await held.getByRole('button', { name: /^B\s.*LUFS$/ }).tap();
  await held.getByTestId('client-name').fill('Tam');
  await held.getByTestId('client-note').fill('More fiddle here');
  await held.getByRole('button', { name: /^Note it at 0:\d\d$/ }).tap();
  await expect(held.getByText('1 note, 0 of 1 done')).toBeVisible();
  await held.getByRole('tab', { name: 'B', exact: true }).tap();
  await button(held, 'Approve B').tap();
  await button(held, 'Approve').tap();
  await expect(held.getByText(/ is approved by Tam\.$/)).toBeVisible();
  expect((await new AxeBuilder({ page: held }).analyze()).violations.map(({ id }) => id)).toEqual([]);
  // It is opened again on the way, without the word.
  await held.reload();
  await expect(held.getByText('1 note, 0 of 1 done')).toBeVisible();
  await held.goto('/desk');
  await expect(held.getByText('This device is not let in')).toBeVisible();

  // Whoever sent it is told, and answers with a scene.
  const { id, versions } = await song(page);
  await page.goto(`/mixes/${id}/client-links`);
  await expect(page.getByText(/^Tam likes .* better\.$/)).toBeVisible();
  await expect(page.getByText(/ is approved by Tam\.$/)).toBeVisible();
  const notes = await Promise.all(
    versions.map((version) => read<MixNoteView[]>(page, `/mix-notes?version=${version.id}`)),
  );
  const written = notes.flat().find(({ text }) => text === 'More fiddle here')!;
  const edit = { status: 'done', revision: written.revision };
  await page.request.patch(`/api/mix-notes/${written.id}`, { data: edit });
  await held.goto(path);
  await expect(held.getByText('1 note, 1 of 1 done')).toBeVisible();

  await button(page, 'Withdraw …').first().tap();
  await button(page, 'Withdraw').tap();
  await expect(page.getByText('The band hears nothing by it any more.')).toBeVisible();
  await held.reload();
  await expect(held.getByText('This link leads nowhere any more.')).toBeVisible();
  await context.close();
});

test.describe('on tape', () => {
  // The recorder is put into the page from outside, which its own policy forbids.
  test.use({ ...onPhone, bypassCSP: true });

  test('what a client hears goes from A to B at the same sample of the song', async ({ page }) => {
    const at = `${stage.url}/api`;
    const productions = (await (await page.request.get(`${at}/productions`)).json()) as { id: string; name: string }[];
    const { id } = productions.find(({ name }) => name === 'Lanterns on the Quay')!;
    const [last] = (await (await page.request.get(`${at}/productions/${id}/client-links`)).json()) as {
      mixes: { sound: string; name: string }[];
    }[];
    const mixes = last!.mixes.map(({ sound, name }) => ({ sound, name }));
    const made = await page.request.post(`${at}/productions/${id}/client-links`, { data: { name: 'On tape', mixes } });
    const link = (await made.json()) as { path: string };
    await record(page);
    const [a, b] = await loadedMixes(page, async () => {
      await page.goto(link.path);
      await expect(button(page, 'Play')).toBeVisible();
    });
    // As they were mixed, so that what is recorded is the file to the last bit.
    await page.getByRole('checkbox', { name: 'As loud as one another' }).tap();
    await isRecording(page);
    await page.keyboard.press(' ');
    await pause(1500);
    await page.keyboard.press('b');
    await pause(1500);
    const tape = await tapeOf(page);
    const toB = tape.keys.find(({ key }) => key === 'b')!.frame;
    const began = beginningOf(tape, a!, toB - 24_000);
    expect(began).toBeDefined();
    expect(beginningOf(tape, b!, toB + 24_000)).toBe(began);
  });
});
