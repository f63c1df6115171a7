import { inSections } from '@old-echo/core/carry/convert';
import { isOfHall } from '@old-echo/core/carry/hall';
import { Fault } from '@old-echo/core/contracts/fault';
import type { HallView, NewHall } from '@old-echo/core/contracts/part';
import type { State } from '@old-echo/core/desk/state';
import { newId } from '../database/new-id';

import type { Database } from '../database/connect';
import { partsOf } from '../parts/store';

interface Row {
  readonly id: string;
  readonly name: string;
  readonly settings: string;
  readonly taken_at: Date | null;
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
export async function takeHall(db: Database, productionId: string, id: string, now: State): Promise<HallView[]> {
  const parts = Object.entries(await partsOf(db, productionId));
  if (parts.length === 0)
    throw new Fault(
      'refused-input',
      'No strip of this production has a part yet.',
      'Say what the strips carry first, under Parts.',
    );
  const settings = Object.fromEntries(
    parts.map(([strip, part]) => [part, inSections(now[strip] ?? {}, (_, key) => isOfHall(strip, key))]),
  );
  const changed = await db('halls')
    .where({ id, production_id: productionId })
    .update({ settings: JSON.stringify(settings), taken_at: new Date() });
  if (changed === 0) throw new Fault('not-found', 'There is no such hall.', 'Choose one from the list.');
  return halls(db, productionId);
}

export const removeHall = (db: Database, productionId: string, id: string): Promise<number> =>
  db('halls').where({ id, production_id: productionId }).delete();
