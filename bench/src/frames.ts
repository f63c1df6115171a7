import { chromium, type Page } from '@playwright/test';

import type { Profile } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';
import { withSettings } from '@old-echo/core/desk/state';
import { connect, type Database } from '@old-echo/server/database/connect';
import { found } from '@old-echo/server/database/found';
import type { SceneRow } from '@old-echo/server/database/tables';
import { loadState } from '@old-echo/server/desk/strip-states';
import { insertScene } from '@old-echo/server/scenes/insert-scene';

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

/** The frames of the history while it is scrolled, beside a plain page of as many empty lines in the same browser. */
export async function frames(profile: Profile): Promise<void> {
  const db = await connect({
    databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
    databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
    database: 'old_echo',
  });
  const production = await fill(db, profile);
  await db.destroy();
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-sync'],
  });
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
