import type { Database } from '../database/connect';

/** A number that no scene gets, for the moment in which two change theirs. */
const NOWHERE = 4_294_967_295;

/** Lets a scene be to others what another was: its scope, its pins, and where it stands or is flipped to. */
export async function handOver(tx: Database, from: string, to: string): Promise<void> {
  const { scope } = (await tx('scenes').where({ id: from }).first('scope')) as { scope: string | null };
  await tx('scenes').where({ id: to }).update({ scope });
  await tx('pins').where({ scene_id: from }).update({ scene_id: to });
  await tx('desks').where({ flip_scene_id: from }).update({ flip_scene_id: to });
}

/** Puts a scene into the place of another of its production: each gets the other's number, and it stands where that stood. */
export async function takePlace(tx: Database, from: string, to: string): Promise<void> {
  const number = async (id: string) =>
    ((await tx('scenes').where({ id }).first('number')) as { number: number }).number;
  const [old, own] = [await number(from), await number(to)];
  await tx('scenes').where({ id: to }).update({ number: NOWHERE });
  await tx('scenes').where({ id: from }).update({ number: own });
  await tx('scenes').where({ id: to }).update({ number: old });
  await tx('desks').where({ scene_id: from }).update({ scene_id: to });
  await handOver(tx, from, to);
}
