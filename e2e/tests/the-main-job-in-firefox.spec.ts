import { setTimeout as pause } from 'node:timers/promises';

import { expect, test } from '@playwright/test';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';

import { productionNamed, read } from './from-server';
import { stage } from './stage';
import { differing, StandIn } from './stand-in';

/** What is waited for at most, in ms. */
const PATIENCE = 60_000;

const quay = new StandIn('quay-48');

const loudspeaker = process.env['OLD_ECHO_LOUDSPEAKER'];

let firefox: Browser;

test.beforeAll(async () => {
  firefox = await puppeteer.launch({
    browser: 'firefox',
    executablePath: '/usr/bin/firefox-esr',
    headless: true,
    // Where nobody started a loudspeaker, it takes that of the machine.
    env: { ...process.env, ...(loudspeaker ? { PULSE_SERVER: loudspeaker } : {}) },
  });
});

test.afterAll(() => firefox.close());

/** Where the song is, in seconds. Runs in the page. */
const PLACE = `document.querySelector('[aria-label="Place in the song"]').getAttribute('aria-valuenow')`;

/** A page of Firefox that gathers what goes wrong in it. */
async function open(path: string): Promise<{ page: Page; faults: string[] }> {
  const page = await firefox.newPage();
  page.setDefaultTimeout(PATIENCE);
  await page.setViewport({ width: 390, height: 844 });
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(String(error)));
  await page.goto(`${stage.url}${path}`);
  return { page, faults };
}
const button = (page: Page, name: string) => page.locator(`::-p-aria([role="button"][name="${name}"])`);
const told = (page: Page, testId: string, text: string) =>
  page.locator(`[data-testid="${testId}"] ::-p-text(${text})`).wait();

test('Firefox: a scene is captured, a hand moves a fader, and the scene brings it back', async () => {
  const { page, faults } = await open('/');
  await told(page, 'link-state', 'Connected');
  await button(page, 'Capture scene').click();
  await page.locator('[data-testid="scene-name"]').fill('Seen by a fox');
  await button(page, 'Capture').click();
  await told(page, 'current-scene', 'Seen by a fox');
  const captured = await quay.settings();
  await quay.hands({ 'in.8/fader/level': -31 });
  await told(page, 'drift-count', '1');
  await button(page, 'Put all back').click();
  // 25 dB louder at a show has to be answered for, and held.
  await button(page, 'I have checked').click();
  await page.locator('::-p-text(Hold to put back 1 setting)').hover();
  await page.mouse.down();
  await page.locator('::-p-text(1 setting. All confirmed.)').wait();
  await page.mouse.up();
  expect(differing(captured, await quay.settings())).toEqual([]);
  expect(faults).toEqual([]);
  await page.close();
});

test('Firefox: two mixes are worked out, and what is heard goes from A to B while the song plays', async ({
  page: here,
}) => {
  const song = await productionNamed(here, 'Lanterns on the Quay');
  const { scenes } = await read<{ scenes: { id: string; name: string }[] }>(
    here,
    `/productions/${song.id}/scenes?limit=100`,
  );
  const [a, b] = ['Static balance', 'Fiddle forward'].map((name) => scenes.find((scene) => scene.name === name)!.id);
  const { page, faults } = await open(`/compare?a=${a}&b=${b}`);
  await button(page, 'Listen to A and B').click();
  await button(page, 'Play').click();
  await page.locator('::-p-text(A playing)').wait();
  const position = () => page.evaluate(PLACE);
  const first = await position();
  await button(page, 'Hear B').click();
  await page.locator('::-p-text(B playing)').wait();
  await pause(1500);
  expect(await position()).not.toBe(first);
  expect(faults).toEqual([]);
  await page.close();
});

test('Firefox: a client hears both mixes of a link, and writes a note at a moment', async ({ page: here }) => {
  const song = await productionNamed(here, 'Lanterns on the Quay');
  const { scenes } = await read<{ scenes: { id: string; name: string }[] }>(
    here,
    `/productions/${song.id}/scenes?limit=100`,
  );
  const mixes = await Promise.all(
    ['Static balance', 'Fiddle forward'].map(async (name) => {
      const sceneId = scenes.find((scene) => scene.name === name)!.id;
      const request = { productionId: song.id, sceneId, output: 'main.1' };
      const begun = (await (await here.request.post('/api/renders', { data: request })).json()) as { id: string };
      await expect
        .poll(async () => (await read<{ status: string }>(here, `/renders/${begun.id}?wait=1000`)).status)
        .toBe('done');
      return { sound: begun.id, name, sceneId };
    }),
  );
  const made = await here.request.post(`/api/productions/${song.id}/client-links`, { data: { name: 'A fox', mixes } });
  const { path } = (await made.json()) as { path: string };
  const { page, faults } = await open(path);
  await button(page, 'Play').click();
  await page.locator('::-p-text(Fiddle forward)').click();
  const first = await page.evaluate(PLACE);
  await pause(2500);
  expect(await page.evaluate(PLACE)).not.toBe(first);
  await page.locator('[data-testid="client-name"]').fill('A fox');
  await page.locator('[data-testid="client-note"]').fill('More drum');
  await page.locator('::-p-text(Note it at)').click();
  await page.locator('::-p-text(1 note, 0 of 1 done)').wait();
  expect(faults).toEqual([]);
  await page.close();
  // Others count the mix notes of this song.
  for (const { id } of song.versions)
    for (const note of await read<{ id: string; requestedBy: string }[]>(here, `/mix-notes?version=${id}`))
      if (note.requestedBy === 'A fox') await here.request.delete(`/api/mix-notes/${note.id}`);
});
