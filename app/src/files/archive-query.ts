import type { ExportRequest, FileNode } from '@old-echo/core/contracts/file-transfer';

import { leaves } from './file-tree';

/** Branches that are left out under one name where nothing of them is chosen. */
const AS_ONE = new Set(['versions', 'venues', 'presets']);

/** What an archive is asked for with, so that it holds what is chosen of its contents, and no more. @param taken leaves by id */
export function archiveQuery(
  contents: readonly FileNode[],
  taken: ReadonlySet<string>,
): Pick<ExportRequest, 'versions' | 'without' | 'sound'> {
  const left = (node: FileNode): readonly string[] => {
    if (node.children.length === 0) return taken.has(node.id) ? [] : [node.id];
    const isLeft = leaves([node]).every(({ id }) => !taken.has(id));
    return isLeft && AS_ONE.has(node.id) ? [node.id] : node.children.flatMap(left);
  };
  const all = contents.flatMap(left);
  const versions = leaves(contents).filter(({ id }) => id.startsWith(VERSION));
  return {
    // Some of them are named; all of them, and none, are not.
    versions: all.some((id) => id.startsWith(VERSION))
      ? versions.flatMap(({ id }) => (taken.has(id) ? [id.slice(VERSION.length)] : []))
      : undefined,
    without: all.filter((id) => id !== 'sound' && !id.startsWith(VERSION)),
    sound: taken.has('sound'),
  };
}

const VERSION = 'versions/';
