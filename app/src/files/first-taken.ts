import type { ImportView } from '@old-echo/core/contracts/file-transfer';

import { leaves } from './file-tree';

/**
 * What of a file comes in unless someone says otherwise: all that is not here already. Where all its versions are, what belongs to them
 * is left with them.
 */
export function firstTaken({ branches }: Pick<ImportView, 'branches'>): ReadonlySet<string> {
  const isNew = leaves(branches).filter(({ here }) => here !== 'same');
  const [versions, more] = ['versions', 'more'].map((id) => leaves(branches.filter((branch) => branch.id === id)));
  const isAllHere = versions && versions.length > 0 && versions.every(({ here }) => here === 'same');
  return new Set(isNew.filter((leaf) => !isAllHere || !more?.includes(leaf)).map(({ id }) => id));
}

/** Where it goes unless someone says otherwise: what is of a song or show of here goes there, and a scene into the first of its desk. */
export const firstInto = ({
  format,
  into,
  madeFrom,
}: Pick<ImportView, 'format' | 'into' | 'madeFrom'>): string | null =>
  format === 'scene' ? (into[0]?.id ?? null) : madeFrom;
