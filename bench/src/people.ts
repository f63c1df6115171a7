import { readFileSync } from 'node:fs';
import { request } from 'node:https';
import { setTimeout as pause } from 'node:timers/promises';

import WebSocket from 'ws';

import { print } from './figure';

/** How many are in at once, and for how long, in ms. */
const BROWSERS = 50;
const WHILE_MS = 60_000;
/** What a page asks for again, and how often, in ms. */
const ASKS_MS = 3000;
/** Time between two moves and between two captures, in ms. */
const MOVE_MS = 500;
const CAPTURE_MS = 5000;

const here = process.env['OLD_ECHO_URL'] ?? '';
const network = process.env['OLD_ECHO_NETWORK'] ?? '';
const ca = () => readFileSync(process.env['OLD_ECHO_AUTHORITY'] ?? '');

interface Answer {
  readonly body: unknown;
  readonly cookie: string;
}

/** Asks as a page on the network does. */
const ask = (method: string, path: string, cookie = '', body?: object): Promise<Answer> =>
  new Promise((resolve, reject) => {
    const sent = body ? JSON.stringify(body) : '';
    const headers = { cookie, 'content-type': 'application/json', 'content-length': Buffer.byteLength(sent) };
    request(`${network}/api${path}`, { method, headers, ca: ca(), checkServerIdentity: () => undefined }, (answer) => {
      let text = '';
      answer.on('data', (bytes: Buffer) => (text += bytes.toString()));
      answer.on('end', () => {
        if ((answer.statusCode ?? 500) >= 400) return reject(new Error(`${method} ${path}: ${text}`));
        const [set = ''] = answer.headers['set-cookie'] ?? [];
        resolve({ body: text ? JSON.parse(text) : undefined, cookie: set.split(';')[0] ?? '' });
      });
    })
      .on('error', reject)
      .end(sent);
  });

/** Lets one more device of an engineer in. */
async function signedIn(n: number): Promise<string> {
  const who = JSON.stringify({ name: `Engineer ${n}`, role: 'engineer' });
  const headers = { 'content-type': 'application/json' };
  const made = await fetch(`${here}/api/entry-codes`, { method: 'POST', headers, body: who });
  const { code } = (await made.json()) as { code: string };
  return (await ask('POST', '/devices', '', { code, name: `Browser ${n}` })).cookie;
}

/** A page that follows the desk and asks again now and then; ends when told. */
function browse(cookie: string, desk: string, onValue: (value: unknown) => void) {
  const at = `${network.replace('https', 'wss')}/api/live?desk=${desk}`;
  const socket = new WebSocket(at, {
    ca: ca(),
    headers: { cookie, origin: network },
    rejectUnauthorized: false,
  });
  socket.on('message', (data: Buffer) => {
    const message = JSON.parse(data.toString()) as { type: string; settings?: Record<string, unknown> };
    if (message.type === 'settings-changed') onValue(message.settings?.['in.2/pan/position']);
  });
  const timer = setInterval(() => void ask('GET', '/desks', cookie).catch(() => undefined), ASKS_MS);
  return () => {
    clearInterval(timer);
    socket.terminate();
  };
}

const median = (times: readonly number[]): number =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? Infinity;

/** How long a capture takes, and a move until another page has it, with so many pages open. */
async function measure(cookies: readonly string[], desk: string, version: string, ms: number) {
  let told: (value: unknown) => void = () => undefined;
  const [first = ''] = cookies;
  const pages = cookies.map((cookie, i) => browse(cookie, desk, (value) => i === cookies.length - 1 && told(value)));
  await pause(2000);
  const [captures, moves]: [number[], number[]] = [[], []];
  const end = performance.now() + ms;
  for (let n = 0; performance.now() < end; n++) {
    const value = (n % 60) - 30;
    const start = performance.now();
    const seen = new Promise<void>((resolve) => {
      told = (one) => one === value && resolve();
    });
    await ask('POST', `/desks/${desk}/settings`, first, { settings: { 'in.2/pan/position': value } });
    await Promise.race([seen, pause(5000)]);
    moves.push(performance.now() - start);
    if (n % (CAPTURE_MS / MOVE_MS) === 0) {
      const begun = performance.now();
      await ask('POST', `/desks/${desk}/captures`, first, { versionId: version, name: `Busy ${cookies.length} ${n}` });
      captures.push(performance.now() - begun);
    }
    await pause(MOVE_MS);
  }
  pages.forEach((close) => close());
  return { capture: median(captures), move: median(moves) };
}

/** Fifty who are signed in, on one server for a minute, beside one. */
export async function people(): Promise<void> {
  const desks = (await (await fetch(`${here}/api/desks`)).json()) as { id: string; name: string }[];
  const desk = desks.find(({ name }) => name === 'Boathouse')?.id ?? '';
  const headers = { 'content-type': 'application/json' };
  await fetch(`${here}/api/desks/${desk}`, {
    method: 'PATCH',
    headers,
    body: JSON.stringify({ mode: 'studio', safes: [] }),
  });
  const productions = (await (await fetch(`${here}/api/productions`)).json()) as {
    deskId: string;
    versions: { id: string }[];
  }[];
  const version = productions.find(({ deskId }) => deskId === desk)?.versions[0]?.id ?? '';
  const cookies: string[] = [];
  for (let n = 0; n < BROWSERS; n++) cookies.push(await signedIn(n));
  const alone = await measure(cookies.slice(0, 1), desk, version, WHILE_MS / 4);
  const all = await measure(cookies, desk, version, WHILE_MS);
  const about = `with ${BROWSERS} signed in and following the desk over TLS for a minute (other: with one)`;
  print({
    name: `a capture of the Boathouse ${about}`,
    ours: all.capture,
    other: alone.capture,
    unit: 'ms',
    goal: { most: 1000 },
  });
  print({
    name: `from a move on one page until another has it, ${about}`,
    ours: all.move,
    other: alone.move,
    unit: 'ms',
    goal: { most: 100 },
  });
}
