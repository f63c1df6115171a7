import { setTimeout as pause } from 'node:timers/promises';

import { expect, type Page, test } from '@playwright/test';

import { beginningOf, isRecording, isSounding, leavesAt, loadedMixes, record, soundsAgainAt, tapeOf } from './tape';

interface Scene {
  readonly id: string;
  readonly name: string;
}

/** The scenes of the demo's song by name. */
async function scenesOf(page: Page): Promise<(name: string) => string> {
  const productions = (await (await page.request.get('/api/productions')).json()) as Scene[];
  const song = productions.find(({ name }) => name === 'Lanterns on the Quay')!;
  const { scenes } = (await (await page.request.get(`/api/productions/${song.id}/scenes?limit=100`)).json()) as {
    scenes: Scene[];
  };
  return (name) => scenes.find((scene) => scene.name === name)!.id;
}

/** 8 ms and a little, in samples. */
const FADE = 400;

async function compare(page: Page, a: string, ...others: string[]): Promise<void> {
  const id = await scenesOf(page);
  await page.goto(`/compare?a=${id(a)}&b=${others.map(id).join(',')}`);
  await expect(page.getByTestId('sentence')).toContainText('B differs in');
}

/** Compares two scenes, has all that is heard recorded, and plays both from their beginning; returns the left channels of both mixes. */
async function playOnTape(page: Page): Promise<Float32Array[]> {
  await record(page);
  await compare(page, 'Static balance', 'Fiddle forward');
  const mixes = await loadedMixes(page, async () => {
    await page.getByRole('button', { name: 'Listen to A and B' }).click();
    await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  });
  // As they were mixed, so that what is recorded is the file to the last bit.
  await page.getByRole('checkbox', { name: 'Level-matched' }).click();
  await isRecording(page);
  await page.keyboard.press(' ');
  return mixes;
}

test('two scenes: the gist, the picture, the strip’s own page, and what one hears most first', async ({ page }) => {
  await compare(page, 'Static balance', 'Fiddle forward');
  await expect(page.getByTestId('side-A')).toContainText('2 Static balance');
  await expect(page.getByTestId('sentence')).toContainText('B differs in 33 settings on 11 strips.');
  const fader = page.getByTestId('cell-in.1/fader');
  await expect(fader).toHaveAttribute('aria-label', 'Fiddle, Fader: −8.0 to −4.5 dB');
  await fader.click();
  await expect(page.getByTestId('detail-in.1/fader')).toContainText('−8.0 to −4.5 dB');
  await expect(page.getByRole('img', { name: 'EQ curve; the two differ' })).toBeVisible();
  // The link opens the same comparison again.
  await page.reload();
  await expect(page.getByTestId('detail').getByText('Fiddle', { exact: true })).toBeVisible();
});

test('keys: the next difference, swapped, one scene older', async ({ page }) => {
  await compare(page, 'Static balance', 'Fiddle forward');
  const name = () => page.getByTestId('detail').locator('[role="heading"]').first().textContent();
  const first = await name();
  await page.keyboard.press('n');
  await page.keyboard.press('n');
  await page.keyboard.press('p');
  await page.keyboard.press('p');
  expect(await name()).toBe(first);
  await page.keyboard.press('v');
  await expect(page.getByTestId('side-A')).toContainText('7 Fiddle forward');
  await expect(page.getByTestId('cell-in.1/fader')).toHaveAttribute('aria-label', 'Fiddle, Fader: −4.5 to −8.0 dB');
  await page.keyboard.press('{');
  await expect(page.getByTestId('side-B')).toContainText('1 Rough balance');
});

test('one against two others; filters; levels and outputs', async ({ page }) => {
  await compare(page, 'Static balance', 'Fiddle forward', 'Voice rides');
  await page.getByRole('tab', { name: /5 Voice rides · 15 settings/ }).click();
  await expect(page.getByTestId('side-B')).toContainText('5 Voice rides');
  await page.getByRole('tab', { name: /7 Fiddle forward/ }).click();
  await page.getByRole('checkbox', { name: 'Effect returns' }).click();
  await expect(page.getByTestId('cell-in.1/fader')).toHaveCount(0);
  await expect(page.getByTestId('cell-fx.2/fader')).toBeVisible();
  await page.getByRole('checkbox', { name: 'Effect returns' }).click();
  await page.getByRole('tab', { name: 'Levels' }).click();
  await expect(page.getByTestId('levels')).toContainText('Fiddle');
  await page.getByRole('tab', { name: 'Outputs' }).click();
  await expect(page.getByTestId('outputs')).toContainText('Main');
});

test('a scene against the desk, chosen on the screen; two kinds of desk are compared by part', async ({ page }) => {
  const id = await scenesOf(page);
  await page.goto(`/compare?a=${id('Static balance')}&b=${id('Fiddle forward')}`);
  await page.getByTestId('side-B').click();
  await page.getByRole('radio', { name: '5 Voice rides' }).click();
  await expect(page.getByTestId('sentence')).toContainText('B differs in 15 settings');
  const desks = (await (await page.request.get('/api/desks')).json()) as Scene[];
  const quay = desks.find(({ name }) => name === 'Quay 48')!;
  await page.goto(`/compare?a=${id('Static balance')}&b=now&desk=${quay.id}`);
  // Two kinds of desk are compared by part: what only one of them has is named.
  await expect(page.getByTestId('across')).toContainText(/^B is from a Quay 48\. By part and name, \d+ strips have/);
  await expect(page.getByTestId('across')).toContainText('only in A: Upright bass mic');
  await expect(page.getByTestId('sentence')).toContainText(/B differs in \d+ settings on \d+ strips/);
  await expect(page.getByRole('button', { name: 'Combine A and B' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Swap A and B' }).click();
  await expect(page.getByTestId('across')).toContainText(/^B is from a Boathouse\./);
  await page.getByRole('button', { name: 'Swap A and B' }).click();
  await expect(page.getByTestId('across')).toContainText(/^B is from a Quay 48\./);
  await page.getByTestId('side-A').click();
  await page.getByRole('tab', { name: 'Night Ferry' }).click();
  await page.getByRole('radio', { name: '6 Low tide' }).click();
  await expect(page.getByTestId('across')).toHaveCount(0);
});

test('by ear: both mixes are worked out, matched in level, switched, measured and tested blind', async ({ page }) => {
  await compare(page, 'Static balance', 'Fiddle forward');
  await page.getByRole('button', { name: 'Listen to A and B' }).click();
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  await expect(page.getByTestId('sentence')).toContainText(
    /B is \d\.\d LU (louder|quieter) and differs in 33 settings/,
  );
  await expect(page.getByRole('checkbox', { name: 'Level-matched' })).toBeChecked();
  await expect(page.getByText(/^[AB] −\d\.\d dB$/)).toBeVisible();
  await page.getByRole('button', { name: 'Play' }).click();
  await page.getByRole('button', { name: 'Hear B' }).click();
  await expect(page.getByText(/^B playing/)).toBeVisible();
  await page.keyboard.press('x');
  await expect(page.getByText(/^A playing/)).toBeVisible();
  await page.getByRole('tab', { name: 'Sound' }).click();
  await expect(page.getByTestId('sound-charts')).toContainText('LUFS');
  await expect(page.getByRole('img', { name: /^B relative to A by frequency: \d+ Hz −?\d/ })).toBeVisible();
  await expect(page.getByRole('img', { name: /^Stereo correlation over time/ })).toBeVisible();
  await page.getByRole('button', { name: 'Blind test …' }).click();
  for (let i = 0; i < 10; i++) await page.getByRole('button', { name: 'X is A' }).click();
  await page.getByRole('button', { name: 'Show the result' }).click();
  await expect(page.getByTestId('blind-result')).toContainText(/\d+ of 10 right \(p = \d\.\d{3}/);
});

test.describe('on tape', () => {
  // The recorder is put into the page from outside, which its own policy forbids.
  test.use({ bypassCSP: true });

  test('what is heard goes from A to B at the same sample of the song, and back, without a gap', async ({ page }) => {
    const [a, b] = await playOnTape(page);
    for (const key of ['b', 'a']) {
      await pause(1500);
      await page.keyboard.press(key);
    }
    await pause(1500);
    const tape = await tapeOf(page);
    const [toB, toA] = tape.keys.filter(({ key }) => key === 'b' || key === 'a').map(({ frame }) => frame);
    // Well before the switch, half a second behind it, and half a second behind the way back.
    const began = beginningOf(tape, a!, toB! - 24_000);
    expect(began).toBeDefined();
    expect(beginningOf(tape, b!, toB! + 24_000)).toBe(began);
    expect(beginningOf(tape, a!, toA! + 24_000)).toBe(began);
    // On the way every sample lies between those of A and B, and 8 ms after it leaves A it is B to the last bit.
    const left = leavesAt(tape, a!, began!, toB!)!;
    for (let frame = toB!; frame < left + FADE; frame++) {
      const [x, y, heard] = [a![frame - began!]!, b![frame - began!]!, tape.samples[frame - tape.from]!];
      if (heard < Math.min(x, y) - 1e-6 || heard > Math.max(x, y) + 1e-6) throw new Error(`a jump at ${frame}`);
    }
    expect(leavesAt(tape, b!, began!, left + FADE)).toBeGreaterThan(toB! + 24_000);
  });

  test('a seek and a loop put every sample where it belongs, of both mixes', async ({ page }) => {
    const [a, b] = await playOnTape(page);
    await pause(1200);
    // The middle of the song has to be fetched first, on a slow line.
    await page.route('**/pieces/*', async (route) => {
      await pause(900);
      await route.continue();
    });
    await page.getByRole('slider', { name: 'Place in the song' }).click();
    await pause(500);
    await isSounding(page);
    await pause(1200);
    await page.keyboard.press('l');
    await pause(1500);
    await page.keyboard.press('l');
    await pause(4000);
    await page.keyboard.press('b');
    await pause(1200);
    const tape = await tapeOf(page);
    const at = (key: string) => tape.keys.filter((one) => one.key === key).map(({ frame }) => frame);
    const [seek, [from, to], toB] = [at('pointer').at(-1)!, at('l'), at('b')[0]!];

    // From the middle of the song, at once as loud as it is.
    const first = soundsAgainAt(tape, seek);
    const sought = beginningOf(tape, a!, first)!;
    expect((first - sought) / a!.length).toBeCloseTo(0.5, 2);
    // That a part begins to repeat is heard by nobody.
    expect(leavesAt(tape, a!, sought, first)).toBeGreaterThan(to!);

    // Round and round: at the sample at which it leaves the part, it is at its beginning.
    const again = soundsAgainAt(tape, to!);
    const once = beginningOf(tape, a!, again)!;
    const end = leavesAt(tape, a!, once, again)!;
    const twice = beginningOf(tape, a!, end)!;
    const endAgain = leavesAt(tape, a!, twice, end)!;
    const thrice = beginningOf(tape, a!, endAgain)!;
    expect([endAgain - twice, endAgain - thrice]).toEqual([end - once, end - twice]);
    expect((twice - once) / 48_000).toBeCloseTo((to! - from!) / 48_000, 0);
    // B is where A would be.
    expect((beginningOf(tape, b!, toB + 12_000)! - thrice) % (twice - once)).toBe(0);
  });
});

test('a part is repeated and matched by its own loudness; a blind test is kept; files are taken along', async ({
  page,
}) => {
  await compare(page, 'Static balance', 'Fiddle forward');
  await page.getByRole('button', { name: 'Listen to A and B' }).click();
  await page.getByRole('button', { name: 'Play' }).click();
  const down = page.getByTestId('audition').getByText(/^B.* −\d\.\d dB$/);
  const whole = await down.textContent();
  await pause(1500);
  await page.getByRole('checkbox', { name: 'Repeat' }).click();
  await pause(2000);
  await page.getByRole('checkbox', { name: /0:\d\d–0:\d\d/ }).click();
  await expect(down).not.toHaveText(whole!);
  await page.getByRole('button', { name: 'Blind test …' }).click();
  for (let i = 0; i < 12; i++) await page.getByRole('button', { name: i % 2 ? 'X is A' : 'X is B' }).click();
  await page.getByRole('button', { name: 'Show the result' }).click();
  await expect(page.getByTestId('blind-result')).toContainText('of 12 right');
  await page.reload();
  await page.getByRole('button', { name: 'Listen to A and B' }).click();
  await page.getByRole('tab', { name: 'Sound' }).click();
  await expect(page.getByTestId('blind-results')).toContainText(/of 12 right.*Main, 0:\d\d–0:\d\d/s);
  for (const [button, name] of [
    ['24-bit WAV', '2 Static balance.wav'],
    ['24-bit FLAC', '2 Static balance.flac'],
    ['Loudness report', '2 Static balance, loudness.txt'],
    ['All strips as WAV', '2 Static balance, strips.zip'],
  ] as const) {
    const download = page.waitForEvent('download', { timeout: 120_000 });
    await page.getByTestId('bounce-A').getByRole('button', { name: button }).click();
    expect((await download).suggestedFilename()).toBe(name);
  }
});

test('a restore is heard before anything is sent', async ({ page }) => {
  const id = await scenesOf(page);
  const desks = (await (await page.request.get('/api/desks')).json()) as Scene[];
  await page.goto(`/desk/${desks.find(({ name }) => name === 'Boathouse')!.id}`);
  await expect(page.getByRole('heading', { name: 'Boathouse' })).toBeVisible();
  await page.goto(`/restore/${id('Static balance')}/preview`);
  // The line fails while the sound is fetched, as often as it is tried.
  await page.route('**/pieces/*', (route) => route.abort());
  await page.getByRole('button', { name: 'Hear it first: A now, B restored' }).click();
  await expect(page.getByText('The sound could not be loaded.')).toBeVisible({ timeout: 15_000 });
  await page.unroute('**/pieces/*');
  await page.getByRole('button', { name: 'Try again' }).click();
  await page.getByRole('button', { name: 'Play' }).click();
  await page.getByRole('button', { name: 'Hear B' }).click();
  await expect(page.getByText(/^B playing/)).toBeVisible();
});

test.describe('wide', () => {
  test.use({ viewport: { width: 1280, height: 800 } });

  test('all strips and sections, with the strip beside them', async ({ page }) => {
    await compare(page, 'Static balance', 'Fiddle forward');
    await expect(page.getByTestId('cell-picture').getByText('Shaker', { exact: true })).toBeVisible();
    await page.getByTestId('difference-in.1/eq').click();
    await expect(page.getByTestId('detail-in.1/eq')).toBeVisible();
  });
});
