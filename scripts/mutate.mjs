import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';

import { compile } from './compile.mjs';
import { needDebian } from './debian.mjs';
import { installPackages } from './install.mjs';
import { isChosen } from './mutant-sample.mjs';
import { PlainError, runScript } from './plain-error.mjs';
import { DATA, ROOT } from './project.mjs';

/** The core's rooms and files: `recall`, `sound/loudness`. */
function filesOf(place) {
  for (const [path, pattern] of [
    [place, `core/src/${place}/**/*.ts`],
    [`${place}.ts`, `core/src/${place}.ts`],
  ])
    if (existsSync(join(ROOT, 'core', 'src', path))) return pattern;
  throw new PlainError(
    `There is no core/src/${place}. A place is a room of the core, or a file of one: recall, sound/loudness.`,
  );
}

/** How many of the mutants that were looked at were noticed: by a test that failed, or by one that did not end. */
function countNoticed(mutants) {
  const counted = mutants.filter((mutant) =>
    // What no test runs through is not asked for a choice.
    mutant.status === 'NoCoverage'
      ? isChosen(mutant)
      : !['Ignored', 'CompileError', 'RuntimeError'].includes(mutant.status),
  );
  return { noticed: counted.filter(({ status }) => ['Killed', 'Timeout'].includes(status)).length, of: counted.length };
}

await runScript(() => {
  const { values, positionals: places } = parseArgs({
    allowPositionals: true,
    options: { 'one-in': { type: 'string', default: '1' } },
  });
  if (places.length === 0)
    throw new PlainError('Which place? npm run mutate -- recall combine sound/loudness --one-in 5');
  process.env.OLD_ECHO_MUTANTS_ONE_IN = values['one-in'];
  const patterns = places.map(filesOf);
  needDebian(['ffmpeg', 'flac', 'sox', 'liblo']);
  installPackages();
  compile();
  const { status } = spawnSync(
    process.execPath,
    ['node_modules/@stryker-mutator/core/bin/stryker.js', 'run', '--mutate', patterns.join(',')],
    { cwd: ROOT, stdio: 'inherit' },
  );
  if (status !== 0) throw new PlainError('It did not come to its end; what is above says why.');
  const { files } = JSON.parse(readFileSync(join(DATA, 'mutation.json'), 'utf8'));
  const rooms = new Map();
  for (const [file, { mutants }] of Object.entries(files)) {
    const room = file.split('/')[2];
    rooms.set(room, [...(rooms.get(room) ?? []), ...mutants]);
  }
  console.log('\n| room | noticed | of | share |\n| --- | --- | --- | --- |');
  for (const [room, mutants] of rooms) {
    const { noticed, of } = countNoticed(mutants);
    console.log(`| ${room} | ${noticed} | ${of} | ${((100 * noticed) / of).toFixed(0)} % |`);
  }
});
