import type { NamedScene } from '@old-echo/core/contracts/scene';
import { Fault } from '@old-echo/core/fault/fault';
import { uniqueName } from '@old-echo/core/fault/text-shapes';

import type { Database } from '../database/connect';

/** A name that no scene of a version has: the one given, or it with a number behind it. */
export async function uniqueSceneName(db: Database, versionId: string, name: string): Promise<string> {
  const taken = await db('scenes').where({ version_id: versionId }).whereNotNull('unique_name').pluck('name');
  return uniqueName(name, taken);
}

/** The scene of a version that has a name, as names count: without case and accents. */
export async function sceneNamed(db: Database, versionId: string, name: string): Promise<NamedScene | null> {
  // The database knows what counts as the same name: it is the one that refuses it.
  const row = await db('scenes')
    .where({ version_id: versionId, unique_name: name })
    .first('id', 'number', 'name', 'revision', 'protected');
  return row
    ? { id: row.id, number: row.number ?? 0, name: row.name, revision: row.revision, isProtected: row.protected === 1 }
    : null;
}

const NAMED_KIND = { 'This version': 'a scene', 'This song or show': 'a version', 'The library': 'a preset' } as const;

/** Runs work that gives something a name; where the name is taken, says so. */
export async function withUniqueName<T>(
  name: string,
  work: () => Promise<T>,
  where: keyof typeof NAMED_KIND = 'This version',
): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (
      error instanceof Error &&
      'code' in error &&
      error.code === 'ER_DUP_ENTRY' &&
      error.message.includes('unique_name')
    )
      throw new Fault(
        'conflict',
        `${where} already has ${NAMED_KIND[where]} called ${name}.`,
        'Choose another name.',
        'name',
      );
    throw error;
  }
}
