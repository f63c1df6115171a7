import { randomInt } from 'node:crypto';

import { type DeviceView, ENTRY_CODE_S } from '@old-echo/core/contracts/device';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import type { DeviceRow, PersonRow } from '../database/tables';
import { hashToken, newToken } from '../secrets/token';

/** Letters and digits that are told apart when they are read aloud (Crockford's base 32). */
const ALPHABET = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
/** 50 bits: more than can be tried in the time that a code is good for. */
const CODE_LENGTH = 10;
/** How exactly it is known when a device was last seen, in ms. */
const SEEN_MS = 60_000;

/** A code as it was meant, however it was typed. */
const meant = (code: string): string =>
  code
    .toUpperCase()
    .replaceAll(/[^0-9A-Z]/g, '')
    .replaceAll('O', '0')
    .replaceAll(/[IL]/g, '1');

export const deviceView = ({ id, name, made_at, seen_at }: DeviceRow): DeviceView => ({
  id,
  name,
  madeAt: made_at.toISOString(),
  seenAt: seen_at.toISOString(),
});

/** Makes a code that lets somebody in on one more device. */
export async function makeEntryCode(
  db: Database,
  personId: string,
  now: Date,
): Promise<{ code: string; endsAt: Date }> {
  const code = Array.from({ length: CODE_LENGTH }, () => ALPHABET[randomInt(ALPHABET.length)]).join('');
  const endsAt = new Date(now.getTime() + ENTRY_CODE_S * 1000);
  await db('entry_codes').where('ends_at', '<', now).delete();
  await db('entry_codes').insert({ code_hash: hashToken(code), person_id: personId, ends_at: endsAt, used_at: null });
  return { code, endsAt };
}

/** A device that is in, and the token it shows from then on. */
export interface Entered {
  readonly device: DeviceView;
  readonly token: string;
}

/**
 * Lets a device in by a code, and makes the token it shows from then on.
 * @throws Fault `not-let-in` where the code is none, was used, or is over
 */
export const enter = (
  db: Database,
  { code, name }: { readonly code: string; readonly name: string },
  now: Date,
): Promise<Entered> =>
  db.transaction(async (trx) => {
    const code_hash = hashToken(meant(code));
    // One statement, so that of two that show the same code at once only one gets in.
    const used = await trx('entry_codes')
      .where({ code_hash })
      .where('ends_at', '>', now)
      .whereNull('used_at')
      .update({ used_at: now });
    const row = used === 1 ? await trx('entry_codes').where({ code_hash }).first() : undefined;
    if (!row)
      throw new Fault(
        'not-let-in',
        'This code lets nobody in: it was mistyped, used before, or its two minutes are over.',
        'Ask for another one.',
      );
    return addDevice(trx, row.person_id, name, now);
  });

/** Lets one more device of somebody in. */
export async function addDevice(db: Database, personId: string, name: string, now: Date): Promise<Entered> {
  const token = newToken();
  const row = {
    id: newId(),
    person_id: personId,
    name,
    token_hash: hashToken(token),
    made_at: now,
    seen_at: now,
    shut_out_at: null,
  };
  await db('devices').insert(row);
  return { device: deviceView(row), token };
}

/** The device that shows a token and whose it is, unless it was shut out. */
export async function deviceWith(
  db: Database,
  token: string,
  now: Date,
): Promise<{ device: DeviceRow; person: PersonRow } | undefined> {
  const device = await db('devices').where('token_hash', hashToken(token)).whereNull('shut_out_at').first();
  const person = device && (await db('people').where('id', device.person_id).first());
  if (!person) return undefined;
  if (now.getTime() - device.seen_at.getTime() > SEEN_MS)
    await db('devices').where('id', device.id).update({ seen_at: now });
  return { device, person };
}

/** @throws Fault `not-found` */
export async function shutOut(db: Database, id: string, now: Date): Promise<DeviceView> {
  await db('devices').where('id', id).whereNull('shut_out_at').update({ shut_out_at: now });
  const row = await db('devices').where('id', id).first();
  if (!row) throw new Fault('not-found', 'This device is not here.', 'Look at the list again.');
  return deviceView(row);
}

/** Shuts out all devices of somebody but one; returns which. */
export async function shutOutOthers(db: Database, personId: string, but: string, now: Date): Promise<string[]> {
  const others = () => db('devices').where('person_id', personId).whereNot('id', but).whereNull('shut_out_at');
  const ids: string[] = await others().pluck('id');
  await others().whereIn('id', ids).update({ shut_out_at: now });
  return ids;
}

/** Those of some devices that were shut out or forgotten, by whichever server. */
export async function shutOutOf(db: Database, ids: readonly string[]): Promise<string[]> {
  if (ids.length === 0) return [];
  const isIn: string[] = await db('devices').whereIn('id', ids).whereNull('shut_out_at').pluck('id');
  return ids.filter((id) => !isIn.includes(id));
}
