import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import knex from 'knex';
import pino from 'pino';
import { ulid } from 'ulid';
import WebSocket from 'ws';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { RestoreView } from '@old-echo/core/contracts/restore';
import type { ProductionView, SceneView } from '@old-echo/core/contracts/scene';
import type { Settings, State } from '@old-echo/core/desk/state';
import type { Preview } from '@old-echo/core/preview/preview';
import type { Scope } from '@old-echo/core/scope/rules';

import { makeWorld } from '../../demo/src/world';
import { profileJson, quay } from '../../core/test/profiles';
import { SimulatedDesk } from '../../stand-in/src/desk';
import { DeskFront } from '../../stand-in/src/front';
import { readConfig } from '../src/config';
import { serve, type Running } from '../src/serve';

export interface Answer<T = unknown> {
  readonly status: number;
  readonly type: string;
  readonly body: T;
}

/** The real server on a real MariaDB, linked over real sockets to a simulated Quay with the demo's show on it. */
export class Rig {
  running!: Running;
  front!: DeskFront;
  desk!: DeskView;
  production!: ProductionView;
  readonly database = `test_${ulid().toLowerCase()}`;
  private readonly folder = mkdtempSync(join(tmpdir(), 'old-echo-server-'));
  private port = 0;

  static async open(): Promise<Rig> {
    const rig = new Rig();
    const simulated = new SimulatedDesk(quay);
    rig.front = new DeskFront(simulated);
    rig.port = await rig.front.open(0);
    const nowhere = 9;
    const world = makeWorld({
      profiles: {
        'quay-48': profileJson('quay-48'),
        boathouse: profileJson('boathouse'),
        'skiff-16': profileJson('skiff-16'),
      },
      ports: { 'quay-48': rig.port, boathouse: nowhere, 'skiff-16': nowhere },
      now: new Date(),
      id: (madeAt) => ulid(madeAt.getTime()),
    });
    rig.front.hands(flat(world.desks['quay-48']));
    writeFileSync(join(rig.folder, 'seed.json'), JSON.stringify(world.seed));
    await rig.start();
    return rig;
  }

  async start(): Promise<void> {
    const config = readConfig({
      ...process.env,
      OLD_ECHO_PORT: '0',
      OLD_ECHO_DB: this.database,
      OLD_ECHO_SEED: join(this.folder, 'seed.json'),
      OLD_ECHO_WEB: undefined,
    });
    this.running = await serve(config, pino({ level: 'silent' }));
    await this.linked();
    this.production = (await this.get<ProductionView[]>('/productions')).body[0]!;
  }

  async close(): Promise<void> {
    await this.running.close();
    await this.front.close();
    const admin = this.admin();
    await admin.raw('DROP DATABASE ??', [this.database]);
    await admin.destroy();
    rmSync(this.folder, { recursive: true });
  }

  /** A connection of one's own to the database. */
  admin() {
    return knex({
      client: 'mysql2',
      connection: {
        host: '127.0.0.1',
        port: Number(process.env['OLD_ECHO_DB_PORT']),
        user: 'old_echo',
        password: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
      },
    });
  }

  async call<T>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
    const response = await fetch(`http://127.0.0.1:${this.running.port}/api${path}`, {
      method,
      headers: { 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    return {
      status: response.status,
      type: response.headers.get('content-type') ?? '',
      body: (await response.json()) as T,
    };
  }
  get = <T>(path: string) => this.call<T>('GET', path);
  post = <T>(path: string, body: unknown) => this.call<T>('POST', path, body);

  async linked(): Promise<void> {
    await until(async () => {
      this.desk = (await this.get<DeskView[]>('/desks')).body[0]!;
      return this.desk.link.state === 'linked';
    });
  }

  async scene(name: string): Promise<SceneView> {
    const scenes = (await this.get<SceneView[]>(`/productions/${this.production.id}/scenes`)).body;
    return scenes.find((scene) => scene.name === name)!;
  }
  capture = (name: string) =>
    this.post<SceneView>(`/desks/${this.desk.id}/captures`, { versionId: this.production.versions[0]!.id, name });
  stateOf = async (sceneId: string) => (await this.get<State>(`/scenes/${sceneId}/state`)).body;
  preview = async (sceneId: string, scope: Scope) =>
    (await this.post<Preview>(`/desks/${this.desk.id}/previews`, { sceneId, scope })).body;

  startRestore = async (sceneId: string, scope: Scope, fingerprint?: string) =>
    this.post<RestoreView>(`/desks/${this.desk.id}/restores`, {
      sceneId,
      scope,
      fingerprint: fingerprint ?? (await this.preview(sceneId, scope)).fingerprint,
    });

  /** Waits for the end of a restore. */
  async ended(id: string): Promise<RestoreView> {
    let view!: RestoreView;
    await until(async () => {
      view = (await this.get<RestoreView>(`/restores/${id}`)).body;
      return view.status !== 'running';
    }, 60_000);
    return view;
  }

  restore = async (sceneId: string, scope: Scope) => this.ended((await this.startRestore(sceneId, scope)).body.id);

  /** An open page: everything it is told. */
  async page(): Promise<{ told: LiveMessage[]; close: () => void }> {
    const told: LiveMessage[] = [];
    const socket = new WebSocket(`ws://127.0.0.1:${this.running.port}/api/live?desk=${this.desk.id}`);
    socket.on('message', (data: Buffer) => told.push(JSON.parse(data.toString()) as LiveMessage));
    await until(() => told.some((message) => message.type === 'state'));
    return { told, close: () => socket.terminate() };
  }
}

/** A state by address. */
export const flat = (state: State): Settings =>
  Object.fromEntries(
    Object.entries(state).flatMap(([strip, keys]) =>
      Object.entries(keys).map(([key, value]) => [`${strip}/${key}`, value]),
    ),
  );

/** The addresses at which two desks differ. */
export const differing = (a: Settings, b: Settings): string[] =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].filter(
    (address) => JSON.stringify(a[address]) !== JSON.stringify(b[address]),
  );

export async function until(holds: () => boolean | Promise<boolean>, within = 10_000): Promise<void> {
  for (const start = Date.now(); !(await holds());) {
    if (Date.now() - start > within) throw new Error(`not within ${within} ms`);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}
