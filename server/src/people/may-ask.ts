import type { Request, Response } from 'express';

import { lowest, mayDo, type Role } from '@old-echo/core/contracts/role';
import { accessOf, isChange, type Route } from '@old-echo/core/contracts/route';
import { Fault } from '@old-echo/core/fault/fault';
import { isRecord } from '@old-echo/core/fault/is-record';
import { isId } from '@old-echo/core/fault/text-shapes';

import { askerOf, roleOf, signatureOf, type Visitor } from './who-asks';

/** What has to be known of what a request is about. */
export interface AboutRequests {
  /** The songs and shows that some ids are of, or are of something in. */
  productionsOf(ids: readonly string[]): Promise<readonly string[]>;
  /** Whether what a route reaches is a desk in the studio. */
  isStudio(route: Route, id: string): Promise<boolean>;
}

/**
 * Lets whoever asks for a route do so, if they may, and signs what they send with who they are.
 * @throws Fault `not-let-in`, `forbidden`
 */
export async function assertMayAsk(route: Route, req: Request, res: Response, about: AboutRequests): Promise<void> {
  const access = accessOf(route);
  const asker = askerOf(res);
  const isVisitor = typeof asker === 'object';
  const role = isVisitor && isChange(route) ? await roleFor(asker, req, about) : roleOf(asker);
  const isStudio =
    role === 'assistant' && access === 'in the studio' && (await about.isStudio(route, String(req.params['id'])));
  if (!mayDo(access, role, isStudio)) throw refusal(role, access === 'in the studio');
  if (isVisitor && isSigned(route) && isRecord(req.body)) req.body = { ...req.body, by: signatureOf(asker) };
}

const isSigned = ({ shapes: { body } }: Route): boolean =>
  body !== undefined && 'fields' in body && isRecord(body.fields) && 'by' in body.fields;

/**
 * What somebody may do with what a request names. Where it names nothing that is of a song or show, it may be about any of them: what they may
 * do least counts.
 */
async function roleFor({ person, productions }: Visitor, req: Request, about: AboutRequests): Promise<Role> {
  if (productions.length === 0) return person.role;
  const named = await about.productionsOf(idsIn([req.params, req.query, req.body]));
  const roles = named.map((id) => productions.find(({ productionId }) => productionId === id)?.role ?? person.role);
  const [first, ...rest] = roles.length > 0 ? roles : [person.role, ...productions.map(({ role }) => role)];
  return lowest([first ?? person.role, ...rest]);
}

/** Every id that stands anywhere in something. */
export function idsIn(value: unknown): string[] {
  const found = new Set<string>();
  const left: unknown[] = [value];
  while (left.length > 0) {
    const next = left.pop();
    if (isId(next)) found.add(next);
    else if (typeof next === 'object' && next !== null)
      for (const [key, inside] of Object.entries(next)) {
        if (isId(key)) found.add(key);
        left.push(inside);
      }
  }
  return [...found];
}

function refusal(role: Role | null, isOfDesk: boolean): Fault {
  if (role === null)
    return new Fault(
      'not-let-in',
      'This device is not let in.',
      'Ask for a code at the machine Old Echo runs on: Settings, People.',
    );
  if (role === 'assistant' && isOfDesk)
    return new Fault(
      'forbidden',
      'Assistants reach a desk in studio mode only.',
      'Nothing was changed. Ask an engineer to do it.',
    );
  const whose =
    role === 'viewer'
      ? 'A viewer looks and listens.'
      : role === 'assistant'
        ? 'Assistants capture, write notes and look ahead.'
        : 'Engineers do everything but let people in.';
  return new Fault('forbidden', whose, 'Nothing was changed. Ask an owner if you are to do more.');
}
