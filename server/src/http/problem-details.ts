import type { ErrorRequestHandler, Response } from 'express';
import type { Logger } from 'pino';

import { toProblem } from '@old-echo/core/contracts/problem';
import { Fault, type FaultCode } from '@old-echo/core/fault/fault';

import { diskFullFault, isDiskFull } from '../database/disk-room';

const STATUS: Readonly<Record<FaultCode, number>> = {
  'not-found': 404,
  'refused-input': 422,
  conflict: 409,
  protected: 409,
  'desk-moved': 409,
  'no-difference': 409,
  'desk-busy': 423,
  'show-lock': 423,
  unanswered: 409,
  forbidden: 403,
  'not-let-in': 403,
  'wrong-secret': 403,
  'link-lost': 503,
  'try-later': 503,
  damaged: 500,
  'disk-full': 507,
  unavailable: 500,
};

/** The one place where what went wrong becomes an answer: problem details after RFC 9457. */
export const problemDetails =
  (log: Logger): ErrorRequestHandler =>
  (error: unknown, _req, res, next) => {
    // Told already that the database is silent.
    if (res.writableEnded) return;
    if (res.headersSent) return next(error);
    const fault = error instanceof Fault ? error : faultFromError(error);
    if (fault.code === 'unavailable') log.error(error, 'request failed');
    sendProblem(res, fault);
  };

/** Answers with a fault. Whoever is to try later is told when, in seconds (RFC 9110, 10.2.3). */
export function sendProblem(res: Response, fault: Fault): void {
  const status = STATUS[fault.code];
  if (fault.code === 'try-later') res.setHeader('retry-after', RETRY_AFTER_S);
  res
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify(toProblem(fault, status)));
}

const RETRY_AFTER_S = 5;

/** What MariaDB says of a row that cannot be, where nobody looked before it. */
const REFUSED_ROWS: Readonly<Record<string, () => Fault>> = {
  ER_NO_REFERENCED_ROW_2: () =>
    new Fault('not-found', 'What this belongs to no longer exists.', 'Nothing was changed. Go back and look again.'),
  ER_DUP_ENTRY: () =>
    new Fault('conflict', 'There is one of that name already.', 'Nothing was changed. Choose another name.'),
  ER_DATA_TOO_LONG: () => new Fault('refused-input', 'A text is too long.', 'Nothing was changed. Shorten it.'),
  ER_WARN_DATA_OUT_OF_RANGE: () =>
    new Fault('refused-input', 'A number is too large.', 'Nothing was changed. Correct it.'),
  ER_TRUNCATED_WRONG_VALUE_FOR_FIELD: () =>
    new Fault('refused-input', 'A text holds characters that are none.', 'Nothing was changed. Correct it.'),
};
const DISCONNECTED_CODES: ReadonlySet<unknown> = new Set(['ECONNREFUSED', 'ECONNRESET', 'PROTOCOL_CONNECTION_LOST']);

/** Whether the database, or a connection to it, was waited for in vain. */
export const isTimeout = (error: unknown): boolean =>
  error instanceof Error && (error.name === 'KnexTimeoutError' || ('code' in error && error.code === 'ETIMEDOUT'));

/** @param time how long it has been silent */
export const silentFault = (time: string): Fault =>
  new Fault(
    'try-later',
    `The database has not answered ${time}.`,
    'What was asked for may still be done when it answers. Look before you try again.',
  );

function faultFromError(error: unknown): Fault {
  const code = error instanceof Error && 'code' in error ? error.code : undefined;
  if (isDiskFull(error)) return diskFullFault();
  const refused = REFUSED_ROWS[String(code)];
  if (refused) return refused();
  if (isTimeout(error)) return silentFault('in time');
  if (DISCONNECTED_CODES.has(code))
    return new Fault('unavailable', 'The database does not answer.', 'Check that it is running, then try again.');
  if (!(error instanceof Error && 'status' in error)) return somethingElse();
  const { status } = error;
  if (status === 413)
    return new Fault('refused-input', 'That is larger than Old Echo accepts at once.', 'Send less at a time.');
  if (status === 404) return new Fault('not-found', 'There is no such page.', 'Go back to the desk.');
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new Fault(
      'refused-input',
      'type' in error && error.type === 'entity.parse.failed'
        ? 'What was sent is not readable JSON.'
        : 'What was sent cannot be read.',
      'Nothing was changed. Send JSON in UTF-8, to an address without broken characters.',
    );
  return somethingElse();
}

const somethingElse = (): Fault =>
  new Fault('unavailable', 'That did not work.', 'Try again; the server’s log has details.');
