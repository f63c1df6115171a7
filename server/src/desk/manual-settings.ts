import type { SettingsByAddress } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';

/** What people said of a manual desk so far, by address. */
export const manualSettings = async (db: Database, deskId: string): Promise<SettingsByAddress> =>
  Object.fromEntries(
    (await db('manual_settings').where({ desk_id: deskId }).select('address', 'value')).map(({ address, value }) => [
      address,
      fromJson(value),
    ]),
  );

/** Enters where controls stand, over what was said of them before. */
export async function enterManualSettings(db: Database, deskId: string, settings: SettingsByAddress): Promise<void> {
  // In one order everywhere, so that two who enter at once never wait for one another.
  const rows = Object.entries(settings)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([address, value]) => ({ desk_id: deskId, address, value: toJson(value) }));
  if (rows.length > 0) await db('manual_settings').insert(rows).onConflict(['desk_id', 'address']).merge(['value']);
}
