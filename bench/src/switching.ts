import { chromium, type Page } from '@playwright/test';

import { beginningOf, isRecording, leavesAt, loadedMixes, record, tapeOf } from '../../e2e/tests/tape';
import { print } from './figure';

/** Switches that are measured. */
const SWITCHES = 20;

/** Runs in the page: the time from a touch to the button that plays, in ms. */
const WATCH = `window.ready = new Promise((resolve) => {
  let touched;
  addEventListener('click', ({ timeStamp }) => (touched ??= timeStamp), true);
  new MutationObserver((_, observer) => {
    if (touched === undefined || !document.querySelector('[aria-label="Play"]')) return;
    observer.disconnect();
    resolve(performance.now() - touched);
  }).observe(document.body, { subtree: true, childList: true });
}); undefined`;

async function twoScenes(page: Page): Promise<string> {
  const list = async <T>(path: string): Promise<T> => (await (await page.request.get(path)).json()) as T;
  const productions = await list<{ id: string; name: string }[]>('/api/productions');
  const song = productions.find(({ name }) => name === 'Lanterns on the Quay');
  const { scenes } = await list<{ scenes: { id: string; name: string }[] }>(
    `/api/productions/${song?.id ?? ''}/scenes?limit=100`,
  );
  const id = (name: string) => scenes.find((scene) => scene.name === name)?.id ?? '';
  return `/compare?a=${id('Static balance')}&b=${id('Fiddle forward')}`;
}

/** From asking to hear two mixes to both being ready to play, and from a key to the first sample of the other mix. */
export async function switching(): Promise<void> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-sync'],
  });
  try {
    const page = await browser.newPage({
      baseURL: process.env['OLD_ECHO_URL'] ?? '',
      viewport: { width: 1280, height: 800 },
    });
    await record(page);
    const address = await twoScenes(page);
    const ready = async () => {
      await page.goto(address);
      const listen = page.getByRole('button', { name: 'Listen to A and B' });
      await listen.waitFor();
      await page.evaluate(WATCH);
      await listen.click();
      return page.evaluate<number>('window.ready');
    };
    let cold = 0;
    const [a = new Float32Array(), b = new Float32Array()] = await loadedMixes(page, async () => {
      cold = await ready();
    });
    const seconds = (a.length / 48_000).toFixed(0);
    const about = `A and B of the demo, 16 strips of ${seconds} s each, ready to play`;
    const both = (a.length / 48) * 2;
    print({
      name: `${about}, nothing worked out before (other: playing both)`,
      ours: cold,
      other: both,
      unit: 'ms',
      goal: { most: 5000 },
    });
    print({
      name: `${about}, once more (other: nothing worked out before)`,
      ours: await ready(),
      other: cold,
      unit: 'ms',
      goal: { most: 1000 },
    });
    await page.getByRole('checkbox', { name: 'Matched' }).click();
    await isRecording(page);
    await page.keyboard.press(' ');
    for (let i = 0; i < SWITCHES; i++) {
      await page.waitForTimeout(600 + i * 7);
      await page.keyboard.press(i % 2 ? 'a' : 'b');
    }
    await page.waitForTimeout(600);
    const tape = await tapeOf(page);
    const keys = tape.keys.filter(({ key }) => key !== ' ');
    const start = beginningOf(tape, a, (keys[0]?.frame ?? 0) - 12_000) ?? 0;
    const waits = keys
      .map(({ key, frame, lateness }) => {
        const heard = leavesAt(tape, key === 'b' ? a : b, start, frame) ?? Infinity;
        return (heard - frame) / 48 + lateness * 1000;
      })
      .sort((one, other) => one - other);
    const latency = tape.latency * 1000;
    for (const [which, ours] of [
      ['the middle', waits[Math.floor(SWITCHES / 2)]],
      ['the slowest', waits.at(-1)],
    ] as const)
      print({
        name: `from a key to the first sample of the other mix, ${which} of ${SWITCHES} (other: what the browser keeps in hand before the loudspeaker, without a sound card)`,
        ours: ours ?? Infinity,
        other: latency,
        unit: 'ms',
        goal: { most: 20 },
      });
  } finally {
    await browser.close();
  }
}
