import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

import type { Response } from 'express';
import { type ReadStreamOptions, ZipFile } from 'yazl';

/**
 * A zip that is made while it is sent. Whatever goes wrong with a part of it (a file that is gone, a database that is) breaks the
 * download off, so that nobody takes it for whole, and nothing else.
 */
export function openZip(): ZipFile {
  const zip = new ZipFile();
  const output = zip.outputStream;
  zip.on('error', (error: Error) => {
    if (output instanceof Readable) output.destroy(error);
  });
  return zip;
}

/** Adds a part that is made when it is its turn. */
export function addPart(
  zip: ZipFile,
  name: string,
  options: Partial<ReadStreamOptions>,
  make: () => Readable | Promise<Readable>,
): void {
  const fail = (error: unknown) => zip.emit('error', error);
  zip.addReadStreamLazy(name, options, (give) => {
    Promise.resolve()
      .then(make)
      .then((stream) => give(null, stream.once('error', fail)))
      .catch(fail);
  });
}

/** Sends a zip to its end. @throws what broke it off */
export const sendZip = (res: Response, zip: ZipFile): Promise<void> => pipeline(zip.outputStream, res);
