import { readFileSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';

import { Fault } from '@old-echo/core/fault/fault';

import { parseDocument } from './document';
import type { DocumentReply, DocumentSource } from './read-document';

/** Presets in one message: taking one over holds the server up for no longer than a few of them take. */
const PRESETS = 50;

const send = (reply: DocumentReply): void => parentPort?.postMessage(reply);

function read({ path, head }: DocumentSource): void {
  const document = parseDocument(head ? Buffer.from(head) : readFileSync(path), head !== undefined);
  const list = document.format === 'library' ? document.library : document.format === 'archive' ? document.head : null;
  const presets = list ? list.presets.splice(0) : [];
  send({ document });
  for (let i = 0; i < presets.length; i += PRESETS) send({ presets: presets.slice(i, i + PRESETS) });
  send({ whole: true });
}

try {
  read(workerData as DocumentSource);
} catch (error) {
  if (!(error instanceof Fault)) throw error;
  const { code, message, advice, where } = error;
  send({ fault: { code, message, advice, where } });
}
