import type { ImportRequest } from '@old-echo/core/contracts/file-transfer';

import { importArchive } from './import-archive';
import type { ImportResult, Tools } from './import-context';
import { importPresets } from './import-presets';
import { importSceneFile } from './import-scene';
import type { OpenedFile } from './open-file';

/**
 * Brings what was chosen of a file in, whole or not at all. What is here already becomes a copy with a name of its own, unless
 * it is to be replaced: then the one that was here goes to the bin.
 * @returns where it went, in the app, and what there is to say about it, in sentences
 * @throws Fault `refused-input` with what and where, `protected` where something to be replaced is
 */
export async function importFile(tools: Tools, opened: OpenedFile, request: ImportRequest): Promise<ImportResult> {
  const include = new Set(request.include);
  if (opened.format === 'library') return importPresets(tools, opened.library, include, request.replace);
  if (opened.format === 'scene') return importSceneFile(tools, opened.scene, include, request.intoId);
  return importArchive(tools, opened.archive, include, request);
}
