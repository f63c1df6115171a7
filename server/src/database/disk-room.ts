import { statfs } from 'node:fs/promises';

import { Fault } from '@old-echo/core/fault/fault';

/** With less than this left nothing is begun that writes much, in bytes: what is at work needs it to end. */
export const MIN_FREE_BYTES = 200_000_000;

/** What MariaDB says when there is no room left (a table, the disk, a file, the place for temporary files), and what files say. */
const DISK_FULL_CODES: ReadonlySet<unknown> = new Set([
  'ER_RECORD_FILE_FULL',
  'ER_DISK_FULL',
  'ER_DISK_FULL_NOWAIT',
  'ER_ERROR_ON_WRITE',
  'ER_TEMP_FILE_WRITE_FAILURE',
  'ENOSPC',
  'EDQUOT',
]);

/** Whether something could not be written because there was no room left for it. */
export const isDiskFull = (error: unknown): boolean =>
  error instanceof Error && 'code' in error && DISK_FULL_CODES.has(error.code);

export const diskFullFault = (): Fault =>
  new Fault(
    'disk-full',
    'The disk is full.',
    'Nothing was written; what was saved is safe. Free some space, or empty the bin, then try again.',
  );

/**
 * Refuses what would fill the disk.
 * @param bytes what is about to be written, where that is known
 * @throws Fault `disk-full`
 */
export async function assertRoom(folder: string, bytes = 0): Promise<void> {
  const { bavail, bsize } = await statfs(folder);
  const free = bavail * bsize;
  if (free - bytes >= MIN_FREE_BYTES) return;
  throw new Fault(
    'disk-full',
    `The disk has ${(free / 1e6).toFixed(0)} MB left, which is too little for this.`,
    'Nothing was begun; what was saved is safe. Free some space, or empty the bin, then try again.',
  );
}
