import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { isBuiltin } from 'node:module';
import { dirname, join } from 'node:path';

import { PlainError } from './plain-error.mjs';
import { DATA, ROOT } from './project.mjs';
import { fingerprintOf, isStamped, stamp } from './stamp.mjs';

const CODE = join(ROOT, 'core', 'src', 'sound', 'kernel-code.ts');

/** What is started as a process or a thread: TypeScript, made into one file each, so that it starts at once and runs as fast as it can. */
const PROGRAMS = [
  'server/src/main',
  'server/src/check',
  'server/src/sound/worker',
  'server/src/files/document-worker',
  'stand-in/src/main',
  'demo/src/make',
  'bench/src/main',
  'scripts/src/measure',
  'core/src/contracts/problem',
  'core/src/contracts/routes/all-routes',
];
/** Our own parts, which are TypeScript; all other packages are loaded as they are. */
const PARTS = ['core', 'desk-link', 'stand-in', 'server', 'demo'];

/** The file that is run for a program, beside its sources: `server/dist/main.mjs` for `server/src/main`. */
export const programFile = (program) => join(ROOT, `${program.replace('/src/', '/dist/')}.mjs`);

/** Compiles the kernels of sound, where they changed, and every program. */
export function compile() {
  compileKernels();
  compilePrograms();
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

function compilePrograms() {
  const folder = join(DATA, `programs-${process.pid}`);
  const options = ['--bundle', '--platform=node', '--format=esm', '--packages=external', '--log-level=warning'];
  const parts = PARTS.map((part) => `--alias:@old-echo/${part}=./${part}/src`);
  const made = join(folder, 'made.json');
  const out = [`--outdir=${folder}`, '--outbase=.', '--out-extension:.js=.mjs', `--metafile=${made}`];
  const compiler = join(ROOT, 'node_modules', 'esbuild', 'bin', 'esbuild');
  const files = PROGRAMS.map((program) => `${program}.ts`);
  const done = spawnSync(compiler, [...files, ...options, ...parts, ...out], { cwd: ROOT, encoding: 'utf8' });
  if (done.status !== 0) throw new PlainError(`The programs could not be compiled:\n${done.stderr}`);
  assertSamePackages(JSON.parse(readFileSync(made, 'utf8')));
  // Whole or not at all, for whoever starts one meanwhile.
  for (const program of PROGRAMS) {
    mkdirSync(dirname(programFile(program)), { recursive: true });
    renameSync(join(folder, `${program}.mjs`), programFile(program));
  }
  rmSync(folder, { recursive: true });
}

/**
 * A program looks its packages up from where it stands, and the sources in it from where they do: both must find the same.
 * @throws PlainError naming the package that the program's part has to ask for as well
 */
function assertSamePackages({ inputs, outputs }) {
  for (const program of PROGRAMS) {
    const { inputs: sources } = Object.entries(outputs).find(([file]) => file.endsWith(`/${program}.mjs`))[1];
    for (const source of Object.keys(sources))
      for (const { path, external } of inputs[source].imports) {
        if (!external || isBuiltin(path)) continue;
        const name = path.split('/', path.startsWith('@') ? 2 : 1).join('/');
        if (versionFrom(dirname(programFile(program)), name) !== versionFrom(join(ROOT, dirname(source)), name))
          throw new PlainError(
            `${program} finds another ${name} than ${source}, which is in it: give its package.json the same ${name}.`,
          );
      }
  }
}

/** The version of a package that is found from a folder on, or undefined. */
function versionFrom(from, name) {
  const about = join(from, 'node_modules', name, 'package.json');
  if (existsSync(about)) return JSON.parse(readFileSync(about, 'utf8')).version;
  return from === dirname(from) ? undefined : versionFrom(dirname(from), name);
}
