import { expect, type Page, test } from '@playwright/test';

/**
 * The most that a page may move while it is drawn, as a share of the screen times the way: half of what Web Vitals call good (a Cumulative
 * Layout Shift of 0.1, web.dev/articles/cls). Whoever taps a row in that moment must not hit another.
 */
const MOST = 0.05;

/** How long one answer of the server after the other is held back, in ms, so that what comes first on most machines does not always. */
const HELD_BACK = [0, 90, 20, 120, 45, 5, 65];

/** Holds back every answer for a while. */
async function answerAtOdds(page: Page): Promise<void> {
  let asked = 0;
  await page.route('**/api/**', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, HELD_BACK[asked++ % HELD_BACK.length]));
    await route.fallback();
  });
}

/** Counts, in the page, by how much it has moved, and notes what moved how far. */
const WATCH = `
  window.shifted = { by: 0, moved: [] };
  new PerformanceObserver((list) => {
    for (const { value, sources } of list.getEntries()) {
      window.shifted.by += value;
      for (const { node, previousRect, currentRect } of sources)
        window.shifted.moved.push((node?.textContent ?? '').slice(0, 60) + ': ' + previousRect.y + ' to ' + currentRect.y);
    }
  }).observe({ type: 'layout-shift', buffered: true });
`;

/** By how much the page has moved once nothing in it has changed for half a second. */
const SHIFTED = `
  new Promise((resolve) => {
    let timer;
    const observer = new MutationObserver(() => wait());
    const wait = () => {
      clearTimeout(timer);
      timer = setTimeout(() => {
        observer.disconnect();
        resolve(window.shifted);
      }, 500);
    };
    observer.observe(document.body, { childList: true, subtree: true });
    wait();
  })
`;

interface Named {
  readonly id: string;
  readonly name: string;
}

const read = async <T>(page: Page, path: string): Promise<T> =>
  (await (await page.request.get(`/api${path}`)).json()) as T;

/** Where every main view of the demo is. */
async function addresses(page: Page): Promise<readonly string[]> {
  const productions = await read<(Named & { deskId: string })[]>(page, '/productions');
  const song = productions.find(({ name }) => name === 'Lanterns on the Quay')!;
  const { scenes } = await read<{ scenes: Named[] }>(page, `/productions/${song.id}/scenes?limit=50`);
  const scene = scenes[0]!.id;
  const combined = scenes.find(({ name }) => name === 'Fiddle kept, hall back')!.id;
  const mixes = [
    '',
    'about',
    'parts',
    'venues',
    'outboard',
    'stems',
    'mix-notes',
    'client-links',
    'bin',
    'strip-history',
    `scene/${scene}`,
    `scene/${combined}`,
  ];
  return [
    ...[
      '/desk',
      '/capture',
      '/library',
      '/compare',
      '/settings',
      '/add-desk',
      '/people',
      '/changes',
      '/model/quay-48',
      '/model/quay-48/in',
      '/learn',
      '/files',
      '/productions',
      '/ripple',
    ],
    ...mixes.map((below) => `/mixes/${song.id}/${below}`),
    `/compare?a=${scene}&b=${scenes.at(-1)!.id}`,
    ...['', '/preview'].map((below) => `/restore/${scene}${below}`),
    ...['/log', '/strip/in.1'].map((below) => `/desk/${song.deskId}${below}`),
  ];
}

for (const [width, height] of [
  [390, 844],
  [1280, 800],
  [844, 390],
] as const)
  test(`on ${width} x ${height}, nothing moves away under a finger while a page is drawn`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    await page.addInitScript(WATCH);
    await answerAtOdds(page);
    for (const address of await addresses(page)) {
      await page.goto(address);
      await expect(page.getByRole('heading').first()).toBeVisible();
      const { by, moved } = await page.evaluate<{ by: number; moved: string[] }>(SHIFTED);
      expect.soft(by, `${address}: ${moved.join('; ')}`).toBeLessThan(MOST);
    }
  });
