import { recallOf, type RestoreView } from '@old-echo/core/contracts/restore';
import type { ScenePage, SceneView } from '@old-echo/core/contracts/scene';
import { openStops } from '@old-echo/core/preview/answers';
import type { Point } from '@old-echo/core/preview/caution';
import type { DeskView } from '@old-echo/core/contracts/desk';
import { EVERYTHING } from '@old-echo/core/scope/rules';

import { Rig, until } from './rig';

jest.setTimeout(180_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const SCENES = [
  'Line check',
  'Soundcheck balance',
  'Doors, walk-in music',
  'Night Ferry',
  'Saltmarsh reel',
  'Low tide',
  'Harbour bells',
  'Last lantern',
];
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Two faders of the night that hands ride all the time, twice a second, up and down by half a decibel. */
function riding(): { stop: () => void } {
  let up = false;
  const timer = setInterval(() => {
    up = !up;
    for (const address of ['in.4/fader/level', 'in.8/fader/level']) {
      const at = Number(rig.front.desk.value(address));
      if (at > -60) rig.front.hands({ [address]: Math.round(10 * (at + (up ? 0.5 : -0.5))) / 10 });
    }
  }, 500);
  return { stop: () => clearInterval(timer) };
}

/** Takes a scene as an engineer does: looks, answers what is asked, holds the button while hands ride on. Returns what had to be answered. */
async function take(scene: SceneView): Promise<string[]> {
  const recall = recallOf(rig.desk.id, scene.id, EVERYTHING);
  const from = (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.scene?.id;
  const accepted = from
    ? (await rig.get<Point[]>(`/desks/${rig.desk.id}/accepted?from=${from}&to=${scene.id}`)).body
    : [];
  const { cautions, fingerprint } = await rig.plan(recall);
  const asked = openStops(cautions, [], 0, accepted);
  // Somebody reads for a moment, and hands move on.
  await wait(700);
  const answers = asked.map(({ points }) => ({ way: 'checked', points: [...points] }));
  const began = await rig.post<RestoreView>(`/desks/${rig.desk.id}/restores`, { recall, fingerprint, answers });
  expect([scene.name, began.status]).toEqual([scene.name, 202]);
  await rig.ended(began.body.id);
  await until(async () => (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.scene?.id === scene.id);
  return asked.map(({ title }) => title);
}

test('the night of eight scenes in order, with hands at work: one stop at most for each, none the second time, no preview refused', async () => {
  const { scenes } = (await rig.get<ScenePage>(`/productions/${rig.production.id}/scenes?limit=200`)).body;
  const night = SCENES.map((name) => scenes.find((scene) => scene.name === name)!);
  await rig.restored(recallOf(rig.desk.id, night[0]!.id, EVERYTHING));
  const hands = riding();
  try {
    const rehearsal: string[][] = [];
    for (const scene of night.slice(1)) rehearsal.push(await take(scene));
    await take(night[0]!);
    const evening: string[][] = [];
    for (const scene of night.slice(1)) evening.push(await take(scene));
    expect(rehearsal.filter((stops) => stops.length > 1)).toEqual([]);
    expect(evening.flat()).toEqual([]);
  } finally {
    hands.stop();
  }
});
