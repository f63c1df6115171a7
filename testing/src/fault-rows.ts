import { appendFileSync } from 'node:fs';

/** Where rows are gathered for docs/faults.md; nowhere in an ordinary run. */
const TABLE = process.env['OLD_ECHO_FAULT_TABLE'];

/** Says what was done to a running system, how often, and what came of it: a row of docs/faults.md. */
export function faultRow(fault: string, done: string, outcome: string): void {
  const row = `| ${fault} | ${done} | ${outcome} |`;
  console.log(row);
  if (TABLE) appendFileSync(TABLE, `${row}\n`);
}
