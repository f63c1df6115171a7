import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import knex from 'knex';
import pino from 'pino';
import { ulid } from 'ulid';
import WebSocket from 'ws';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { type Recall, type RestoreRequest, type RestoreView, sceneRecall } from '@old-echo/core/contracts/restore';
import type { RippleView } from '@old-echo/core/contracts/ripple';
import type { ScenePage, SceneView } from '@old-echo/core/contracts/scene';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import type { Preview } from '@old-echo/core/recall/planned-changes';
import type { Scope } from '@old-echo/core/recall/scope-rules';
import { makeWorld } from '@old-echo/demo/world';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { DeskServer } from '@old-echo/stand-in/front';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { readConfig } from '../src/http/config';
import { type RunningServer, serve } from '../src/start-server';
import { assertAsDocumented } from './answer-shapes';
import { copyDemoDatabase } from './demo-database';

export interface Answer<T = unknown> {
  readonly status: number;
  readonly type: string;
  readonly body: T;
}

/** The real server on a real MariaDB, linked over real sockets to a simulated Quay with the demo's show on it. */
export class Rig {
  running!: RunningServer & { kill?: () => Promise<void>; pid?: number | undefined };
  front!: DeskServer;
  desk!: DeskView;
  production!: ProductionView;
  readonly database = `test_${ulid().toLowerCase()}`;
  private readonly folder = mkdtempSync(join(tmpdir(), 'old-echo-server-'));
  private port = 0;

  private env: NodeJS.ProcessEnv = {};

  private ownProcess = false;

  /** `env` adds to the server's settings; in a process of its own the server can be killed. */
  static async open(env: NodeJS.ProcessEnv = {}, { ownProcess = false, bare = false } = {}): Promise<Rig> {
    const rig = new Rig();
    rig.env = env;
    rig.ownProcess = ownProcess;
    const simulated = new SimulatedDesk(quay);
    rig.front = new DeskServer(simulated);
    rig.port = await rig.front.open(0);
    const nowhere = 9;
    const world = makeWorld({
      profiles: {
        'quay-48': profileJson('quay-48'),
        boathouse: profileJson('boathouse'),
        'skiff-16': profileJson('skiff-16'),
        'netloft-24': profileJson('netloft-24'),
      },
      ports: { 'quay-48': rig.port, boathouse: nowhere, 'skiff-16': nowhere },
      now: new Date(),
      id: (madeAt) => ulid(madeAt.getTime()),
    });
    rig.front.hands(flat(world.desks['quay-48']));
    writeFileSync(
      join(rig.folder, 'seed.json'),
      JSON.stringify(bare ? { ...world.seed, desks: [world.seed.desks[0]], productions: [], presets: [] } : world.seed),
    );
    try {
      if (!bare && !env['OLD_ECHO_DB_PORT']) await rig.copyDemo();
      await rig.start();
    } catch (error) {
      await rig.front.close();
      throw error;
    }
    return rig;
  }

  /** Where the server keeps its files. */
  get files(): string {
    return join(this.folder, 'sound');
  }

  private settings(): NodeJS.ProcessEnv {
    return {
      ...process.env,
      OLD_ECHO_PORT: '0',
      OLD_ECHO_DB_NAME: this.database,
      OLD_ECHO_FILES_DIR: this.files,
      OLD_ECHO_SEED_FILE: join(this.folder, 'seed.json'),
      OLD_ECHO_WEB_DIR: undefined,
      ...this.env,
    };
  }

  private async copyDemo(): Promise<void> {
    const admin = this.admin();
    try {
      await copyDemoDatabase(admin, readConfig(this.settings()), join(this.folder, 'seed.json'), this.port);
    } finally {
      await admin.destroy();
    }
  }

  /** @param more adds to the server's settings until it is started again */
  async start(more: NodeJS.ProcessEnv = {}): Promise<void> {
    const env = { ...this.settings(), ...more };
    this.running = this.ownProcess
      ? await serveInProcess(env)
      : await serve(readConfig(env), pino({ level: process.env['OLD_ECHO_LOG_LEVEL'] ?? 'silent' }));
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

  /** Switches the desk off, and on again after a while, in ms. */
  async powerCut(ms: number): Promise<void> {
    await this.front.close();
    await new Promise((resolve) => setTimeout(resolve, ms));
    await this.front.open(this.port);
  }

  /** A connection of one's own to the database. */
  admin() {
    const env = { ...process.env, ...this.env };
    return knex({
      client: 'mysql2',
      connection: {
        host: '127.0.0.1',
        port: Number(env['OLD_ECHO_DB_PORT']),
        user: 'old_echo',
        password: env['OLD_ECHO_DB_PASSWORD'] ?? '',
      },
      // Locks and what is chosen to work in belong to one connection.
      pool: { min: 1, max: 1 },
    });
  }

  async call<T>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
    const response = await fetch(`http://127.0.0.1:${this.running.port}/api${path}`, {
      method,
      headers: { 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    const answer = {
      status: response.status,
      type: response.headers.get('content-type') ?? '',
      body: (await response.json()) as T,
    };
    assertAsDocumented(method, path, answer.status, answer.body);
    return answer;
  }
  get = <T>(path: string) => this.call<T>('GET', path);
  post = <T>(path: string, body: unknown) => this.call<T>('POST', path, body);

  async linked(): Promise<void> {
    await until(async () => {
      const all = (await this.get<DeskView[]>('/desks')).body;
      this.desk = all.find(({ id }) => id === (this.desk as DeskView | undefined)?.id) ?? all[0]!;
      return this.desk.link.state === 'linked';
    });
  }

  async scene(name: string): Promise<SceneView> {
    const { scenes } = (await this.get<ScenePage>(`/productions/${this.production.id}/scenes?limit=200`)).body;
    return scenes.find((scene) => scene.name === name)!;
  }
  /** Hands on the desk, once the server has heard them. */
  async hands(settings: SettingsByAddress): Promise<void> {
    this.front.hands(settings);
    await until(async () => {
      const now = flat((await this.get<State>(`/desks/${this.desk.id}/state`)).body);
      return Object.entries(settings).every(([address, value]) => now[address] === value);
    });
  }
  capture = (name: string) =>
    this.post<SceneView>(`/desks/${this.desk.id}/captures`, { versionId: this.production.versions[0]!.id, name });
  stateOf = async (sceneId: string) => (await this.get<State>(`/scenes/${sceneId}/state`)).body;
  preview = (sceneId: string, scope: Scope, more: Partial<Recall> = {}) =>
    this.plan(sceneRecall(this.desk.id, sceneId, scope, more));
  plan = async (recall: Recall) => (await this.post<Preview>(`/desks/${this.desk.id}/previews`, recall)).body;

  startRestore = async (sceneId: string, scope: Scope, more: Partial<RestoreRequest> = {}) =>
    this.begin(sceneRecall(this.desk.id, sceneId, scope), more);

  /** Asks for a restore as someone who has looked at its preview and checked every caution. */
  async begin(recall: Recall, more: Partial<RestoreRequest> = {}): Promise<Answer<RestoreView>> {
    const { fingerprint, cautions } = more.fingerprint ? { fingerprint: null, cautions: [] } : await this.plan(recall);
    const answers = cautions.map(({ id }) => ({ id, way: 'checked' }));
    return this.post<RestoreView>(`/desks/${this.desk.id}/restores`, { recall, fingerprint, answers, ...more });
  }

  /** Begins a restore as soon as the server knows of everything the desk has moved. */
  async beginNow(recall: Recall, more: Partial<RestoreRequest> = {}): Promise<RestoreView> {
    let answer!: Answer<RestoreView>;
    await until(async () => {
      answer = await this.begin(recall, more);
      // A move that was on its way while this was answered may take a caution further than it was read.
      const { type } = answer.body as unknown as { type?: string };
      return answer.status !== 409 || !['urn:old-echo:desk-moved', 'urn:old-echo:unanswered'].includes(type ?? '');
    });
    if (answer.status !== 202) throw new Error(JSON.stringify(answer.body));
    return answer.body;
  }

  /** Waits for the end of a restore. */
  async ended(id: string): Promise<RestoreView> {
    let view!: RestoreView;
    await until(async () => {
      view = (await this.get<RestoreView>(`/restores/${id}`)).body;
      return view.status !== 'running';
    }, 60_000);
    return view;
  }

  /** A change of many scenes, begun and seen to its end. */
  async rippled(request: object): Promise<{ status: number; body: RippleView }> {
    const begun = await this.post<RippleView>(`/desks/${this.desk.id}/ripples`, request);
    if (begun.status !== 202) return begun;
    let body = begun.body;
    await until(async () => {
      body = (await this.get<RippleView>(`/ripples/${begun.body.id}`)).body;
      return body.status !== 'running';
    }, 30_000);
    return { status: begun.status, body };
  }

  /** Restores whatever a recall means, and waits for its end. */
  restored = async (recall: Recall) => this.ended((await this.beginNow(recall)).id);

  restore = async (sceneId: string, scope: Scope, more: Partial<RestoreRequest> = {}) =>
    this.ended((await this.startRestore(sceneId, scope, more)).body.id);

  /** An open page: everything it is told. */
  async page(): Promise<{ told: LiveMessage[]; close: () => void }> {
    const told: LiveMessage[] = [];
    const socket = new WebSocket(`ws://127.0.0.1:${this.running.port}/api/live?desk=${this.desk.id}`);
    // A server that goes away takes its pages' channels along.
    socket.on('error', () => undefined);
    socket.on('message', (data: Buffer) => told.push(JSON.parse(data.toString()) as LiveMessage));
    await until(() => told.some((message) => message.type === 'full-state'));
    return { told, close: () => socket.terminate() };
  }
}

/** What a desk holds of some settings, looked at every few milliseconds from now on until `stop` is called. */
export function tape(
  settings: () => SettingsByAddress,
  addresses: readonly string[],
  every = 10,
): { readonly took: (readonly [ms: number, values: SettingsByAddress])[]; readonly stop: () => void } {
  const began = performance.now();
  const took: [number, SettingsByAddress][] = [];
  const look = () => {
    const all = settings();
    took.push([performance.now() - began, Object.fromEntries(addresses.map((address) => [address, all[address]!]))]);
  };
  look();
  const timer = setInterval(look, every);
  return { took, stop: () => clearInterval(timer) };
}

/** The server as it runs for people: in a process of its own. */
async function serveInProcess(env: NodeJS.ProcessEnv): Promise<Rig['running']> {
  const child = spawn(process.execPath, [join(__dirname, '..', 'dist', 'main.mjs')], {
    env,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  const { ready, network } = await new Promise<{ ready: number; network?: number }>((resolve, reject) => {
    child.once('message', (message) => resolve(message as { ready: number }));
    child.once('exit', () => reject(new Error('the server did not start')));
  });
  const end = async (signal: 'SIGTERM' | 'SIGKILL') => {
    child.kill(signal);
    await ended;
  };
  return { port: ready, networkPort: network, close: () => end('SIGTERM'), kill: () => end('SIGKILL'), pid: child.pid };
}

/** A state by address. */
export const flat = (state: State): SettingsByAddress =>
  Object.fromEntries(
    Object.entries(state).flatMap(([strip, keys]) =>
      Object.entries(keys).map(([key, value]) => [`${strip}/${key}`, value]),
    ),
  );

/** The addresses at which two desks differ. */
export const differing = (a: SettingsByAddress, b: SettingsByAddress): string[] =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].filter(
    (address) => JSON.stringify(a[address]) !== JSON.stringify(b[address]),
  );

export async function until(holds: () => boolean | Promise<boolean>, within = 60_000): Promise<void> {
  for (const start = performance.now(); !(await holds());) {
    if (performance.now() - start > within) throw new Error(`not within ${within} ms`);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}
