import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';

import { ulid } from 'ulid';

import { makeStems } from './music/make-stems';
import { RATE } from './music/players';
import { makeWorld } from './world';

// Writes the demo into a folder: `seed.json` for the server and, for each desk, the settings it wakes up with.
const { values } = parseArgs({
  options: { out: { type: 'string' }, ports: { type: 'string', default: '47148,47140,47116' } },
});
const out = values.out;
if (!out) throw new Error('Usage: make --out FOLDER [--ports QUAY,BOATHOUSE,SKIFF]');

const here = dirname(fileURLToPath(import.meta.url));
const profile = (id: string): unknown => JSON.parse(readFileSync(join(here, '..', 'profiles', `${id}.json`), 'utf8'));
const [quay = 0, boathouse = 0, skiff = 0] = values.ports.split(',').map(Number);

/** Puts a picture into the folder where the server keeps photos; returns the hash that names it there. */
function photoOf(picture: string, folder: string): string {
  const bytes = readFileSync(join(here, '..', 'pictures', picture));
  const hash = createHash('sha256').update(bytes).digest('hex');
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, hash), bytes);
  return hash;
}

const world = makeWorld({
  profiles: {
    'quay-48': profile('quay-48'),
    boathouse: profile('boathouse'),
    'skiff-16': profile('skiff-16'),
    'netloft-24': profile('netloft-24'),
  },
  ports: { 'quay-48': quay, boathouse, 'skiff-16': skiff },
  now: new Date(),
  id: (madeAt) => ulid(madeAt.getTime()),
  photoOf: (picture) => photoOf(picture, join(out, 'sound', 'photos')),
});
mkdirSync(join(out, 'desks'), { recursive: true });
const made = makeStems(join(out, 'sound', 'stems'));
const stems = made.map((stem) => ({ ...stem, rate: RATE, channels: 1, depth: '24' }));
const productions = world.seed.productions.map((production) =>
  production.name === 'Lanterns on the Quay' ? { ...production, stems } : production,
);
writeFileSync(join(out, 'seed.json'), JSON.stringify({ ...world.seed, productions }));
for (const [desk, state] of Object.entries(world.desks)) {
  const settings = Object.entries(state).flatMap(([strip, keys]) =>
    Object.entries(keys).map(([key, value]) => [`${strip}/${key}`, value]),
  );
  writeFileSync(join(out, 'desks', `${desk}.json`), JSON.stringify(Object.fromEntries(settings)));
}
