import { createHash, randomBytes, randomInt } from 'node:crypto';

import { type DeviceView, ENTRY_CODE_S } from '@old-echo/core/contracts/device';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import type { DeviceRow } from '../database/tables';

/** Letters and digits that are told apart when they are read aloud (Crockford's base 32). */
const ALPHABET = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
/** 50 bits: more than can be tried in the time that a code is good for. */
const CODE_LENGTH = 10;
/** How exactly it is known when a device was last seen, in ms. */
const SEEN_MS = 60_000;

/** Neither codes nor tokens are kept, so that who reads the database gets in nowhere. Both are random, so that nothing slower is needed. */
const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');

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

/** The devices that were let in and not shut out, the newest first. */
export const devices = async (db: Database): Promise<DeviceView[]> =>
  (await db('devices').whereNull('shut_out_at').orderBy('id', 'desc')).map(deviceView);

/** Makes a code that lets one device in. */
export async function makeEntryCode(db: Database, now: Date): Promise<{ code: string; endsAt: Date }> {
  const code = Array.from({ length: CODE_LENGTH }, () => ALPHABET[randomInt(ALPHABET.length)]).join('');
  const endsAt = new Date(now.getTime() + ENTRY_CODE_S * 1000);
  await db('entry_codes').where('ends_at', '<', now).delete();
  await db('entry_codes').insert({ code_hash: hashOf(code), ends_at: endsAt, used_at: null });
  return { code, endsAt };
}

/**
 * Lets a device in by a code, and makes the token it shows from then on.
 * @throws Fault `not-let-in` where the code is none, was used, or is over
 */
export async function enter(
  db: Database,
  { code, name }: { readonly code: string; readonly name: string },
  now: Date,
): Promise<{ device: DeviceView; token: string }> {
  const token = randomBytes(32).toString('base64url');
  return db.transaction(async (trx) => {
    // One statement, so that of two that show the same code at once only one gets in.
    const used = await trx('entry_codes')
      .where('code_hash', hashOf(meant(code)))
      .where('ends_at', '>', now)
      .whereNull('used_at')
      .update({ used_at: now });
    if (used !== 1)
      throw new Fault(
        'not-let-in',
        'This code lets nobody in: it was mistyped, used before, or its two minutes are over.',
        'Ask for another one.',
      );
    const row = { id: newId(), name, token_hash: hashOf(token), made_at: now, seen_at: now, shut_out_at: null };
    await trx('devices').insert(row);
    return { device: deviceView(row), token };
  });
}

/** The device that shows a token, unless it was shut out. */
export async function deviceWith(db: Database, token: string, now: Date): Promise<DeviceRow | undefined> {
  const row = await db('devices').where('token_hash', hashOf(token)).whereNull('shut_out_at').first();
  if (row && now.getTime() - row.seen_at.getTime() > SEEN_MS)
    await db('devices').where('id', row.id).update({ seen_at: now });
  return row;
}

/** @throws Fault `not-found` */
export async function shutOut(db: Database, id: string, now: Date): Promise<DeviceView> {
  await db('devices').where('id', id).whereNull('shut_out_at').update({ shut_out_at: now });
  const row = await db('devices').where('id', id).first();
  if (!row) throw new Fault('not-found', 'This device is not here.', 'Look at the list again.');
  return deviceView(row);
}

/** Those of some devices that were shut out, by whichever server. */
export const shutOutOf = async (db: Database, ids: readonly string[]): Promise<string[]> =>
  ids.length === 0 ? [] : db('devices').whereIn('id', ids).whereNotNull('shut_out_at').pluck('id');
