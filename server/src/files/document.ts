import { assertBoundedJson } from '@old-echo/core/fault/bounded-json';
import { Fault } from '@old-echo/core/fault/fault';
import {
  type ArchiveHead,
  LIBRARY,
  type LibraryFile,
  readArchiveHead,
  readLibraryFile,
  readSceneFile,
  SCENE,
  type SceneFile,
} from '@old-echo/core/formats/file-shapes';

export type FileDocument =
  | { readonly format: 'library'; readonly library: LibraryFile }
  | { readonly format: 'scene'; readonly scene: SceneFile };
/** What an archive begins with. */
export type HeadDocument = { readonly format: 'archive'; readonly head: ArchiveHead };
export type Document = FileDocument | HeadDocument;

const NOTHING = 'Nothing was imported.';

export const invalidFile = (message: string, where?: string, advice = NOTHING): Fault =>
  new Fault('refused-input', message, advice, where);

/** The document that a file is. @param isHead whether it is what an archive begins with @throws Fault `refused-input` */
export function parseDocument(bytes: Buffer, isHead: boolean): Document {
  const json = parsed(bytes);
  if (isHead) return { format: 'archive', head: readArchiveHead(json) };
  const format = typeof json === 'object' && json !== null && 'format' in json ? json.format : undefined;
  if (format === LIBRARY) return { format: 'library', library: readLibraryFile(json) };
  if (format === SCENE) return { format: 'scene', scene: readSceneFile(json) };
  throw invalidFile('Not an Old Echo file: no library, scene or archive.', 'format');
}

function parsed(bytes: Buffer): unknown {
  assertBoundedJson(bytes);
  try {
    return JSON.parse(bytes.toString('utf8'));
  } catch (error) {
    throw invalidFile(
      `The file is incomplete or not JSON: ${error instanceof Error ? error.message : 'it cannot be read'}.`,
    );
  }
}
