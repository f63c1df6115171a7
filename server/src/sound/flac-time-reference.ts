import { closeSync, openSync, readSync } from 'node:fs';

import { timeReferenceOf } from '@old-echo/core/signal/wav-header';

/** Where the first block stands, and what is read of each: its head, whose it is, and as much of a chunk as says when it was recorded. */
const [FIRST_AT, HEAD_BYTES, OWNER_BYTES, CHUNK_BYTES] = [4, 4, 4, 512];
/** A block of an application, and the mark of the last block. */
const [APPLICATION, LAST] = [2, 0x80];
/** Whose blocks are the chunks of the WAV file that it was. */
const OWNER = 'riff';
/** More blocks than a file of sound has. */
const MOST_BLOCKS = 1000;

/**
 * Samples from midnight to where a FLAC file begins: FLAC has no place for it, but it can take along the chunks of the Broadcast Wave
 * file that it was, each in a block of its own (RFC 9639, sections 8.1, 8.4 and 12.2, from memory; as Debian's `flac` writes them). Null
 * where it has none.
 */
export function flacTimeReference(file: string): number | null {
  const open = openSync(file, 'r');
  try {
    const bytes = Buffer.alloc(HEAD_BYTES + OWNER_BYTES + CHUNK_BYTES);
    let at = FIRST_AT;
    for (let block = 0; block < MOST_BLOCKS; block++) {
      const read = readSync(open, bytes, 0, bytes.length, at);
      if (read < HEAD_BYTES) return null;
      const [kind, length] = [bytes.readUInt8(0), bytes.readUIntBE(1, 3)];
      const content = bytes.subarray(HEAD_BYTES, Math.min(read, HEAD_BYTES + length));
      if ((kind & ~LAST) === APPLICATION && content.toString('latin1', 0, OWNER_BYTES) === OWNER) {
        const found = timeReferenceOf(content.subarray(OWNER_BYTES));
        if (found !== null) return found;
      }
      if (kind & LAST) return null;
      at += HEAD_BYTES + length;
    }
    return null;
  } finally {
    closeSync(open);
  }
}
