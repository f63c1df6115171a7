import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The project's own folder. */
export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), '..');

/** Everything that is made while running: databases, desks, stamps. Ignored by git. */
export const DATA = join(ROOT, '.data');

export const WEB_BUILD = join(DATA, 'web');
