import { TextDecoder, TextEncoder } from 'node:util';

import { toProblem } from '@old-echo/core/contracts/problem';
import type { Route } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';
import { Fault } from '@old-echo/core/fault/fault';

import { api } from '../src/store/api';
import { store } from '../src/store/store';

// Fingerprints need them, and the simulated browser has none.
Object.assign(globalThis, { TextEncoder, TextDecoder });

/** What was asked of the server. */
interface Asked {
  readonly name: string;
  readonly path: string;
  readonly body: unknown;
}

/** What routes answer, by their names: a value, a fault, or what works one out of body and address. Those not named do not answer. */
export type Answers = Readonly<Record<string, unknown>>;

const ALL = Object.values(ROUTES)
  .flatMap((wing) => Object.entries<Route>(wing))
  .map(([name, { method, path }]) => ({
    name,
    method: method.toUpperCase(),
    at: new RegExp(`^/api${path.replaceAll('.', '\\.').replaceAll(/:\w+/g, '[^/]+')}$`),
  }));

/** A server that answers as the table of routes says, and remembers what it was asked. Its store is empty before each test. */
export class FakeServer {
  readonly asked: Asked[] = [];
  /** What was asked that no route is for, or with a name left empty. */
  readonly strays: string[] = [];

  constructor(private answers: Answers) {
    store.dispatch(api.util.resetApiState());
    globalThis.fetch = (asked) =>
      this.answer(typeof asked === 'string' ? new Request(`http://localhost${asked}`) : (asked as Request));
  }

  /** From now on some routes answer something else. */
  change(answers: Answers): void {
    this.answers = { ...this.answers, ...answers };
  }

  /** What was sent to a route, each time. */
  sentTo = (name: string): readonly unknown[] => this.asked.filter((one) => one.name === name).map(({ body }) => body);

  private async answer(request: Request): Promise<Response> {
    const { pathname, search } = new URL(request.url, 'http://localhost');
    const route = ALL.find(({ method, at }) => method === request.method && at.test(pathname));
    if (!route || /\/(undefined|null)\b|=(undefined|null|&|$)/.test(pathname + search))
      this.strays.push(pathname + search);
    if (!route) throw new Error(`no route for ${request.method} ${pathname}`);
    const text = await request.text();
    const body: unknown = text ? JSON.parse(text) : undefined;
    this.asked.push({ name: route.name, path: pathname, body });
    const given = this.answers[route.name];
    const answer: unknown = await (typeof given === 'function'
      ? (given as (body: unknown, path: string) => unknown)(body, pathname)
      : given);
    if (answer === undefined) throw new TypeError('Failed to fetch');
    if (answer instanceof Fault) return json(toProblem(answer, 409), 409);
    return json(answer, 200);
  }
}

const json = (body: unknown, status: number) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });
