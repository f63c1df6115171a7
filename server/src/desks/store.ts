import type { DeskEdit, DeskLinkView, DeskView } from '@old-echo/core/contracts/desk';
import { Fault } from '@old-echo/core/contracts/fault';
import { readShape } from '@old-echo/core/contracts/read';
import { safesShape } from '@old-echo/core/scope/rules';

import type { Database } from '../database/connect';
import { fromJson } from '../database/json';

export interface DeskRow {
  readonly id: string;
  readonly name: string;
  readonly profile_id: string;
  readonly host: string;
  readonly port: number;
  readonly mode: 'studio' | 'live';
  readonly safes: unknown;
  readonly place: number;
  readonly scene_id: string | null;
  readonly lease_by: string | null;
  readonly lease_until: Date | null;
}

/** How long a restore may hold a desk without a sign of life, in ms. */
export const LEASE = 10_000;

export const deskRows = (db: Database): Promise<DeskRow[]> => db<DeskRow>('desks').orderBy('place');

/** @throws Fault `not-found` */
export async function deskRow(db: Database, id: string): Promise<DeskRow> {
  const row = await db<DeskRow>('desks').where({ id }).first();
  if (!row) throw new Fault('not-found', 'There is no such desk.', 'Choose one from the list of desks.');
  return row;
}

export const safesOf = (row: DeskRow) => readShape(safesShape, fromJson(row.safes));

/** A desk with what stands on it. `link` comes from the session. */
export async function deskView(db: Database, row: DeskRow, link: DeskLinkView): Promise<DeskView> {
  const scene = (await db('scenes')
    .join('versions', 'versions.id', 'scenes.version_id')
    .where('scenes.id', row.scene_id)
    .first('scenes.id', 'scenes.number', 'scenes.name', { productionId: 'production_id', versionId: 'version_id' })) as
    DeskView['scene'] | undefined;
  const restore = await db<{ id: string; desk_id: string }>('restores')
    .where({ desk_id: row.id })
    .orderBy('started_at', 'desc')
    .orderBy('id', 'desc')
    .first('id');
  return {
    id: row.id,
    name: row.name,
    profileId: row.profile_id,
    address: `${row.host}:${row.port}`,
    mode: row.mode,
    safes: safesOf(row),
    link,
    scene: scene ?? null,
    lastRestoreId: restore?.id ?? null,
  };
}

export async function editDesk(db: Database, id: string, edit: DeskEdit): Promise<void> {
  const columns = {
    ...(edit.mode ? { mode: edit.mode } : {}),
    ...(edit.safes ? { safes: JSON.stringify(edit.safes) } : {}),
  };
  if (Object.keys(columns).length > 0) await db('desks').where({ id }).update(columns);
}

/** Notes which scene stands on the desk. */
export const standOn = (db: Database, deskId: string, sceneId: string | null): Promise<number> =>
  db('desks').where({ id: deskId }).update({ scene_id: sceneId });

/**
 * Takes the desk for one restore. The database decides, so that two servers cannot both have it.
 * @throws Fault `desk-busy` while another restore holds it
 */
export async function takeLease(db: Database, deskId: string, by: string): Promise<void> {
  const taken = await db('desks')
    .where({ id: deskId })
    .andWhere((free) => free.whereNull('lease_until').orWhere('lease_until', '<', db.raw('UTC_TIMESTAMP(3)')))
    .update({ lease_by: by, lease_until: leaseEnd(db) });
  if (taken === 0)
    throw new Fault(
      'desk-busy',
      'Another restore is at work on this desk.',
      'Wait until it has ended, then look at the preview again.',
    );
}

export const renewLease = (db: Database, deskId: string, by: string): Promise<number> =>
  db('desks')
    .where({ id: deskId, lease_by: by })
    .update({ lease_until: leaseEnd(db) });

export const endLease = (db: Database, deskId: string, by: string): Promise<number> =>
  db('desks').where({ id: deskId, lease_by: by }).update({ lease_by: null, lease_until: null });

const leaseEnd = (db: Database) => db.raw('UTC_TIMESTAMP(3) + INTERVAL ? MICROSECOND', [LEASE * 1000]);
