import { join, resolve } from 'node:path';

import { PlainError } from './plain-error.mjs';
import { DATA } from './project.mjs';
import { readIfThere } from './stage.mjs';

/** Where all data is. */
export const HOME = resolve(process.env.OLD_ECHO_HOME ?? join(DATA, 'home'));

/** Says who is running on that data, and at which address. */
export const LOCK = join(HOME, 'running');

/** @throws PlainError while somebody else is running on the data */
export function assertNotRunning() {
  const [pid, address] = readIfThere(LOCK).split(' ');
  if (pid && isAlive(Number(pid)))
    throw new PlainError(
      `Old Echo is running already${address ? ` at ${address}` : ''}. End it with Ctrl-C where it was started.`,
    );
}

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return readIfThere(`/proc/${pid}/cmdline`).includes('start.mjs');
  } catch {
    return false;
  }
}
