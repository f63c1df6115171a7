import { strToU8, unzipSync, zipSync } from 'fflate';

import type { ScenePage } from '@old-echo/core/contracts/scene';
import { fingerprint } from '@old-echo/core/desk/fingerprint';
import { stripFamily } from '@old-echo/core/desk/profile';
import { isNumberSpec } from '@old-echo/core/desk/setting';
import type { State, StripState } from '@old-echo/core/desk/state';
import type { ArchiveHead, SceneLine, StripLine } from '@old-echo/core/formats/file-shapes';
import { quay } from '@old-echo/testing/profiles';

import { connect, type Database } from '../../src/database/connect';
import { newId } from '../../src/database/new-id';
import { Rig } from '../server-rig';
import { bring, download, upload } from './file-steps';

jest.setTimeout(120_000);

/* An archive of more scenes than are written at once, in which little changes from one to the next, and once much. */

const SCENES = 130;
const ALL_AT_ONCE = 60;

let rig: Rig;
let db: Database;
let entries: Record<string, Uint8Array>;
let head: ArchiveHead;
let first: SceneLine;
let states: Map<string, StripState>;
beforeAll(async () => {
  rig = await Rig.open();
  db = await connect({
    database: rig.database,
    databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
    databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
  });
  entries = unzipSync(await download(rig, `/exports/productions/${rig.production.id}`));
  head = JSON.parse(textOf('archive.json')) as ArchiveHead;
  first = linesOf<SceneLine>('scenes.jsonl')[0]!;
  states = new Map(linesOf<StripLine>('strips.jsonl').map((line) => [line.fingerprint, line.settings]));
});
afterAll(async () => {
  await db.destroy();
  await rig.close();
});

const textOf = (entry: string) => Buffer.from(entries[entry]!).toString();
const linesOf = <T>(entry: string) =>
  textOf(entry)
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as T);
const jsonLines = (list: readonly unknown[]) => strToU8(list.map((line) => JSON.stringify(line)).join('\n'));

/** A song of its own with these scenes, each told by the strips that are not as in the one before. */
function archiveOf(scenes: readonly Readonly<Record<string, string>>[]): Uint8Array {
  const [version] = head.versions;
  const ids = scenes.map(() => newId());
  const lines = scenes.map((strips, i): SceneLine => {
    const moved = { settings: 1, strips: Object.keys(strips).slice(0, 1) };
    const own = { name: `Scene ${i + 1}`, number: i + 1, parents: i === 0 ? [] : [ids[i - 1]!], tags: [`tag ${i}`] };
    return { ...first, ...own, id: ids[i]!, versionId: version!.id, kind: 'scene', partial: false, moved, strips };
  });
  const strips = [...states].map(([print, settings]) => ({ fingerprint: print, settings }));
  const whole = {
    ...head,
    production: { ...head.production, id: newId(), name: `Song ${newId()}` },
    versions: [{ ...version, scenes: ids, fromSceneId: null, followsId: null }],
    mixNotes: [],
    atHand: [],
  };
  const made = { 'archive.json': strToU8(JSON.stringify(whole)), 'scenes.jsonl': jsonLines(lines) };
  return zipSync({ ...entries, ...made, 'strips.jsonl': jsonLines(strips) });
}

/** Takes a strip state into the archive; its fingerprint. */
function taken(settings: StripState): string {
  const print = fingerprint(settings);
  states.set(print, settings);
  return print;
}

/** Every number of a strip at its least: more than is told from another state. */
const atLeast = (strip: string, settings: StripState): StripState =>
  Object.fromEntries(
    Object.entries(settings).map(([key, value]) => {
      const spec = stripFamily(quay, strip)?.settings[key];
      return [key, spec && isNumberSpec(spec) ? spec.min : value];
    }),
  );

const wholeStates = async () => Number((await db('strip_states').whereNull('base_id').count({ n: '*' }))[0]!['n']);
const productions = async () => (await rig.get<{ id: string }[]>('/productions')).body.length;

test('each scene holds what it held, with what belongs to it; only what is far from all before is stored whole', async () => {
  const now = { ...first.strips };
  const held: Record<string, string>[] = [];
  const scenes = Array.from({ length: SCENES }, (_, k) => {
    const strips = Object.keys(now).filter((strip) => strip.startsWith('in.'));
    const strip = `in.${1 + (k % 3)}`;
    const moved = k === ALL_AT_ONCE ? strips : k === 0 ? [] : [strip];
    const changed = Object.fromEntries(
      moved.map((one) => {
        const before = states.get(now[one]!)!;
        return [one, taken(k === ALL_AT_ONCE ? atLeast(one, before) : { ...before, 'fader/level': -k / 10 })];
      }),
    );
    Object.assign(now, changed);
    held.push({ ...now });
    return k === 0 ? first.strips : changed;
  });
  const before = await wholeStates();
  const file = (await upload(rig, archiveOf(scenes))).body;
  const { status, resultPath } = await bring(rig, file);
  expect(status).toBe('done');
  const production = resultPath!.split('/').at(-1)!;
  const rows = await db('scenes')
    .join('scene_strips', 'scene_strips.scene_seq', 'scenes.seq')
    .join('strip_states', 'strip_states.id', 'scene_strips.strip_state_id')
    .where('scenes.production_id', production)
    .select<{ number: number; strip: string; fingerprint: Buffer }[]>('number', 'strip', 'fingerprint');
  const found = held.map((): Record<string, string> => ({}));
  for (const { number, strip, fingerprint: print } of rows) found[number - 1]![strip] = print.toString('hex');
  expect(found).toEqual(held);
  const far = new Set(Object.values(scenes[ALL_AT_ONCE]!)).size;
  expect((await wholeStates()) - before).toBe(far);
  const { scenes: list } = (await rig.get<ScenePage>(`/productions/${production}/scenes`)).body;
  const [last, beforeLast] = list;
  expect([last!.name, last!.number, last!.tags, last!.parents]).toEqual([
    `Scene ${SCENES}`,
    SCENES,
    [`tag ${SCENES - 1}`],
    [beforeLast!.id],
  ]);
  expect((await rig.get('/storage-check')).body).toMatchObject({ orphans: 0, spoiled: 0 });
  const state = (await rig.get<State>(`/scenes/${last!.id}/state`)).body;
  expect(state['in.1']).toEqual(states.get(now['in.1']!));
});

test('a strip that names the state of a strip of another kind is refused, and nothing is left of the archive', async () => {
  const before = await productions();
  const strips = { ...first.strips, 'main.1': first.strips['in.1']! };
  const file = (await upload(rig, archiveOf([strips]))).body;
  expect(await bring(rig, file)).toMatchObject({
    status: 'failed',
    why: expect.stringMatching(/^main\.1\/.+ is not on Quay 48\./u) as unknown,
  });
  expect(await productions()).toBe(before);
});
