import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import { PlainError } from './plain-error.mjs';
import { DATA, ROOT } from './project.mjs';
import { fingerprintOf, isStamped, stamp } from './stamp.mjs';

const CODE = join(ROOT, 'core', 'src', 'sound', 'kernel-code.ts');

/** What the threads that work on sound run: one file, so that they are ready at once. */
const WORKER = join(ROOT, 'server', 'src', 'sound', 'worker-code.mjs');

/** Compiles what works on sound, where it changed. */
export function compileSound() {
  compileKernels();
  bundleWorker();
}

/** Compiles the inner loops of sound to WebAssembly, where they changed, into a module that every part can load. */
function compileKernels() {
  const print = fingerprintOf(['core/kernels', 'package-lock.json']);
  if (existsSync(CODE) && isStamped('kernels', print)) return;
  mkdirSync(DATA, { recursive: true });
  const file = join(DATA, `kernels-${process.pid}.wasm`);
  const compiler = join(ROOT, 'node_modules', 'assemblyscript', 'bin', 'asc.js');
  const options = ['--runtime', 'stub', '--enable', 'simd', '-O3', '--noAssert', '--outFile', file];
  const done = spawnSync(process.execPath, [compiler, join(ROOT, 'core', 'kernels', 'index.ts'), ...options], {
    encoding: 'utf8',
  });
  if (done.status !== 0) throw new PlainError(`core/kernels could not be compiled:\n${done.stderr}`);
  const code = readFileSync(file, 'base64');
  rmSync(file);
  // Whole or not at all, for whoever reads it meanwhile.
  writeFileSync(`${file}.ts`, `/** Made from core/kernels. */\nexport const CODE =\n  '${code}';\n`);
  renameSync(`${file}.ts`, CODE);
  stamp('kernels', print);
}

function bundleWorker() {
  const print = fingerprintOf(['core', 'server/src/sound', 'package-lock.json']);
  if (existsSync(WORKER) && isStamped('worker', print)) return;
  const compiler = join(ROOT, 'node_modules', 'esbuild', 'bin', 'esbuild');
  const from = join(ROOT, 'server', 'src', 'sound', 'worker.ts');
  const options = [
    '--bundle',
    '--platform=node',
    '--format=esm',
    '--packages=external',
    '--alias:@old-echo/core=./core/src',
  ];
  const done = spawnSync(compiler, [from, ...options, `--outfile=${WORKER}.${process.pid}`], {
    cwd: ROOT,
    encoding: 'utf8',
  });
  if (done.status !== 0) throw new PlainError(`server/src/sound/worker.ts could not be compiled:\n${done.stderr}`);
  renameSync(`${WORKER}.${process.pid}`, WORKER);
  stamp('worker', fingerprintOf(['core', 'server/src/sound', 'package-lock.json']));
}
