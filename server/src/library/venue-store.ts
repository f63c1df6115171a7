import { takenForHall } from '@old-echo/core/library/venue';
import { Fault } from '@old-echo/core/fault/fault';
import type { HallView, NewHall } from '@old-echo/core/contracts/part';
import type { State } from '@old-echo/core/desk/state';
import { newId } from '../database/new-id';

import type { Database } from '../database/connect';
import { inTransaction } from '../database/transaction';
import { loadParts } from './part-store';

interface Row {
  readonly id: string;
  readonly name: string;
  readonly settings: string;
  readonly taken_at: Date | null;
  /** What it was before it was kept last. */
  readonly before: string | null;
}

const viewOf = ({ id, name, settings, taken_at }: Row): HallView => ({
  id,
  name,
  settings: JSON.parse(settings) as HallView['settings'],
  takenAt: taken_at?.toISOString() ?? null,
});

/** The halls of a production, by name. */
export const halls = async (db: Database, productionId: string): Promise<HallView[]> =>
  (await db<Row & { production_id: string }>('halls').where({ production_id: productionId }).orderBy('name')).map(
    viewOf,
  );

/** Adds a hall that knows nothing yet. @throws Fault `conflict` where its name is taken */
export async function insertHall(db: Database, productionId: string, { name }: NewHall): Promise<HallView[]> {
  if (await db('halls').where({ production_id: productionId, name }).first('id'))
    throw new Fault('conflict', `There is a hall called ${name} already.`, 'Choose another name.', 'name');
  await db('halls').insert({ id: newId(), production_id: productionId, name, settings: '{}' });
  return halls(db, productionId);
}

/**
 * Keeps what each part is set to on the desk at this moment as that hall's.
 * @throws Fault `not-found`, `refused-input` while no strip of the production has a part
 */
export async function captureVenue(db: Database, productionId: string, id: string, now: State): Promise<HallView[]> {
  const parts = await loadParts(db, productionId);
  if (Object.keys(parts).length === 0)
    throw new Fault(
      'refused-input',
      'No strip of this production has a part yet.',
      'Say what the strips carry first, under Parts.',
    );
  await inTransaction(db, async (tx) => {
    const held = await hallRow(tx, productionId, id);
    await tx('halls')
      .where({ id })
      .update({
        settings: JSON.stringify(takenForHall(parts, now)),
        taken_at: new Date(),
        before: JSON.stringify({ settings: held.settings, takenAt: held.taken_at }),
      });
  });
  return halls(db, productionId);
}

/** Gives a hall back what it was before it was kept last. @throws Fault `not-found`, `conflict` where that is not known */
export async function giveHallBack(db: Database, productionId: string, id: string): Promise<HallView[]> {
  await inTransaction(db, async (tx) => {
    const { before } = await hallRow(tx, productionId, id);
    if (before === null) throw new Fault('conflict', 'This was taken back already.', 'There is nothing left to undo.');
    const { settings, takenAt } = JSON.parse(before) as { settings: string; takenAt: string | null };
    await tx('halls')
      .where({ id })
      .update({ settings, taken_at: takenAt && new Date(takenAt), before: null });
  });
  return halls(db, productionId);
}

/** @throws Fault `not-found` */
async function hallRow(tx: Database, productionId: string, id: string): Promise<Row> {
  const row = (await tx('halls').where({ id, production_id: productionId }).forUpdate().first()) as Row | undefined;
  if (!row) throw new Fault('not-found', 'There is no such hall.', 'Choose one from the list.');
  return row;
}
