import { spawnSync } from 'node:child_process';
import { resolve } from 'node:path';

import { compile, programFile } from './compile.mjs';
import { installPackages } from './install.mjs';
import { runScript } from './plain-error.mjs';
import { ROOT } from './project.mjs';

await runScript(() => {
  // Only the measurement goes to standard output.
  console.log = console.error;
  installPackages();
  compile();
  const file = process.argv[2];
  const { status } = spawnSync(
    process.execPath,
    [programFile('scripts/src/measure'), ...(file ? [resolve(process.env.INIT_CWD ?? '.', file)] : [])],
    { cwd: ROOT, stdio: 'inherit' },
  );
  process.exitCode = status ?? 1;
});
