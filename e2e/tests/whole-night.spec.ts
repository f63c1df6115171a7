import { expect, type Page, test } from '@playwright/test';

import { nextRide, NIGHT } from '@old-echo/testing/night';

import { hold, toHold } from './press';
import { StandIn } from './stand-in';

const quay = new StandIn('quay-48');

/** Hands that ride two open faders all night, twice a second, up and down by half a decibel. */
function riding(): () => void {
  let [up, isMoving] = [false, false];
  const ride = async () => {
    up = !up;
    const settings = await quay.settings();
    await quay.hands(nextRide((address) => Number(settings[address]), up));
  };
  const timer = setInterval(() => {
    // Where the desk takes long to answer, one move does not overtake another.
    if (isMoving) return;
    isMoving = true;
    void ride().finally(() => (isMoving = false));
  }, 500);
  return () => clearInterval(timer);
}

/** Opens a scene's preview, answers while the button asks for it, and holds. Returns how many answers it took. */
async function take(page: Page, id: string): Promise<number> {
  await page.goto(`/restore/${id}/preview`);
  await expect(page.getByRole('heading', { name: /changes?$/ })).toBeVisible();
  const asking = page.getByRole('button', { name: /cautions? to answer$/ });
  let answers = 0;
  // A hand may bring something over its threshold while the button is held.
  for (let through = false; !through;) {
    for (; (await asking.count()) > 0; answers++)
      await page.getByRole('button', { name: 'I have checked' }).first().click();
    through = await Promise.race([
      hold(page, toHold(page)).then(() => true),
      asking.waitFor({ timeout: 60_000 }).then(
        () => false,
        () => true,
      ),
    ]);
    if (!through) await page.mouse.up();
  }
  await expect(page.getByRole('heading', { name: /confirmed|nothing/i })).toBeVisible();
  return answers;
}

test('the night of eight scenes in order, on a phone and wide, with hands at work: at most one answer for each, and none a second time', async ({
  page,
  request,
}) => {
  const productions = (await (await request.get('/api/productions')).json()) as {
    id: string;
    name: string;
    deskId: string;
  }[];
  const show = productions.find(({ name }) => name === 'Night Ferry')!;
  const { scenes } = (await (await request.get(`/api/productions/${show.id}/scenes?limit=200`)).json()) as {
    scenes: { id: string; name: string }[];
  };
  const night = NIGHT.map((name) => scenes.find((scene) => scene.name === name)!.id);
  // At a show, whatever was tried on this desk before.
  const path = `/api/desks/${show.deskId}`;
  const { mode, safes } = (await (await request.get(path)).json()) as { mode: string; safes: unknown };
  const change = async (data: object) => expect((await request.patch(path, { data })).ok()).toBe(true);
  await change({ showLock: false });
  await change({ mode: 'live', safes: [] });
  const before = await quay.settings();
  const play = async () => {
    await take(page, night[0]!);
    const answers: number[] = [];
    for (const id of night.slice(1)) answers.push(await take(page, id));
    return answers;
  };
  const first = await play();
  expect(Math.max(...first)).toBeLessThanOrEqual(1);
  await page.setViewportSize({ width: 1280, height: 800 });
  expect(await play()).toEqual(NIGHT.slice(1).map(() => 0));
  const stop = riding();
  try {
    const ridden = await play();
    expect(Math.max(...ridden)).toBeLessThanOrEqual(1);
  } finally {
    stop();
  }
  await quay.hands(before);
  await change({ mode, safes });
});
