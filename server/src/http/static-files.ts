import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';

import express, { Router } from 'express';

/** Serves the web build: hashed files for a year, the page itself fresh, and any address of the app as the page. */
export function webBuildDir(folder: string): Router {
  const root = resolve(folder);
  if (!existsSync(join(root, 'index.html')))
    throw new Error(`There is no web build in ${root}; run npm start to make one.`);
  return Router()
    .use(
      express.static(root, {
        index: false,
        setHeaders: (res, path) => {
          const hashed = path.startsWith(join(root, '_expo')) || path.startsWith(join(root, 'assets'));
          res.set('Cache-Control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache');
        },
      }),
    )
    .get(/^(?!\/api\/).*/, (_, res) => {
      res.set('Cache-Control', 'no-cache').sendFile('index.html', { root });
    });
}
