import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';

import { toProblem } from '@old-echo/core/contracts/problem';
import { Fault, type FaultCode } from '@old-echo/core/fault/fault';

const STATUS: Readonly<Record<FaultCode, number>> = {
  'not-found': 404,
  'refused-input': 422,
  conflict: 409,
  protected: 409,
  'desk-moved': 409,
  'desk-busy': 423,
  'show-lock': 423,
  unanswered: 409,
  forbidden: 403,
  'link-lost': 503,
  'disk-full': 507,
  unavailable: 500,
};

/** The one place where what went wrong becomes an answer: problem details after RFC 9457. */
export const problemDetails =
  (log: Logger): ErrorRequestHandler =>
  (error: unknown, _req, res, next) => {
    if (res.headersSent) return next(error);
    const fault = error instanceof Fault ? error : faultFromError(error);
    if (fault.code === 'unavailable') log.error(error, 'request failed');
    const status = STATUS[fault.code];
    res
      .status(status)
      .type('application/problem+json')
      .send(JSON.stringify(toProblem(fault, status)));
  };

/** What MariaDB says when there is no room left: a table, the disk, a file, or the place for temporary files. */
const DISK_FULL_CODES: ReadonlySet<unknown> = new Set([
  'ER_RECORD_FILE_FULL',
  'ER_DISK_FULL',
  'ER_DISK_FULL_NOWAIT',
  'ER_ERROR_ON_WRITE',
  'ER_TEMP_FILE_WRITE_FAILURE',
]);
const DISCONNECTED_CODES: ReadonlySet<unknown> = new Set(['ECONNREFUSED', 'ECONNRESET', 'PROTOCOL_CONNECTION_LOST']);

function faultFromError(error: unknown): Fault {
  const code = error instanceof Error && 'code' in error ? error.code : undefined;
  if (DISK_FULL_CODES.has(code))
    return new Fault(
      'disk-full',
      'The database’s disk is full.',
      'Nothing was written; what was saved is safe. Free some space, or empty the bin, then try again.',
    );
  if (DISCONNECTED_CODES.has(code))
    return new Fault('unavailable', 'The database does not answer.', 'Check that it is running, then try again.');
  const status = error instanceof Error && 'status' in error ? error.status : undefined;
  if (status === 413)
    return new Fault('refused-input', 'That is larger than Old Echo accepts at once.', 'Send less at a time.');
  if (status === 404) return new Fault('not-found', 'There is no such page.', 'Go back to the desk.');
  if (status === 400)
    return new Fault(
      'refused-input',
      'What was sent is not readable JSON.',
      'Nothing was changed. Correct it and try again.',
    );
  return new Fault('unavailable', 'That did not work.', 'Try again; the server’s log has details.');
}
