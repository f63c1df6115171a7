import { sceneRecall } from '@old-echo/core/contracts/restore';
import type { SettingsByAddress } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';

import { api, DemoDesk, sends } from './demo-desk';
import { print, time } from './figure';

type PlainSockets = (settings: SettingsByAddress) => Promise<number>;

const SETTINGS = 100;

/** Two scenes of the Quay that differ in a hundred settings, flipped there and back on the running server. */
export async function swap(plainSockets: PlainSockets): Promise<void> {
  const desk = await DemoDesk.open();
  const [side] = [await desk.mix('Flip A', sends(SETTINGS, -50)), await desk.mix('Flip B', sends(SETTINGS, -52))];
  await api('PATCH', `/desks/${desk.id}`, { swapTo: side.id });
  const confirmed: number[] = [];
  const ours = await time(async () => {
    const { report } = await desk.touch(api('POST', `/desks/${desk.id}/swaps`, {}), SETTINGS);
    confirmed.push(report?.milliseconds ?? 0);
  }, 20);
  desk.close();
  const other = await plainSockets(sends(SETTINGS, -50));
  print({
    name: 'flip of 100 settings, from the key to hearing that all are confirmed, way back and journal written (other: plain sockets, same packets, not decoded)',
    ours,
    other,
    unit: 'ms',
    goal: { most: 150 },
  });
  print({
    name: 'flip of 100 settings, from the first packet to the last reading back (other: plain sockets, same packets, not decoded)',
    ours: confirmed.sort((a, b) => a - b)[confirmed.length >> 1] ?? 0,
    other,
    unit: 'ms',
    goal: { most: 150 },
  });
}

/** What a touch may move. */
const TOUCHED = 30;
const HELD: Scope = [{ strips: ['*'], sections: ['sends'], include: true }];

/** What an engineer touches most, 30 settings each, from the touch to hearing that all is confirmed. */
export async function touches(plainSockets: PlainSockets): Promise<void> {
  const desk = await DemoDesk.open();
  const path = `/desks/${desk.id}`;
  const mixes = [await desk.mix('Touch A', sends(TOUCHED, -40)), await desk.mix('Touch B', sends(TOUCHED, -42))];
  let turn = 0;
  const restore = (scope: Scope) => {
    const recall = sceneRecall(desk.id, mixes[turn++ % 2]?.id ?? '', scope);
    return api<never>('POST', `${path}/restores`, { recall, fingerprint: null, answers: [] });
  };
  const other = await plainSockets(sends(TOUCHED, -40));
  const works: readonly (readonly [name: string, begin: () => Promise<never>])[] = [
    ['a scene at hand', () => restore(ALL_EXCEPT_GLOBALS)],
    ['a step with a scope held', () => restore(HELD)],
    ['a swap', () => api('POST', `${path}/swaps`, {})],
  ];
  for (const [name, begin] of works) {
    await api('PATCH', path, { swapTo: mixes[turn % 2]?.id });
    print({
      name: `${name} of ${TOUCHED} settings, from the touch to hearing that all are confirmed (other: plain sockets, same packets, not decoded)`,
      ours: await time(() => desk.touch(begin(), TOUCHED), 20),
      other,
      unit: 'ms',
      goal: { most: 150 },
    });
  }
  desk.close();
}
