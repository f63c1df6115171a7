import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import Ajv2020 from 'ajv/dist/2020';
import { parse as parseCsv } from 'csv-parse/sync';
import fc from 'fast-check';
import { applyPatch } from 'fast-json-patch';
import { strToU8, unzipSync, type Zippable, zipSync } from 'fflate';

import type { ImportView } from '@old-echo/core/contracts/file-transfer';
import type { MixNoteView } from '@old-echo/core/contracts/mix-note';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { StorageCheck } from '@old-echo/core/contracts/routes/scene-routes';
import type { ScenePage } from '@old-echo/core/contracts/scene';
import { stripFingerprints } from '@old-echo/core/desk/fingerprint';
import { ALL_WITH_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { between } from '@old-echo/testing/between';

import { differing, flat, Rig, until } from '../server-rig';
import { api, bring, download, upload } from './file-steps';

jest.setTimeout(120_000);

/** Here is everything; the other begins without anything but its kinds of desk. */
let rig: Rig;
let empty: Rig;
const folder = mkdtempSync(join(tmpdir(), 'old-echo-files-'));
beforeAll(async () => {
  rig = await Rig.open();
  empty = await Rig.open({}, { bare: true });
});
afterAll(async () => {
  await rig.close();
  await empty.close();
  rmSync(folder, { recursive: true });
});

const productions = async (of: Rig) => (await of.get<ProductionView[]>('/productions')).body;
const scenesOf = async (of: Rig, production: string) =>
  (await of.get<ScenePage>(`/productions/${production}/scenes?limit=200`)).body.scenes;
const song = async () => (await productions(rig)).find(({ name }) => name === 'Lanterns on the Quay')!;
const counts = async (of: Rig) => {
  const all = await productions(of);
  const { body } = await of.get<{ scenes: number; stripStates: number }>('/storage-check');
  return { productions: all.length, scenes: body.scenes, states: body.stripStates };
};

describe('an archive', () => {
  test('unzip finds no fault in it, and its parts are as their schemas say', async () => {
    const file = join(folder, 'song.zip');
    const bytes = await download(rig, `/exports/productions/${(await song()).id}?autosaves=true`);
    writeFileSync(file, bytes);
    const { status, stdout } = spawnSync('unzip', ['-t', file], { encoding: 'utf8' });
    expect([status, stdout.includes('No errors detected')]).toEqual([0, true]);
    const entries = unzipSync(bytes);
    const text = (name: string) => Buffer.from(entries[name]!).toString('utf8');
    const lines = (name: string) =>
      text(name)
        .trim()
        .split('\n')
        .map((line) => JSON.parse(line) as unknown);
    const schema = (name: string) =>
      new Ajv2020({ strict: false, validateFormats: false }).compile(
        JSON.parse(readFileSync(join(__dirname, '..', '..', '..', 'docs', 'formats', name), 'utf8')) as object,
      );
    const holds = (validate: ReturnType<typeof schema>, json: unknown) => [validate(json), validate.errors];
    expect(holds(schema('archive.schema.json'), JSON.parse(text('archive.json')))).toEqual([true, null]);
    const [scene, strip] = [schema('scene-line.schema.json'), schema('strip-line.schema.json')];
    for (const line of lines('scenes.jsonl')) expect(holds(scene, line)).toEqual([true, null]);
    for (const line of lines('strips.jsonl')) expect(holds(strip, line)).toEqual([true, null]);
    const library = JSON.parse((await download(rig, '/exports/presets')).toString()) as unknown;
    expect(holds(schema('library.schema.json'), library)).toEqual([true, null]);
    const [first] = await scenesOf(rig, (await song()).id);
    const one = JSON.parse((await download(rig, `/exports/scenes/${first!.id}`)).toString()) as unknown;
    expect(holds(schema('scene.schema.json'), one)).toEqual([true, null]);
    // They do refuse what is not of their kind.
    for (const name of ['archive', 'scene-line', 'strip-line', 'library', 'scene'])
      expect(schema(`${name}.schema.json`)({ format: 'other', version: 1 })).toBe(false);
  });

  test('opens on an empty Old Echo as if nothing had happened: the same scenes, the same fingerprints, the same words', async () => {
    const made = await song();
    const file = (await upload(empty, await download(rig, `/exports/productions/${made.id}?autosaves=true`))).body;
    expect(file.what).toBe('The song Lanterns on the Quay, of the desk Boathouse: 10 scenes.');
    expect(await bring(empty, file)).toMatchObject({ status: 'done', resultPath: `/mixes/${made.id}` });
    const there = (await productions(empty)).find(({ id }) => id === made.id)!;
    const meant = ({ versions }: ProductionView) =>
      versions.map(({ id, name, note, status, fromPlace, followsId, scenes }) => [
        id,
        name,
        note,
        status,
        fromPlace,
        followsId,
        scenes,
      ]);
    expect(meant(there)).toEqual(meant(made));
    const [here, other] = [await scenesOf(rig, made.id), await scenesOf(empty, made.id)];
    const words = (list: typeof here) => list.map(({ revision: _, ...scene }) => scene);
    expect(words(other)).toEqual(words(here));
    for (const { id } of here)
      expect(stripFingerprints(await empty.stateOf(id))).toEqual(stripFingerprints(await rig.stateOf(id)));
    const mixNotes = async (of: Rig) =>
      (await of.get<MixNoteView[]>(`/mix-notes?version=${made.versions[0]!.id}`)).body.map(
        ({ text, songSeconds, requestedBy, status, sceneId }) => [text, songSeconds, requestedBy, status, sceneId],
      );
    expect(await mixNotes(empty)).toEqual(await mixNotes(rig));
    // And the show, of the desk that is there.
    const night = rig.production;
    await bring(
      empty,
      (await upload(empty, await download(rig, `/exports/productions/${night.id}?autosaves=true`))).body,
    );
    for (const { id } of await scenesOf(rig, night.id))
      expect(stripFingerprints(await empty.stateOf(id))).toEqual(stripFingerprints(await rig.stateOf(id)));
    expect((await empty.get<{ orphans: number; spoiled: number }>('/storage-check')).body).toMatchObject({
      orphans: 0,
      spoiled: 0,
    });
  });

  test('twice makes a copy with a name of its own; replaced, the one that was here is in the bin', async () => {
    const made = await song();
    const bytes = await download(rig, `/exports/productions/${made.id}`);
    const file = (await upload(rig, bytes)).body;
    expect(file.fits).toContain('becomes a copy');
    await bring(rig, file);
    const names = (await productions(rig)).map(({ name }) => name);
    expect(names.filter((name) => name.startsWith('Lanterns'))).toEqual([
      'Lanterns on the Quay',
      'Lanterns on the Quay (imported)',
    ]);
    const copy = (await productions(rig)).find(({ name }) => name.endsWith('(imported)'))!;
    const [a, b] = [await scenesOf(rig, made.id), await scenesOf(rig, copy.id)];
    const own = a.filter(({ kind }) => kind === 'scene');
    expect(b.map(({ number, name }) => [number, name])).toEqual(own.map(({ number, name }) => [number, name]));
    expect(b.some(({ id }) => own.some((scene) => scene.id === id))).toBe(false);
  });

  test('only its sends: it holds nothing else, so a restore of all of it brings nothing but sends', async () => {
    const night = rig.production;
    const file = (await upload(rig, await download(rig, `/exports/productions/${night.id}`))).body;
    const done = await bring(rig, file, (id) => id === 'sections/sends' || id.startsWith('versions/'));
    expect(done.status).toBe('done');
    const copy = done.resultPath!.split('/').at(-1)!;
    const newest = (await scenesOf(rig, copy)).find(({ name }) => name === 'Harbour bells')!;
    const original = (await scenesOf(rig, night.id)).find(({ name }) => name === 'Harbour bells')!;
    const [state, was] = [await rig.stateOf(newest.id), await rig.stateOf(original.id)];
    const sends = Object.fromEntries(
      Object.entries(was).flatMap(([strip, keys]) => {
        const own = Object.entries(keys).filter(([key]) => key.startsWith('sends/'));
        return own.length > 0 ? [[strip, Object.fromEntries(own)]] : [];
      }),
    );
    expect(state).toEqual(sends);
    expect([newest.partial, newest.scope]).toEqual([true, original.scope]);
    expect((await rig.get<StorageCheck>('/storage-check')).body).toMatchObject({ incomplete: [], spoiled: 0 });
    // What anyone would press: everything, on a desk on which everything else was moved since.
    rig.front.hands({
      'in.1/fader/level': -41,
      'in.2/mute/on': true,
      'in.3/eq/1/gain': 7,
      'in.4/sends/mix.1/level': -41,
    });
    await until(async () =>
      (await rig.preview(newest.id, ALL_WITH_GLOBALS)).changes.some(({ strip }) => strip === 'in.4'),
    );
    const { changes, stays } = await rig.preview(newest.id, ALL_WITH_GLOBALS);
    expect(new Set([...changes, ...stays].map(({ section }) => section))).toEqual(new Set(['sends']));
    // Out again and in again it is the same part.
    const again = (await upload(rig, await download(rig, `/exports/productions/${copy}`))).body;
    const third = (await bring(rig, again)).resultPath!.split('/').at(-1)!;
    const twin = (await scenesOf(rig, third)).find(({ name }) => name === 'Harbour bells')!;
    expect([await rig.stateOf(twin.id), twin.partial]).toEqual([state, true]);
  });

  test('what belongs to a version does not come in without one, nor a version without a section; each is said', async () => {
    const made = await song();
    await rig.call('PUT', `/productions/${made.id}/parts`, { parts: { 'in.1': 'fiddle' } });
    const { body } = await upload(rig, await download(rig, `/exports/productions/${made.id}`));
    const before = await counts(rig);
    for (const [takes, why] of [
      [(id: string) => id === 'parts', 'belong to a version'],
      [(id: string) => id.startsWith('versions/'), 'No section of its scenes was chosen'],
    ] as const) {
      const done = await bring(rig, body, takes);
      expect([done.status, done.why]).toEqual(['failed', expect.stringContaining(why)]);
    }
    expect(await counts(rig)).toEqual(before);
  });

  test('one version, without what belongs to it', async () => {
    const made = await song();
    const instrumental = made.versions[1]!;
    const bytes = await download(rig, `/exports/productions/${made.id}?versions=${instrumental.id}&without=wishes`);
    const head = JSON.parse(Buffer.from(unzipSync(bytes)['archive.json']!).toString()) as {
      versions: object[];
      mixNotes: object[];
    };
    expect([head.versions.length, head.mixNotes.length]).toEqual([1, 0]);
  });
});

describe('a scene in a file', () => {
  const nameOf = async (id: string) => {
    const { body } = await rig.get<{ name: string; number: number; partial: boolean }>(`/scenes/${id}`);
    return body;
  };

  test('says that it is here already, in the file and after it was brought in; brought in all the same it is a copy', async () => {
    const scene = (await rig.capture('Ferry bell')).body;
    const bytes = await download(rig, `/exports/scenes/${scene.id}`);
    const { body: file } = await upload(rig, bytes);
    expect(file.fits).toContain(`It is already here, as ${scene.number} Ferry bell`);
    expect(file.branches[0]).toMatchObject({ id: 'scene', here: 'same' });
    const done = await bring(rig, file);
    expect([done.status, done.why]).toEqual([
      'done',
      `It was already here, as ${scene.number} Ferry bell: this is a copy of it.`,
    ]);
    const copy = done.resultPath!.split('/').at(-1)!;
    expect(differing(flat(await rig.stateOf(copy)), flat(await rig.stateOf(scene.id)))).toEqual([]);
    // Moved by one step it is another scene.
    const changed = JSON.parse(bytes.toString()) as { scene: { state: Record<string, Record<string, unknown>> } };
    changed.scene.state['in.1']!['fader/level'] = -12.5;
    const other = (await upload(rig, strToU8(JSON.stringify(changed)))).body;
    expect([other.fits, other.branches[0]?.here]).toEqual([expect.not.stringContaining('already'), 'new']);
    expect((await bring(rig, other)).why).toBe('');
  });

  test('with some sections of it is a part, and known again as one', async () => {
    const scene = (await rig.capture('Ferry horn')).body;
    const bytes = await download(rig, `/exports/scenes/${scene.id}`);
    const some = (id: string) => !id.startsWith('sections/') || ['sections/eq', 'sections/inserts'].includes(id);
    const done = await bring(rig, (await upload(rig, bytes)).body, some);
    const id = done.resultPath!.split('/').at(-1)!;
    const state = flat(await rig.stateOf(id));
    expect(new Set(Object.keys(state).map((address) => address.split('/')[1]))).toEqual(new Set(['eq', 'inserts']));
    expect([(await nameOf(id)).partial, done.why]).toEqual([true, '']);
    const again = await bring(rig, (await upload(rig, bytes)).body, some);
    expect(again.why).toMatch(/^It was already here, as \d+ Ferry horn: this is a copy of it\.$/);
    // Out and in once more, on a server that does not know its desk yet.
    const there = await upload(empty, await download(rig, `/exports/scenes/${id}`));
    const landed = (await bring(empty, there.body)).resultPath!.split('/').at(-1)!;
    expect(differing(flat(await empty.stateOf(landed)), state)).toEqual([]);
  });
});

describe('bad files', () => {
  const good = async () => unzipSync(await download(rig, `/exports/productions/${rig.production.id}`));
  const wrapped = (entries: Zippable) => zipSync(entries, { level: 6 });
  const text = (bytes: Uint8Array) => Buffer.from(bytes).toString('utf8');

  test('each gets a sentence that says what and where, and nothing of it comes in', async () => {
    const before = await counts(rig);
    const entries = await good();
    const head = JSON.parse(text(entries['archive.json']!)) as Record<string, unknown>;
    const whole = wrapped(entries);
    const withHead = (change: object) =>
      wrapped({ ...entries, 'archive.json': strToU8(JSON.stringify({ ...head, ...change })) });
    const library = { format: 'old-echo/library', version: 2, profiles: [], presets: [] };
    const json = (value: unknown) => strToU8(JSON.stringify(value));
    const cases: readonly (readonly [what: string, bytes: Uint8Array, sentence: RegExp])[] = [
      ['nothing', new Uint8Array(), /^The file is empty\.$/],
      ['words', strToU8('hello'), /incomplete or not JSON/],
      ['a JSON that breaks off', json(library).slice(0, 30), /incomplete or not JSON/],
      ['another JSON', json({ a: 1 }), /no library, scene or archive/],
      ['a newer version', json({ ...library, version: 9 }), /version 9 of its format; this Old Echo reads up to 2/],
      ['no version', json({ ...library, version: 'one' }), /does not say its version/],
      ['a field nobody knows', json({ ...library, colour: 1 }), /unknown field: colour/i],
      ['an archive that breaks off', whole.slice(0, whole.length - 200), /damaged or incomplete/],
      ['a head of another shape', withHead({ production: { id: 'x' } }), /production/i],
      [
        'an archive without its head',
        wrapped({ 'scenes.jsonl': entries['scenes.jsonl']! }),
        /archive\.json is missing/,
      ],
      [
        'a path that leads out',
        wrapped({ ...entries, '../../evil': strToU8('x') }),
        /invalid relative path|Unexpected file/,
      ],
      ['a stranger inside', wrapped({ ...entries, 'run.sh': strToU8('x') }), /Unexpected file in the archive: run\.sh/],
    ];
    for (const [what, bytes, sentence] of cases) {
      const { status, body } = await upload(rig, bytes, what);
      expect([what, status, body.title]).toEqual([what, 422, expect.stringMatching(sentence)]);
      expect([what, body.detail.length > 10]).toEqual([what, true]);
    }
    expect(await counts(rig)).toEqual(before);
    expect((await rig.get<unknown[]>('/imports')).body.every((file) => (file as ImportView).name !== 'words')).toBe(
      true,
    );
  });

  test('a zip that would burst is refused by what it claims, before it is unpacked', async () => {
    const entries = await good();
    const bomb = wrapped({ ...entries, 'archive.json': new Uint8Array(60_000_000) });
    expect(bomb.length).toBeLessThan(500_000);
    const heap = process.memoryUsage().rss;
    const { status, body } = await upload(rig, bomb);
    expect([status, body.title]).toEqual([422, 'archive.json would unpack to 60 MB; the limit is 30 MB.']);
    expect(process.memoryUsage().rss - heap).toBeLessThan(300_000_000);
  });

  test('a JSON of a gigabyte is refused by its size, and not read into memory', async () => {
    const piece = Buffer.alloc(1_000_000, 32);
    let sent = 0;
    const body = new ReadableStream({
      pull: (controller) => {
        if (sent++ < 1000) controller.enqueue(piece);
        else controller.close();
      },
    });
    const heap = process.memoryUsage().rss;
    const answer = await fetch(api(rig, '/imports?name=large.json'), {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body,
      duplex: 'half',
    });
    expect(((await answer.json()) as Problem).title).toBe('The file is 1000 MB; the limit for JSON is 30 MB.');
    expect(process.memoryUsage().rss - heap).toBeLessThan(300_000_000);
  });

  test('what is spoiled inside is found while it comes in, and nothing of it stays', async () => {
    const before = await counts(rig);
    const entries = await good();
    const scenes = text(entries['scenes.jsonl']!).trim().split('\n');
    const strips = text(entries['strips.jsonl']!).trim().split('\n');
    const changed = (line: string, change: (json: Record<string, unknown>) => void) => {
      const json = JSON.parse(line) as Record<string, unknown>;
      change(json);
      return JSON.stringify(json);
    };
    const cases: readonly (readonly [what: string, entries: Zippable, why: RegExp])[] = [
      [
        'another value under a fingerprint',
        {
          'strips.jsonl': strToU8(
            [
              changed(strips[0]!, (json) => ((json['settings'] as Record<string, unknown>)['mute/on'] = 'maybe')),
              ...strips.slice(1),
            ].join('\n'),
          ),
        },
        /strips\.jsonl, line 1 is not what its fingerprint says/,
      ],
      [
        'a state that is missing',
        { 'strips.jsonl': strToU8(strips.slice(1).join('\n')) },
        /names a state that is not in/,
      ],
      ['scenes that break off', { 'scenes.jsonl': strToU8(scenes.slice(0, 3).join('\n')) }, /holds 3 of \d+ scenes/],
      [
        'a strip that no desk has',
        {
          'scenes.jsonl': strToU8(
            [
              changed(scenes[0]!, (json) => ((json['strips'] as Record<string, string>)['in.77'] = 'a'.repeat(64))),
              ...scenes.slice(1),
            ].join('\n'),
          ),
        },
        /no strip in\.77/,
      ],
      [
        'a line that is not JSON',
        { 'scenes.jsonl': strToU8([...scenes.slice(0, 4), '{', ...scenes.slice(5)].join('\n')) },
        /scenes\.jsonl, line 5 is not JSON/,
      ],
    ];
    for (const [what, change, why] of cases) {
      const { body } = await upload(rig, wrapped({ ...entries, ...change }), what);
      const ended = await bring(rig, body);
      expect([what, ended.status, ended.why]).toEqual([what, 'failed', expect.stringMatching(why)]);
    }
    expect(await counts(rig)).toEqual(before);
  });

  test('another kind of desk under a name that is known here is refused', async () => {
    const entries = await good();
    const head = JSON.parse(text(entries['archive.json']!)) as {
      profile: { families: { id: string; count: number }[] };
    };
    const more = head.profile.families.map((family) => ({
      ...family,
      count: family.count + (family.id === 'matrix' ? 1 : 0),
    }));
    const other = { ...head, profile: { ...head.profile, families: more } };
    const { body } = await upload(rig, wrapped({ ...entries, 'archive.json': strToU8(JSON.stringify(other)) }));
    expect((await bring(rig, body)).why).toContain('Quay 48 differs from the one here');
  });

  test('spoiled at any place, a file is refused or read, and never half of it', async () => {
    const before = await counts(rig);
    const library = await download(rig, '/exports/presets');
    const archive = wrapped(await good());
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(library, Buffer.from(archive)),
        fc.array(fc.tuple(between(0, 0.9999), fc.integer({ min: 0, max: 255 })), {
          minLength: 1,
          maxLength: 4,
        }),
        between(0.05, 1),
        async (bytes, spoils, kept) => {
          const spoiled = Buffer.from(bytes.subarray(0, Math.ceil(bytes.length * kept)));
          for (const [at, value] of spoils) spoiled[Math.floor(at * spoiled.length)] = value;
          const { status, body } = await upload(rig, spoiled);
          expect([201, 422]).toContain(status);
          if (status === 422) expect(body.title).toMatch(/\.$/);
        },
      ),
      { numRuns: 60 },
    );
    expect(await counts(rig)).toEqual(before);
  });
});

describe('lists and patches', () => {
  test('differences as JSON Patch give the other scene in another library (RFC 6902)', async () => {
    const scenes = await scenesOf(rig, rig.production.id);
    const [a, b] = [scenes.at(-1)!, scenes[0]!];
    const patch = JSON.parse(
      (await download(rig, `/sheets/differences.json?a=${a.id}&b=${b.id}`)).toString(),
    ) as Parameters<typeof applyPatch>[1];
    const from = structuredClone(await rig.stateOf(a.id));
    expect(applyPatch(from, patch, true).newDocument).toEqual(await rig.stateOf(b.id));
    expect(patch.length).toBeGreaterThan(10);
  });

  test('the strip list goes through another reader and back unchanged (RFC 4180); formulas stay words', async () => {
    await rig.call('PUT', `/productions/${rig.production.id}/parts`, {
      parts: { 'in.1': '=1+1', 'in.2': 'accordion, "left"' },
    });
    const csv = (await download(rig, `/sheets/input-list/${rig.production.id}`)).toString();
    expect(csv.split('\r\n')[0]).toBe('strip,name,part,source,link,phantom,note');
    const rows = parseCsv<Record<string, string>>(csv, { columns: true });
    expect([rows.length, rows[0]?.['part'], rows[1]?.['part']]).toEqual([48, "'=1+1", 'accordion, "left"']);
    const answer = await fetch(api(rig, `/sheets/input-list/${rig.production.id}`), {
      method: 'POST',
      headers: { 'content-type': 'text/csv' },
      body: csv,
    });
    expect(await answer.json()).toMatchObject({ settings: {}, parts: { 'in.1': '=1+1' }, wrong: [] });
  });

  test('two strips cannot carry one part unless they share it', async () => {
    const put = (body: object) => rig.call<Problem>('PUT', `/productions/${rig.production.id}/parts`, body);
    const parts = { 'in.4': 'bass', 'in.5': 'bass' };
    expect((await put({ parts })).body.title).toBe('Input 4 and Input 5 are both bass.');
    expect((await put({ parts, shared: ['bass'] })).status).toBe(200);
  });

  test('a recall sheet says what is on the strips in trade units, and what stands beside the desk', async () => {
    await rig.post(`/productions/${rig.production.id}/outboard`, {
      name: 'Tube <box>',
      controls: [{ name: 'Drive', value: '4 & a half' }],
    });
    const scene = (await rig.capture('With a box beside it')).body;
    const html = (await download(rig, `/sheets/scenes/${scene.id}`)).toString();
    expect(html).toContain('Tube &lt;box&gt;');
    expect(html).toContain('4 &amp; a half');
    expect(html).toMatch(/Preamp<td>Gain <b>\+28\.0 dB<\/b>/);
    // What was captured before knows nothing of it.
    const before = (await scenesOf(rig, rig.production.id)).find(({ name }) => name === 'Harbour bells')!;
    expect((await download(rig, `/sheets/scenes/${before.id}`)).toString()).not.toContain('Tube');
  });
});
