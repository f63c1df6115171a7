import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';

import type { ClientLinkView, ClientPage, MadeClientLink } from '@old-echo/core/contracts/client-link';
import type { MixNoteView } from '@old-echo/core/contracts/mix-note';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ScenePage } from '@old-echo/core/contracts/scene';
import type { RenderView } from '@old-echo/core/contracts/sound';
import { writeWav } from '@old-echo/core/signal/wav';
import { sine } from '@old-echo/testing/sounds';

import { connect } from '../../src/database/connect';
import { clientLinks } from '../../src/people/client-link-store';
import { rendersThatMayGo } from '../../src/sound/render-store';
import { Rig, until } from '../server-rig';
import { makeCertificate, networkSettings, Phone } from './network';

jest.setTimeout(180_000);

const certificate = makeCertificate();
let rig: Rig;
let sounds: string[];
let sceneId: string;
beforeAll(async () => {
  rig = await Rig.open(networkSettings(certificate));
  const stem = await fetch(
    `http://127.0.0.1:${rig.running.port}/api/productions/${rig.production.id}/stems/in.1?name=A.wav`,
    {
      method: 'PUT',
      headers: { 'content-type': 'audio/wav' },
      body: Buffer.from(writeWav(sine(440, -12, 2), 'float', false)),
    },
  );
  if (!stem.ok) throw new Error(await stem.text());
  const { scenes } = (await rig.get<ScenePage>(`/productions/${rig.production.id}/scenes?limit=1&ownOnly=true`)).body;
  sceneId = scenes[0]!.id;
  sounds = [];
  for (const level of [0, -6]) {
    const settings = {
      ...{ 'in.1/mute/on': false, 'in.1/fader/level': level },
      ...{ 'main.1/mute/on': false, 'main.1/fader/level': 0 },
    };
    const request = { productionId: rig.production.id, sceneId, output: 'main.1', settings };
    const { id } = (await rig.post<RenderView>('/renders', request)).body;
    await until(async () => (await rig.get<RenderView>(`/renders/${id}`)).body.status === 'done', 60_000);
    sounds.push(id);
  }
});
afterAll(() => rig.close());

const inDatabase = async (statement: string): Promise<unknown> => {
  const admin = rig.admin();
  const [rows] = (await admin.raw(statement.replaceAll('@DB', rig.database))) as [unknown];
  await admin.destroy();
  return rows;
};
afterEach(() => inDatabase('DELETE FROM @DB.attempts'));

const client = () => new Phone(rig, certificate.authority);
const typeOf = ({ body }: { readonly body: object }) => (body as Problem).type;
const mixes = () => [
  { sound: sounds[0], name: 'Harbour bells', sceneId },
  { sound: sounds[1], name: 'Fiddle back', sceneId },
];
const make = (more: object = {}) =>
  rig.post<MadeClientLink>(`/productions/${rig.production.id}/client-links`, {
    name: 'The band',
    mixes: mixes(),
    ...more,
  });
const listed = async (id: string) =>
  (await rig.get<ClientLinkView[]>(`/productions/${rig.production.id}/client-links`)).body.find(
    (one) => one.id === id,
  )!;
const pageOf = async (path: string, by = client()) => (await by.ask('GET', path)).body as unknown as ClientPage;

describe('a link for clients', () => {
  test('plays mixes to who is not let in, with their names and loudness, and nothing else', async () => {
    const { body } = await make({ note: 'Listen to the bridge.', by: 'Rosa' });
    expect(body.path).toMatch(/^\/listen\/[\w-]{43}$/);
    expect(body.addresses[0]).toMatch(new RegExp(`^https://[\\d.]+:${rig.running.networkPort}/listen/`));
    const page = await pageOf(body.path);
    expect(page).toMatchObject({
      production: rig.production.name,
      name: 'The band',
      note: 'Listen to the bridge.',
      by: 'Rosa',
    });
    expect(page.mixes.map(({ name }) => name)).toEqual(['Harbour bells', 'Fiddle back']);
    // A fader 6 dB further down is 6 LU quieter (ITU-R BS.1770).
    const [one, other] = page.mixes.map(({ loudness }) => loudness!);
    expect(one! - other!).toBeCloseTo(6, 1);
    for (const path of ['/desks', '/productions', `/scenes/${sceneId}`, `/renders/${sounds[0]}/audio.wav`, '/docs'])
      expect([path, typeOf(await client().ask('GET', path))]).toEqual([path, 'urn:old-echo:not-let-in']);
    // Neither ids of ours nor states are told.
    expect(JSON.stringify(page)).not.toContain(sceneId);
    expect(JSON.stringify(page)).not.toContain(sounds[0]);
  });

  test('is frozen: what is done to the scene changes nothing of what is heard', async () => {
    const { path } = (await make()).body;
    const soundOf = async () => {
      const answer = await fetch(`http://127.0.0.1:${rig.running.port}/api${path}/mixes/1/pieces/0`);
      return new Uint8Array(await answer.arrayBuffer());
    };
    const before = await soundOf();
    // RFC 9639: how a FLAC file begins.
    expect(Buffer.from(before).toString('latin1', 0, 4)).toBe('fLaC');
    await rig.hands({ 'in.1/fader/level': -60 });
    await rig.call('PATCH', `/scenes/${sceneId}`, { name: 'Another name', revision: 1 });
    expect(
      createHash('sha256')
        .update(await soundOf())
        .digest('hex'),
    ).toBe(createHash('sha256').update(before).digest('hex'));
    expect((await pageOf(path)).mixes[1]?.name).toBe('Fiddle back');
  });

  test('keeps its mixes as long as it is good, although nobody asks for them', async () => {
    await make({ days: 20 });
    const db = await connect({
      database: rig.database,
      databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
      databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
    });
    const after = (days: number) => new Date(new Date().getTime() + days * 86_400_000);
    expect(await rendersThatMayGo(db, after(10), after(10))).not.toEqual(expect.arrayContaining(sounds));
    expect(existsSync(join(rig.files, 'mixes', `${sounds[0]}.wav`))).toBe(true);
    await db.destroy();
  });

  test('takes notes at a moment, which are mix notes of the version at once, and shows what became of them', async () => {
    const { link, path } = (await make()).body;
    const note = { mix: 1, songSeconds: 65, text: 'More fiddle here', name: 'Tam' };
    const answer = await client().ask('POST', `${path}/notes`, note);
    expect(answer.status).toBe(201);
    const { versions } = rig.production;
    const all = await Promise.all(versions.map(({ id }) => rig.get<MixNoteView[]>(`/mix-notes?version=${id}`)));
    const written = all.flatMap(({ body }) => body).find(({ text }) => text === 'More fiddle here')!;
    expect(written).toMatchObject({ songSeconds: 65, requestedBy: 'Tam', status: 'open' });
    await rig.call('PATCH', `/mix-notes/${written.id}`, { status: 'done', sceneId, revision: written.revision });
    const { notes } = await pageOf(path);
    expect(notes).toMatchObject([{ mix: 1, songSeconds: 65, text: 'More fiddle here', by: 'Tam', status: 'done' }]);
    expect((await listed(link.id)).notes).toBe(1);
  });

  test('stands in the list with its own mixes and notes, the newest first, and each link asks the database no more', async () => {
    const both = (await make({ name: 'Two mixes' })).body;
    const alone = (await make({ name: 'One mix', mixes: mixes().slice(1) })).body;
    for (const text of ['Louder', 'Softer'])
      await client().ask('POST', `${both.path}/notes`, { mix: 0, songSeconds: null, text, name: 'Tam' });
    const db = await connect({
      database: rig.database,
      databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
      databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
    });
    let asked = 0;
    db.on('query', () => asked++);
    const shown = (await clientLinks(db, rig.production.id)).map(({ id, mixes, notes }) => [id, mixes.length, notes]);
    const forMany = asked;
    await inDatabase(`DELETE FROM @DB.client_links WHERE id NOT IN ('${both.link.id}', '${alone.link.id}')`);
    const last = await clientLinks(db, rig.production.id);
    await db.destroy();
    expect(shown.slice(0, 2)).toEqual([
      [alone.link.id, 1, 0],
      [both.link.id, 2, 2],
    ]);
    expect(last.map(({ mixes }) => mixes.map(({ name }) => name))).toEqual([
      ['Fiddle back'],
      ['Harbour bells', 'Fiddle back'],
    ]);
    expect(asked).toBe(2 * forMany);
  });

  test('takes a favourite and an approval, and takes them back', async () => {
    const { link, path } = (await make()).body;
    const choose = (choice: object) => client().ask('PUT', `${path}/choice`, { name: 'Tam', ...choice });
    expect((await choose({ favourite: 1 })).status).toBe(200);
    expect((await choose({ approved: 0 })).body).toMatchObject({
      favourite: { mix: 1 },
      approved: { mix: 0, by: 'Tam' },
    });
    expect(await listed(link.id)).toMatchObject({ favourite: { mix: 1, by: 'Tam' }, approved: { mix: 0, by: 'Tam' } });
    expect((await choose({ approved: null })).body).toMatchObject({ favourite: { mix: 1 }, approved: null });
    expect((await choose({ favourite: 2 })).status).toBe(422);
    const alone = (await make({ mixes: mixes().slice(0, 1) })).body.path;
    expect((await client().ask('PUT', `${alone}/choice`, { name: 'Tam', approved: 1 })).status).toBe(404);
  });

  test('counts how often it was opened', async () => {
    const { link, path } = (await make()).body;
    expect(await listed(link.id)).toMatchObject({ opened: 0, openedAt: null });
    await pageOf(path);
    await pageOf(path);
    expect(await listed(link.id)).toMatchObject({ opened: 2, openedAt: expect.stringMatching(/^2/) as string });
  });
});

describe('what a link does not do', () => {
  const everything = (path: string): [string, string, object?][] => [
    ['GET', path],
    ['GET', `${path}/mixes/0/pieces/0`],
    ['GET', `${path}/mixes/0/file.wav`],
    ['POST', `${path}/notes`, { mix: 0, text: 'Hello', name: 'Tam' }],
    ['PUT', `${path}/choice`, { favourite: 0, name: 'Tam' }],
  ];
  const asked = (path: string, by = client()) =>
    Promise.all(everything(path).map(async ([method, at, body]) => typeOf(await by.ask(method, at, body))));
  const gone = everything('').map(() => 'urn:old-echo:not-found');

  test('withdrawn, over, or with another address, it leads nowhere at once, also for who has it open', async () => {
    const stolen = (await make()).body;
    const opened = client();
    await pageOf(stolen.path, opened);
    expect((await rig.post(`/client-links/${stolen.link.id}/withdraw`, {})).status).toBe(200);
    expect(await asked(stolen.path, opened)).toEqual(gone);

    const over = (await make({ days: 1 })).body;
    await inDatabase(`UPDATE @DB.client_links SET ends_at = UTC_TIMESTAMP(3) WHERE id = '${over.link.id}'`);
    expect(await asked(over.path)).toEqual(gone);

    const first = (await make()).body;
    const second = (await rig.post<MadeClientLink>(`/client-links/${first.link.id}/renew`, {})).body;
    expect(await asked(first.path)).toEqual(gone);
    expect((await client().ask('GET', second.path)).status).toBe(200);
    // A withdrawn one is good again by another address.
    const again = (await rig.post<MadeClientLink>(`/client-links/${stolen.link.id}/renew`, {})).body;
    expect((await client().ask('GET', again.path)).status).toBe(200);
  });

  test('asks for its word before anything, and for each link by itself', async () => {
    const { path } = (await make({ word: 'saltmarsh' })).body;
    const other = (await make({ word: 'saltmarsh' })).body.path;
    const one = client();
    expect(await asked(path, one)).toEqual(everything('').map(() => 'urn:old-echo:wrong-secret'));
    expect(typeOf(await one.ask('POST', `${path}/word`, { word: 'harbour' }))).toBe('urn:old-echo:wrong-secret');
    const said = await one.ask('POST', `${path}/word`, { word: ' saltmarsh ' });
    expect(said.status).toBe(200);
    const [cookie = ''] = said.headers['set-cookie'] ?? [];
    expect(cookie).toMatch(/^__Host-old-echo-listen-\w{26}=[\w-]{43};.*HttpOnly; Secure; SameSite=Strict/);
    one.cookie = cookie.split(';')[0] ?? '';
    expect((await one.ask('GET', path)).status).toBe(200);
    expect((await one.ask('GET', other)).status).toBe(403);
    // What lets one hear lets one do nothing else.
    expect(typeOf(await one.ask('GET', '/desks'))).toBe('urn:old-echo:not-let-in');
    const [row] = (await inDatabase('SELECT word_hash, token_hash FROM @DB.client_links ORDER BY id DESC LIMIT 1')) as {
      word_hash: string;
      token_hash: string;
    }[];
    expect(row?.word_hash).toMatch(/^\$argon2id\$/);
    expect(other).not.toContain(row?.token_hash);
  });

  test('lets nobody guess words or addresses for long, over a restart', async () => {
    const { path } = (await make({ word: 'saltmarsh' })).body;
    for (let i = 0; i < 10; i++) await client().ask('POST', `${path}/word`, { word: `wrong ${i}` });
    await rig.running.close();
    await rig.start();
    expect(typeOf(await client().ask('POST', `${path}/word`, { word: 'saltmarsh' }))).toBe('urn:old-echo:try-later');
    const guess = () => client().ask('GET', `/listen/${'A'.repeat(43)}`);
    const answers = [];
    for (let i = 0; i < 31; i++) answers.push(typeOf(await guess()));
    expect(answers.slice(0, 30)).toEqual(Array.from({ length: 30 }, () => 'urn:old-echo:not-found'));
    expect(answers[30]).toBe('urn:old-echo:try-later');
    // Who has a link hears it all the same.
    expect((await client().ask('GET', (await make()).body.path)).status).toBe(200);
  });

  test('gives no file unless it may be saved', async () => {
    const fileOf = async (path: string) => client().ask('GET', `${path}/mixes/0/file.wav`);
    expect(typeOf(await fileOf((await make()).body.path))).toBe('urn:old-echo:forbidden');
    const saved = await fileOf((await make({ mayDownload: true })).body.path);
    expect([saved.status, saved.headers['content-disposition']]).toEqual([
      200,
      'attachment; filename="Harbour bells.wav"',
    ]);
  });

  test.each([
    ['no mix', { mixes: [] }],
    ['three mixes', { mixes: [0, 1, 0].map((i) => ({ sound: 'a'.repeat(64), name: `${i}` })) }],
    ['what is no mix', { mixes: [{ sound: '../../etc/passwd', name: 'A' }] }],
    ['a mix that is not rendered', { mixes: [{ sound: 'a'.repeat(64), name: 'A' }] }],
    [
      'a scene that is not there',
      { mixes: [{ sound: 'a'.repeat(64), name: 'A', sceneId: '01ARZ3NDEKTSV4RRFFQ69G5FAV' }] },
    ],
    ['a thousand days', { days: 1000 }],
    ['a word of two letters', { word: 'no' }],
    ['no name', { name: ' ' }],
  ])('is not made for %s', async (_, wrong) => {
    expect([404, 409, 422]).toContain((await make(wrong)).status);
  });

  test('is not made of a scene of another song or show', async () => {
    const other = (await rig.get<{ id: string }[]>('/productions')).body.find(({ id }) => id !== rig.production.id)!;
    const wrong = await rig.post(`/productions/${other.id}/client-links`, { name: 'The band', mixes: mixes() });
    expect(wrong.status).toBe(422);
  });

  test('takes words as words, and no more of them than anybody answers', async () => {
    const { path } = (await make()).body;
    const script = '<img src=x onerror=alert(1)>';
    const note = (text: string, name = 'Tam') => client().ask('POST', `${path}/notes`, { mix: 0, text, name });
    expect((await note(script, script)).body).toMatchObject({ notes: [{ text: script, by: script }] });
    expect((await note('')).status).toBe(422);
    expect((await note('x'.repeat(501))).status).toBe(422);
    expect((await note('Hello', '')).status).toBe(422);
    for (let i = 1; i < 200; i++) await note(`Note ${i}`);
    expect((await note('One more')).status).toBe(409);
  });
});
