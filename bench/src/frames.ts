import { chromium, type Page } from '@playwright/test';

import type { Profile } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';
import { withSettings } from '@old-echo/core/desk/state';
import { connect, type Database } from '@old-echo/server/database/connect';
import { found } from '@old-echo/server/database/found';
import type { SceneRow } from '@old-echo/server/database/tables';
import { loadState } from '@old-echo/server/desk/scene-states';
import { insertScene } from '@old-echo/server/scenes/insert-scene';

import { api, DemoDesk, sends } from './demo-desk';
import { print } from './figure';

const SCENES = 2000;
/** A pause before frames are measured, in ms. */
const SETTLE = 4000;

type Newest = Pick<SceneRow, 'id' | 'version_id' | 'production_id'>;

/** Adds scenes to the show of the demo, with milestones, notes and kept ones among them. */
async function fill(db: Database, profile: Profile): Promise<string> {
  const newest = found(
    await db('scenes')
      .join('productions', 'productions.id', 'scenes.production_id')
      .where('productions.name', 'Night Ferry')
      .orderBy('ordinal', 'desc')
      .first<Newest | undefined>('scenes.id', 'version_id', 'production_id'),
  );
  let state: State = await loadState(db, newest.id);
  let parent = newest.id;
  for (let n = 1; n <= SCENES; n++) {
    state = withSettings(state, { [`in.${(n % 48) + 1}/fader/level`]: -(n % 60) });
    const kept = n % 5 === 0;
    const { id } = await insertScene(db, profile, {
      versionId: newest.version_id,
      name: kept ? 'Kept while the desk rested' : `Night ${n}`,
      note: n % 3 === 0 ? 'a little warmer than the night before' : '',
      milestone: n % 40 === 0 ? 'half of the tour' : '',
      kind: kept ? 'rested' : 'scene',
      parents: [parent],
      state,
      madeAt: new Date(Date.now() - (SCENES - n) * 30_000),
    });
    if (!kept) parent = id;
  }
  return newest.production_id;
}

/** Notes how long each frame of a page takes, in ms. */
const WATCH = `{
  const seen = (window.frames_seen = []);
  let last = performance.now();
  const frame = (now) => {
    seen.push(now - last);
    last = now;
    requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
}`;

/** Scrolls whatever scrolls under the middle of the list and returns every frame's length, in ms, in order of length. */
async function framesOf(page: Page, x: number): Promise<number[]> {
  await page.mouse.move(x, 500);
  await page.evaluate(WATCH);
  for (let i = 0; i < 240; i++) {
    await page.mouse.wheel(0, 220);
    await page.waitForTimeout(16);
  }
  const frames = await page.evaluate<number[]>('window.frames_seen');
  return frames.slice(2).sort((a, b) => a - b);
}

const openBrowser = () =>
  chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-sync'],
  });

/** Settings that move on the wide desk at once, and how often. */
const MOVED = 300;
const SWITCHES = 6;
const STRIPS = 104;
/** Has the lines of a plain page say other numbers. */
const SAY = `document.querySelectorAll('p').forEach((line) => (line.textContent = String(Math.random())))`;

/** The frames of the whole desk at a glance while restores move 300 settings, beside a plain page whose lines change as often. */
export async function wideDesk(): Promise<void> {
  const desk = await DemoDesk.open();
  const side = await desk.mix('Wide A', sends(MOVED, -40));
  await desk.mix('Wide B', sends(MOVED, -44));
  await api('PATCH', `/desks/${desk.id}`, { swapTo: side.id });
  const browser = await openBrowser();
  /** The longest frame while something is done a few times, in ms. */
  const longest = async (page: Page, act: () => Promise<unknown>): Promise<number> => {
    await page.waitForTimeout(SETTLE);
    await page.evaluate(WATCH);
    for (let i = 0; i < SWITCHES; i++) {
      await act();
      await page.waitForTimeout(700);
    }
    return Math.max(...(await page.evaluate<number[]>('window.frames_seen')).slice(2));
  };
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.setContent('<p style="margin:0">a line</p>'.repeat(STRIPS));
    const other = await longest(page, () => page.evaluate(SAY));
    await page.goto(`${process.env['OLD_ECHO_URL']}/desk/${desk.id}`);
    await page.getByTestId('glance-in.1').waitFor();
    const ours = await longest(page, () => desk.touch(api('POST', `/desks/${desk.id}/swaps`, {}), MOVED));
    print({
      name: `the longest frame of the whole desk, wide, while ${MOVED} settings move ${SWITCHES} times (other: a plain page of ${STRIPS} lines that change)`,
      ours,
      other,
      unit: 'ms',
      goal: { most: 50 },
    });
  } finally {
    await browser.close();
    desk.close();
  }
}

/** The frames of the history while it is scrolled, beside a plain page of as many empty lines in the same browser. */
export async function frames(profile: Profile): Promise<void> {
  const db = await connect({
    databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
    databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
    database: 'old_echo',
  });
  const production = await fill(db, profile);
  await db.destroy();
  const browser = await openBrowser();
  try {
    for (const [name, width, height, x] of [
      ['a phone', 390, 844, 200],
      ['a wide screen', 1280, 800, 300],
    ] as const) {
      const page = await browser.newPage({ viewport: { width, height } });
      await page.setContent(
        `<div style="height:100vh;overflow:auto">${'<p style="height:66px;margin:0">a line</p>'.repeat(SCENES)}</div>`,
      );
      // The database has just been filled; it settles before anything is measured.
      await page.waitForTimeout(SETTLE);
      const plain = await framesOf(page, x);
      await page.goto(`${process.env['OLD_ECHO_URL']}/mixes/${production}`);
      await page.getByTestId('fold').first().waitFor();
      await page.waitForTimeout(SETTLE);
      const ours = await framesOf(page, x);
      const longest = (list: readonly number[]) => list.at(-1) ?? 0;
      print({
        name: `the longest of ${ours.length} frames while ${SCENES} scenes are scrolled on ${name} (other: a plain page of ${SCENES} lines)`,
        ours: longest(ours),
        other: longest(plain),
        unit: 'ms',
        goal: { most: 50 },
      });
      const usual = (list: readonly number[]) => list[Math.floor(list.length * 0.95)] ?? 0;
      print({
        name: `the frame that 95 of 100 are shorter than, on ${name} (other: a plain page of ${SCENES} lines)`,
        ours: usual(ours),
        other: usual(plain),
        unit: 'ms',
        goal: { most: 34 },
      });
      await page.close();
    }
  } finally {
    await browser.close();
  }
}
