import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';

import { Fault } from '@old-echo/core/fault/fault';

import { parseDocument } from './document';
import type { DocumentReply, DocumentSource } from './read-document';

/** Presets in one message, each sent when it is asked for: messages that wait are all taken over at once, and hold the server up. */
const PRESETS = 50;

const send = (reply: DocumentReply): void => parentPort?.postMessage(reply);

async function read({ path, head }: DocumentSource): Promise<void> {
  const document = parseDocument(head ? Buffer.from(head) : readFileSync(path), head !== undefined);
  const list = document.format === 'library' ? document.library : document.format === 'archive' ? document.head : null;
  const presets = list ? list.presets.splice(0) : [];
  send({ document });
  for (let i = 0; i < presets.length; i += PRESETS) {
    if (parentPort) await once(parentPort, 'message');
    send({ presets: presets.slice(i, i + PRESETS) });
  }
  send({ whole: true });
}

try {
  await read(workerData as DocumentSource);
} catch (error) {
  if (!(error instanceof Fault)) throw error;
  const { code, message, advice, where } = error;
  send({ fault: { code, message, advice, where } });
}
