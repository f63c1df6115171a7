import type { NewVenue, VenueCapture, VenueView } from '@old-echo/core/contracts/part';
import type { State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { uniqueName } from '@old-echo/core/fault/text-shapes';
import { settingsForVenue } from '@old-echo/core/library/venue';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import type { VenueRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { loadParts } from './part-store';

const viewOf = ({ id, name, note, settings, captured_at }: VenueRow): VenueView => ({
  id,
  name,
  note,
  settings: fromJson(settings),
  capturedAt: captured_at?.toISOString() ?? null,
});

/** The venues of a production, by name. */
export const venues = async (db: Database, productionId: string): Promise<VenueView[]> =>
  (await db('venues').where({ production_id: productionId }).orderBy('name')).map(viewOf);

/** Adds a venue that knows nothing yet. @throws Fault `conflict` where its name is taken */
export async function insertVenue(
  db: Database,
  productionId: string,
  { name, note = '' }: NewVenue,
): Promise<VenueView[]> {
  await assertFree(db, productionId, name);
  await addVenue(db, productionId, { name, note, settings: {}, capturedAt: null });
  return venues(db, productionId);
}

/** @throws Fault `not-found`, `conflict` where another has that name */
export async function editVenue(
  db: Database,
  productionId: string,
  id: string,
  { name, note }: NewVenue,
): Promise<VenueView[]> {
  await inTransaction(db, async (tx) => {
    await venueRow(tx, productionId, id);
    await assertFree(tx, productionId, name, id);
    await tx('venues')
      .where({ id })
      .update({ name, ...(note === undefined ? {} : { note }) });
  });
  return venues(db, productionId);
}

/** Adds a venue that holds what another holds, under the nearest name that is free. @throws Fault `not-found` */
export async function copyVenue(db: Database, productionId: string, id: string): Promise<VenueView[]> {
  await inTransaction(db, async (tx) => {
    const held = viewOf(await venueRow(tx, productionId, id));
    const taken = await tx('venues').where({ production_id: productionId }).pluck('name');
    await addVenue(tx, productionId, { ...held, name: uniqueName(held.name, taken) });
  });
  return venues(db, productionId);
}

/** @throws Fault `conflict` where another venue has a name */
async function assertFree(db: Database, productionId: string, name: string, own = ''): Promise<void> {
  if (await db('venues').where({ production_id: productionId, name }).whereNot({ id: own }).first('id'))
    throw new Fault('conflict', `There is already a venue called ${name}.`, 'Choose another name.', 'name');
}

/** Enters a venue with what it knows. */
export const addVenue = (
  tx: Database,
  productionId: string,
  { name, note, settings, capturedAt }: Omit<VenueView, 'id'>,
): Promise<unknown> =>
  tx('venues').insert({
    id: newId(),
    production_id: productionId,
    name,
    note,
    settings: toJson(settings),
    captured_at: capturedAt === null ? null : new Date(capturedAt),
  });

/**
 * Keeps what parts are set to on the desk at this moment as that venue's, and nothing else.
 * @throws Fault `not-found`, `refused-input` while no strip of the production has a part
 */
export async function captureVenue(
  db: Database,
  productionId: string,
  id: string,
  now: State,
  { sections, strips }: VenueCapture,
): Promise<VenueView[]> {
  const parts = await loadParts(db, productionId);
  if (Object.keys(parts).length === 0)
    throw new Fault(
      'refused-input',
      'No strip of this song or show has a part yet.',
      'Name the parts first, under Parts.',
    );
  const settings = settingsForVenue(parts, now, sections, strips);
  if (Object.keys(settings).length === 0)
    throw new Fault(
      'refused-input',
      'None of these strips has a part any more.',
      'Choose among those that have.',
      'strips',
    );
  await inTransaction(db, async (tx) => {
    const held = await venueRow(tx, productionId, id);
    await tx('venues')
      .where({ id })
      .update({
        settings: toJson(settings),
        captured_at: new Date(),
        before: toJson({ settings: held.settings, capturedAt: held.captured_at }),
      });
  });
  return venues(db, productionId);
}

/** Gives a venue back what it was before it was kept last. @throws Fault `not-found`, `conflict` where that is not known */
export async function undoVenueCapture(db: Database, productionId: string, id: string): Promise<VenueView[]> {
  await inTransaction(db, async (tx) => {
    const { before } = await venueRow(tx, productionId, id);
    if (before === null) throw new Fault('conflict', 'This was already undone.', 'There is nothing left to undo.');
    const { settings, capturedAt } = fromJson(before);
    await tx('venues')
      .where({ id })
      .update({ settings, captured_at: capturedAt === null ? null : new Date(capturedAt), before: null });
  });
  return venues(db, productionId);
}

/** @throws Fault `not-found` */
async function venueRow(tx: Database, productionId: string, id: string): Promise<VenueRow> {
  const row = await tx('venues').where({ id, production_id: productionId }).forUpdate().first();
  if (!row) throw new Fault('not-found', 'This venue no longer exists.', 'Choose one from the list.');
  return row;
}
