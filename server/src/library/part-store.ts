import type { NewParts, Parts } from '@old-echo/core/contracts/part';
import { stripFamily } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { inTransaction } from '../database/transaction';
import { profileOfProduction } from '../scenes/production-store';

/** What the strips of a production carry, where someone said so; of strips that its desk has. */
export async function loadParts(db: Database, productionId: string): Promise<Parts> {
  const profile = await profileOfProduction(db, productionId);
  const rows = await db('parts').where({ production_id: productionId });
  return Object.fromEntries(
    rows.flatMap(({ strip, part }) => (stripFamily(profile, strip) ? [[strip, part] as const] : [])),
  );
}

/**
 * Says what all strips of a production carry.
 * @throws Fault `refused-input` for a strip that its desk does not have, or for two strips with one part that nobody shares
 */
export async function setParts(db: Database, productionId: string, { parts, shared = [] }: NewParts): Promise<Parts> {
  const profile = await profileOfProduction(db, productionId);
  const holder = new Map<string, string>();
  const rows = Object.entries(parts).map(([strip, part]) => ({
    production_id: productionId,
    strip,
    part: part.trim(),
  }));
  for (const { strip, part } of rows) {
    if (!stripFamily(profile, strip))
      throw new Fault(
        'refused-input',
        `${profile.name} has no strip ${strip}.`,
        'Nothing was changed.',
        `parts.${strip}`,
      );
    const other = holder.get(part.toLowerCase());
    if (other !== undefined && !shared.includes(part))
      throw new Fault(
        'refused-input',
        `${profile.plainNames[other]} and ${profile.plainNames[strip]} are both ${part}.`,
        'Rename one, or save them as shared.',
        `parts.${strip}`,
      );
    holder.set(part.toLowerCase(), strip);
  }
  await inTransaction(db, async (tx) => {
    // What strips carry that its model does not have any more stays for when it has them again.
    await tx('parts').where({ production_id: productionId }).whereIn('strip', profile.strips).delete();
    await addParts(tx, productionId, Object.fromEntries(rows.map(({ strip, part }) => [strip, part])));
  });
  return loadParts(db, productionId);
}

/** Enters what strips carry of which nothing was said yet. */
export async function addParts(tx: Database, productionId: string, parts: Parts): Promise<void> {
  const rows = Object.entries(parts).map(([strip, part]) => ({ production_id: productionId, strip, part }));
  if (rows.length > 0) await tx('parts').insert(rows);
}
