import { Worker } from 'node:worker_threads';

import { Fault, type FaultCode } from '@old-echo/core/fault/fault';
import type { ArchiveHead, LibraryFile } from '@old-echo/core/formats/file-shapes';

import { threadFile } from '../jobs/thread-file';
import { type Document, type FileDocument, type HeadDocument, invalidFile } from './document';

/** A file, or what an archive at that path begins with. */
export interface DocumentSource {
  readonly path: string;
  readonly head?: Uint8Array;
}

/** What a thread says of a document, in this order; its presets come a few at a time, each time when asked for. */
export interface DocumentReply {
  readonly document?: Document;
  readonly presets?: LibraryFile['presets'];
  readonly whole?: true;
  readonly fault?: {
    readonly code: FaultCode;
    readonly message: string;
    readonly advice: string;
    readonly where?: string | undefined;
  };
}

/** How long reading one may take, in ms. */
const MOST_MS = 20_000;

/**
 * Reads and checks a library or a scene in a thread of its own, so that meanwhile hands and fades go on.
 * @throws Fault `refused-input` with a sentence that says what and where; also where it takes too long
 */
export const readDocument = (path: string): Promise<FileDocument> => inThread<FileDocument>({ path });

/** The same for what the archive at a path begins with. */
export const readHead = async (path: string, head: Uint8Array): Promise<ArchiveHead> =>
  (await inThread<HeadDocument>({ path, head })).head;

/** @typeParam Read what is read there of such a source */
async function inThread<Read extends Document>(source: DocumentSource): Promise<Read> {
  const worker = new Worker(threadFile('files/document-worker'), { workerData: source, execArgv: [] });
  let late: NodeJS.Timeout | undefined;
  try {
    return await new Promise<Read>((resolve, reject) => {
      late = setTimeout(() => reject(invalidFile('The file takes too long to read.')), MOST_MS);
      let document: Document | undefined;
      worker.on('message', ({ fault, presets, whole, ...reply }: DocumentReply) => {
        if (fault) reject(new Fault(fault.code, fault.message, fault.advice, fault.where));
        document ??= reply.document;
        if (presets && document?.format === 'library') document.library.presets.push(...presets);
        if (presets && document?.format === 'archive') document.head.presets.push(...presets);
        if (whole && document) resolve(document as Read);
        else worker.postMessage('more');
      });
      worker.once('error', reject);
    });
  } finally {
    clearTimeout(late);
    await worker.terminate();
  }
}
