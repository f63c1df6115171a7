import WebSocket from 'ws';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { RestoreView } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { SettingsByAddress } from '@old-echo/core/desk/state';

/** Asks the running server. */
export async function api<T>(method: string, path: string, body?: unknown): Promise<T> {
  const answer = await fetch(`${process.env['OLD_ECHO_URL']}/api${path}`, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return (await answer.json()) as T;
}

/** The Quay of the demo in studio mode, followed over the live channel as a page does. */
export class DemoDesk {
  private readonly ended = new Map<string, RestoreView>();
  private heard: () => void = () => undefined;

  private constructor(
    readonly id: string,
    private readonly versionId: string,
    private readonly socket: WebSocket,
  ) {
    socket.on('message', (data: Buffer) => {
      const message = JSON.parse(data.toString()) as LiveMessage;
      if (message.type !== 'restore' || message.restore.status === 'running') return;
      this.ended.set(message.restore.id, message.restore);
      this.heard();
    });
  }

  static async open(): Promise<DemoDesk> {
    const desk = (await api<DeskView[]>('GET', '/desks')).find((one) => one.profileId === 'quay-48');
    const production = (await api<ProductionView[]>('GET', '/productions')).find((one) => one.deskId === desk?.id);
    const version = production?.versions[0];
    if (!desk || !version) throw new Error('The demo has no Quay.');
    await api('PATCH', `/desks/${desk.id}`, { mode: 'studio', safes: [] });
    const socket = new WebSocket(`${process.env['OLD_ECHO_URL']?.replace('http', 'ws')}/api/live?desk=${desk.id}`);
    await new Promise((resolve) => socket.once('open', resolve));
    return new DemoDesk(desk.id, version.id, socket);
  }

  /** Puts settings on the desk and captures it. */
  async mix(name: string, settings: SettingsByAddress): Promise<SceneView> {
    await api('POST', `/desks/${this.id}/settings`, { settings });
    return api('POST', `/desks/${this.id}/captures`, { versionId: this.versionId, name });
  }

  /**
   * What a touch begins, until the page has heard that all of it is confirmed.
   * @throws Error where it was not, or was not of as many settings
   */
  async touch(begun: Promise<RestoreView>, settings: number): Promise<RestoreView> {
    const { id } = await begun;
    while (!this.ended.has(id)) await new Promise<void>((resolve) => (this.heard = resolve));
    const restore = this.ended.get(id) as RestoreView;
    if (restore.status !== 'confirmed' || restore.changes !== settings)
      throw new Error(`It was ${restore.status}, of ${restore.changes} settings.`);
    return restore;
  }

  close(): void {
    this.socket.close();
  }
}

/** So many sends of the Quay at one level. */
export const sends = (count: number, level: number): SettingsByAddress =>
  Object.fromEntries(
    Array.from({ length: count }, (_, i) => [`in.${(i % 40) + 1}/sends/mix.${Math.floor(i / 40) + 9}/level`, level]),
  );
