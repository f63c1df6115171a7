import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import type { DeskRow } from '../database/tables';

/** @throws Fault `show-lock` while the desk is locked for a show */
export function assertNotShowLocked(desk: Pick<DeskRow, 'name' | 'show_lock'>): void {
  if (desk.show_lock === 1)
    throw new Fault(
      'show-lock',
      `The show on ${desk.name} is locked.`,
      'Nothing was changed. Unlock the show on the desk’s page first, if you are sure.',
    );
}

/** The same for whatever would take something away from a production of the desk. @throws Fault `show-lock` */
export async function productionMustBeUnlocked(db: Database, productionId: string): Promise<void> {
  const desk = await db('desks')
    .join('productions', 'productions.desk_id', 'desks.id')
    .where('productions.id', productionId)
    .first<Pick<DeskRow, 'name' | 'show_lock'> | undefined>('desks.name', 'show_lock');
  if (desk) assertNotShowLocked(desk);
}
