import type { Database } from '../database/connect';
import type { DeskRow } from '../database/tables';
import { setSwapTo } from '../desk/desk-store';

/**
 * Lets a desk swap from the scene that was just captured on it to the one that stood there before: the two mixes captured last. Where
 * another song or show stood there, to the scene captured last in this one; where nothing did, the other side stays as it is.
 */
export async function armSwap(
  tx: Database,
  { id, current_scene_id }: Pick<DeskRow, 'id' | 'current_scene_id'>,
  captured: { readonly id: string; readonly productionId: string },
): Promise<void> {
  const scenes = tx('scenes')
    .where({ production_id: captured.productionId, kind: 'scene' })
    .whereNull('binned_at')
    .whereNot({ id: captured.id });
  const stood =
    current_scene_id === null ? undefined : await scenes.clone().where({ id: current_scene_id }).first('id');
  if (stood) {
    await setSwapTo(tx, id, stood.id);
    return;
  }
  const other = await tx('desks').join('scenes', 'scenes.id', 'desks.swap_scene_id').where('desks.id', id);
  if (other.every(({ production_id }) => production_id === captured.productionId)) return;
  await setSwapTo(tx, id, (await scenes.orderBy('ordinal', 'desc').first('id'))?.id ?? null);
}
