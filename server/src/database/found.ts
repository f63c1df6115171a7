import { Fault } from '@old-echo/core/fault/fault';

/** A row that was there a moment ago. @throws Fault `not-found` where someone deleted it meanwhile */
export function found<Row>(row: Row): NonNullable<Row> {
  if (row === undefined || row === null)
    throw new Fault('not-found', 'This was deleted meanwhile.', 'Nothing was changed. Look at the list again.');
  return row;
}
