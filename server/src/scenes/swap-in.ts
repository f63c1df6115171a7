import type { Database } from '../database/connect';
import { found } from '../database/found';
import { replaceInBaselines } from '../desk/baseline';
import { replaceAtDesks } from '../desk/desk-store';

/** A position that no scene has, used while two swap theirs. */
const TEMPORARY_NUMBER = 4_294_967_295;

/** Moves scope, places at hand, accepted cautions, current-scene and swap references to another scene. */
export async function transferReferences(tx: Database, from: string, to: string): Promise<void> {
  const { scope } = found(await tx('scenes').where({ id: from }).first('scope'));
  await tx('scenes').where({ id: to }).update({ scope });
  await replaceAtDesks(tx, from, to);
  for (const end of ['from_id', 'to_id'])
    await tx.raw('UPDATE IGNORE accepted SET ?? = ? WHERE ?? = ?', [end, to, end, from]);
}

/** Puts a scene into the place of another of its production: each gets the other's place and number. */
export async function swapIn(tx: Database, from: string, to: string): Promise<void> {
  const at = async (id: string) => found(await tx('scenes').where({ id }).first('ordinal', 'number'));
  const [old, own] = [await at(from), await at(to)];
  await tx('scenes').where({ id: to }).update({ ordinal: TEMPORARY_NUMBER, number: null });
  await tx('scenes').where({ id: from }).update(own);
  await tx('scenes').where({ id: to }).update(old);
  await replaceInBaselines(tx, from, to);
  await transferReferences(tx, from, to);
}
