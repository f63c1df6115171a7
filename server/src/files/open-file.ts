import { open, stat } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { promisify } from 'node:util';

import yauzl, { type Entry, type ZipFile } from 'yauzl';

import { MAX_ARCHIVE_BYTES, MAX_JSON_BYTES } from '@old-echo/core/contracts/file-transfer';
import { MAX_PHOTO_BYTES } from '@old-echo/core/contracts/outboard';
import { MAX_STEM_BYTES } from '@old-echo/core/contracts/sound';
import { Fault } from '@old-echo/core/fault/fault';
import { type ArchiveHead, ENTRIES } from '@old-echo/core/formats/file-shapes';

import { type FileDocument, invalidFile } from './document';
import { readDocument, readHead } from './read-document';

/** An archive that can be read piece by piece. */
export interface OpenArchive {
  readonly head: ArchiveHead;
  readonly entries: ReadonlyMap<string, Entry>;
  readonly read: (name: string) => Promise<Readable>;
  readonly close: () => void;
}

export type OpenedFile = FileDocument | { readonly format: 'archive'; readonly archive: OpenArchive };

/** How large what an archive holds may become, in bytes. */
const LIMITS: readonly (readonly [name: RegExp, bytes: number])[] = [
  [new RegExp(`^${ENTRIES.head}$`), MAX_JSON_BYTES],
  [new RegExp(`^(${ENTRIES.scenes}|${ENTRIES.strips})$`), 1_000_000_000],
  [/^sound\/[0-9a-f]{64}\.wav$/, MAX_STEM_BYTES],
  [/^photos\/[0-9a-f]{64}$/, MAX_PHOTO_BYTES],
];
/** The most entries: a head, two lists, a stem for each strip, photos. */
const MOST_ENTRIES = 2000;

/**
 * Looks into a file: a library, a scene or an archive. Only its description is read here; whatever it claims, no more than its
 * limits is ever read.
 * @throws Fault `refused-input` with a sentence that says what and where
 */
export async function openFile(path: string): Promise<OpenedFile> {
  const { size } = await stat(path);
  if (size === 0) throw invalidFile('The file is empty.');
  const handle = await open(path);
  const first = Buffer.alloc(4);
  await handle.read(first, 0, 4, 0).finally(() => handle.close());
  if (first.toString('latin1') === 'PK\u0003\u0004') return { format: 'archive', archive: await openArchive(path) };
  if (size > MAX_JSON_BYTES)
    throw invalidFile(`The file is ${(size / 1e6).toFixed(0)} MB; the limit for JSON is ${MAX_JSON_BYTES / 1e6} MB.`);
  return readDocument(path);
}

async function openArchive(path: string): Promise<OpenArchive> {
  let zip: ZipFile;
  try {
    // It checks that names stay inside, and that what is read is as long as was claimed.
    zip = await promisify<string, yauzl.Options, ZipFile>(yauzl.open)(path, { lazyEntries: true, autoClose: false });
  } catch (error) {
    throw corruptArchive(error);
  }
  try {
    const entries = await entriesOf(zip);
    const read = async (name: string): Promise<Readable> => {
      const entry = entries.get(name);
      if (!entry) throw invalidFile(`${name} is missing in the archive.`, name);
      return new Promise((resolve, reject) => {
        zip.openReadStream(entry, (error, stream) => {
          if (error) reject(corruptArchive(error, name));
          else resolve(stream);
        });
      });
    };
    const head = await readHead(path, await wholeEntry(await read(ENTRIES.head), ENTRIES.head));
    return { head, entries, read, close: () => zip.close() };
  } catch (error) {
    zip.close();
    throw error;
  }
}

/** What is wrong with a zip, as a sentence. */
const corruptArchive = (error: unknown, where?: string): Fault =>
  error instanceof Fault
    ? error
    : invalidFile(
        `The archive is damaged or incomplete${where ? ` in ${where}` : ''}: ${error instanceof Error ? error.message : 'it cannot be read'}.`,
        where,
      );

function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  return new Promise((resolve, reject) => {
    const entries = new Map<string, Entry>();
    let total = 0;
    const fail = (error: unknown) => reject(corruptArchive(error));
    zip.on('error', fail);
    zip.on('entry', (entry: Entry) => {
      const limit = LIMITS.find(([name]) => name.test(entry.fileName))?.[1];
      total += entry.uncompressedSize;
      if (limit === undefined)
        return fail(invalidFile(`Unexpected file in the archive: ${entry.fileName}.`, entry.fileName));
      if (entry.uncompressedSize > limit || total > MAX_ARCHIVE_BYTES)
        return fail(
          invalidFile(
            `${entry.fileName} would unpack to ${(entry.uncompressedSize / 1e6).toFixed(0)} MB; the limit is ${limit / 1e6} MB.`,
            entry.fileName,
          ),
        );
      if (entries.has(entry.fileName))
        return fail(invalidFile(`${entry.fileName} is in the archive twice.`, entry.fileName));
      if (entries.size >= MOST_ENTRIES) return fail(invalidFile(`The archive has more than ${MOST_ENTRIES} entries.`));
      entries.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.on('end', () => resolve(entries));
    zip.readEntry();
  });
}

async function wholeEntry(stream: Readable, where: string): Promise<Buffer> {
  try {
    return await buffer(stream);
  } catch (error) {
    throw corruptArchive(error, where);
  }
}

/** No line of a list is longer than this, in bytes. */
const LONGEST_LINE = 4_000_000;

/**
 * What each line of an entry says, one after the other.
 * @param read reads the JSON of a line
 * @throws Fault `refused-input` naming the line
 */
export async function* readLines<Line>(
  archive: OpenArchive,
  name: string,
  read: (json: unknown) => Line,
): AsyncGenerator<{ line: Line; where: string }> {
  let rest: Buffer[] = [];
  let [held, number] = [0, 0];
  const line = (bytes: Buffer) => {
    number++;
    const where = `${name}, line ${number}`;
    try {
      return { line: read(JSON.parse(bytes.toString('utf8'))), where };
    } catch (error) {
      throw invalidFile(error instanceof Fault ? `${where}: ${error.message}` : `${where} is not JSON.`, where);
    }
  };
  try {
    for await (const piece of await archive.read(name)) {
      let from = 0;
      const bytes = piece as Buffer;
      for (let at = bytes.indexOf(10); at >= 0; at = bytes.indexOf(10, from)) {
        yield line(Buffer.concat([...rest, bytes.subarray(from, at)]));
        [rest, held, from] = [[], 0, at + 1];
      }
      if (from < bytes.length) rest.push(bytes.subarray(from));
      held += bytes.length - from;
      if (held > LONGEST_LINE) throw invalidFile(`${name}, line ${number + 1} is too long.`, name);
    }
  } catch (error) {
    throw corruptArchive(error, name);
  }
  if (held > 0) yield line(Buffer.concat(rest));
}
