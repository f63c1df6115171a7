import { Fault } from '@old-echo/core/contracts/fault';

import type { Database } from '../database/connect';

/** @throws Fault `refused-input` naming the first of these scenes that is gone or was made on another kind of desk */
export async function mustFit(db: Database, profileId: string, ids: readonly string[], field: string): Promise<void> {
  const fitting = (await db('scenes')
    .join('productions', 'productions.id', 'scenes.production_id')
    .join('desks', 'desks.id', 'productions.desk_id')
    .whereIn('scenes.id', ids)
    .where({ profile_id: profileId })
    .pluck('scenes.id')) as string[];
  const stranger = ids.findIndex((id) => !fitting.includes(id));
  if (stranger >= 0)
    throw new Fault(
      'refused-input',
      'A chosen scene was removed, or belongs to another kind of desk.',
      'Nothing was changed. Choose scenes made on this kind of desk.',
      ids.length === 1 ? field : `${field}[${stranger}]`,
    );
}
