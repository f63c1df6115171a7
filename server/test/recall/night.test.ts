import type { DeskView } from '@old-echo/core/contracts/desk';
import { type RestoreView, sceneRecall } from '@old-echo/core/contracts/restore';
import type { ScenePage, SceneView } from '@old-echo/core/contracts/scene';
import type { Point } from '@old-echo/core/recall/caution';
import { openStops } from '@old-echo/core/recall/caution-answers';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { nextRide, NIGHT } from '@old-echo/testing/night';

import { Rig, until } from '../server-rig';

jest.setTimeout(180_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Two faders of the night that hands ride all the time, twice a second, up and down by half a decibel. */
function riding(): { stop: () => void } {
  let up = false;
  const timer = setInterval(() => {
    up = !up;
    rig.front.hands(nextRide((address) => Number(rig.front.desk.value(address)), up));
  }, 500);
  return { stop: () => clearInterval(timer) };
}

/** Takes a scene as an engineer does: looks, answers what is asked, holds the button while hands ride on. Returns what had to be answered. */
async function take(scene: SceneView): Promise<string[]> {
  const recall = sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS);
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
  return asked.map(({ kind, items }) => `${kind} ${items[0]?.strip}`);
}

test('the night of eight scenes in order: one stop at most for each, none once they were accepted, and with hands at work at most what newly reaches a threshold', async () => {
  const { scenes } = (await rig.get<ScenePage>(`/productions/${rig.production.id}/scenes?limit=200`)).body;
  const night = NIGHT.map((name) => scenes.find((scene) => scene.name === name)!);
  const play = async () => {
    await rig.restored(sceneRecall(rig.desk.id, night[0]!.id, ALL_EXCEPT_GLOBALS));
    const stops: string[][] = [];
    for (const scene of night.slice(1)) stops.push(await take(scene));
    return stops;
  };
  const rehearsal = await play();
  expect(rehearsal.filter((stops) => stops.length > 1)).toEqual([]);
  expect(rehearsal.flat().length).toBeGreaterThan(3);
  expect((await play()).flat()).toEqual([]);
  const hands = riding();
  try {
    // What a hand took while a scene came is left to it, so a later scene may bring that up by a threshold more than before.
    const evening = await play();
    expect(evening.filter((stops) => stops.length > 1)).toEqual([]);
    expect(evening.flat().length).toBeLessThan(rehearsal.flat().length);
  } finally {
    hands.stop();
  }
});
