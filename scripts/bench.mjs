import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

import { installPackages } from './install.mjs';
import { runScript } from './plain-error.mjs';
import { ROOT } from './project.mjs';

await runScript(async () => {
  installPackages();
  const { status } = spawnSync(process.execPath, ['--import', 'tsx', join(ROOT, 'bench', 'src', 'main.ts')], {
    cwd: ROOT,
    stdio: 'inherit',
  });
  process.exitCode = status ?? 1;
});
