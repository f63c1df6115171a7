import { createRequire } from 'node:module';
import { join } from 'node:path';

/** The compiled file of a thread, by its source: it is started as a file of its own, which set-up compiles. */
export const threadFile = (source: string): string =>
  createRequire(join(process.cwd(), 'package.json'))
    .resolve(`@old-echo/server/${source}`)
    .replace(join('server', 'src'), join('server', 'dist'))
    .replace(/\.ts$/, '.mjs');
