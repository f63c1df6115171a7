import WebSocket from 'ws';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { RestoreView } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { SettingsByAddress } from '@old-echo/core/desk/state';

import { print, time } from './figure';

const SETTINGS = 100;

/** Two scenes of the Quay that differ in a hundred settings, flipped there and back on the running server. */
export async function swap(plainSockets: (settings: SettingsByAddress) => Promise<number>): Promise<void> {
  const api = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const answer = await fetch(`${process.env['OLD_ECHO_URL']}/api${path}`, {
      method,
      headers: { 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!answer.ok) throw new Error(await answer.text());
    return (await answer.json()) as T;
  };
  const desk = (await api<DeskView[]>('GET', '/desks')).find((one) => one.profileId === 'quay-48');
  if (!desk) throw new Error('The demo has no Quay.');
  const path = `/desks/${desk.id}`;
  const production = (await api<ProductionView[]>('GET', '/productions')).find((one) => one.deskId === desk.id);
  const versionId = production?.versions[0]?.id;
  const moves = (level: number): SettingsByAddress =>
    Object.fromEntries(
      Array.from({ length: SETTINGS }, (_, i) => [
        `in.${(i % 40) + 1}/sends/mix.${Math.floor(i / 40) + 10}/level`,
        level,
      ]),
    );
  await api('PATCH', path, { mode: 'studio', safes: [] });
  const sides: SceneView[] = [];
  for (const [name, level] of [
    ['Flip A', -50],
    ['Flip B', -52],
  ] as const) {
    await api('POST', `${path}/settings`, { settings: moves(level) });
    sides.push(await api<SceneView>('POST', `${path}/captures`, { versionId, name }));
  }
  await api('PATCH', path, { swapTo: sides[0]?.id });
  const ended = new Map<string, RestoreView>();
  let heard: () => void = () => undefined;
  const socket = new WebSocket(`${process.env['OLD_ECHO_URL']?.replace('http', 'ws')}/api/live?desk=${desk.id}`);
  socket.on('message', (data: Buffer) => {
    const message = JSON.parse(data.toString()) as LiveMessage;
    if (message.type !== 'restore' || message.restore.status === 'running') return;
    ended.set(message.restore.id, message.restore);
    heard();
  });
  await new Promise((resolve) => socket.once('open', resolve));
  const confirmed: number[] = [];
  const ours = await time(async () => {
    const { id } = await api<RestoreView>('POST', `${path}/swaps`, {});
    while (!ended.has(id)) await new Promise<void>((resolve) => (heard = resolve));
    const { status, changes, report } = ended.get(id) as RestoreView;
    if (status !== 'confirmed' || changes !== SETTINGS)
      throw new Error(`The flip was ${status}, of ${changes} settings.`);
    confirmed.push(report?.milliseconds ?? 0);
  }, 20);
  socket.close();
  const other = await plainSockets(moves(-50));
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
