import { request } from 'node:http';

import { unzipSync } from 'fflate';

import type { Problem } from '@old-echo/core/contracts/problem';
import type { RenderView, StemView } from '@old-echo/core/contracts/sound';
import type { State } from '@old-echo/core/desk/state';
import { thirdOctaves } from '@old-echo/core/signal/third-octaves';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import type { RenderAnalysis } from '@old-echo/core/sound/analyse-render';
import { sine, throughSox } from '@old-echo/testing/sounds';

import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
  rig.front.hands({ 'main.1/fader/level': 0, 'main.1/mute/on': false, 'in.1/mute/on': false, 'in.1/fader/level': 0 });
  await untilHeard('in.1', 'fader/level', 0);
});
/** Waits until the server has heard of a value that a hand set. */
const untilHeard = (strip: string, key: string, value: unknown) =>
  until(async () => (await rig.get<State>(`/desks/${rig.desk.id}/state`)).body[strip]?.[key] === value);
afterAll(() => rig.close());

const stemsUrl = (strip = '') =>
  `http://127.0.0.1:${rig.running.port}/api/productions/${rig.production.id}/stems${strip}`;
const put = async (strip: string, bytes: Uint8Array, name = 'Fiddle.wav') => {
  const answer = await fetch(`${stemsUrl(`/${strip}`)}?name=${name}`, {
    method: 'PUT',
    headers: { 'content-type': 'audio/wav' },
    body: Buffer.from(bytes),
  });
  return { status: answer.status, body: (await answer.json()) as StemView[] & { detail?: string; title?: string } };
};
const begin = (more: object = {}) =>
  rig.post<RenderView>('/renders', { productionId: rig.production.id, deskId: rig.desk.id, output: 'main.1', ...more });
async function ended(id: string): Promise<RenderView> {
  let view!: RenderView;
  await until(async () => (view = (await rig.get<RenderView>(`/renders/${id}`)).body).status !== 'running', 60_000);
  return view;
}
const sound = sine(440, -12, 1, { channels: 2 });

test('without stems there is nothing to listen to, and it says so', async () => {
  const { status, body } = await begin();
  expect([status, JSON.stringify(body)]).toEqual([422, expect.stringContaining('No stems')]);
});

test('a stem is attached, listed by its content, replaced, and taken off again', async () => {
  const { status, body } = await put('in.1', writeWav(sound, '24', false));
  expect([status, body]).toMatchObject([
    200,
    [{ strip: 'in.1', name: 'Fiddle.wav', rate: 48_000, channels: 2, depth: '24', seconds: 1 }],
  ]);
  expect(body[0]!.cameFrom).toBeNull();
  const again = await put('in.1', writeWav(sine(220, -6, 1), '16', false), 'Fiddle.wav&modified=1796000000123');
  // By arithmetic: a second of two channels of 16 bits, and a head of 44 bytes.
  expect(again.body[0]!.cameFrom).toEqual({ bytes: 44 + 48_000 * 4, modified: 1_796_000_000_123 });
  expect(again.body).toHaveLength(1);
  expect(again.body[0]!.hash).not.toBe(body[0]!.hash);
  expect((await fetch(stemsUrl('/in.1'), { method: 'DELETE' })).status).toBe(200);
  expect((await rig.get(`/productions/${rig.production.id}/stems`)).body).toEqual([]);
});

/** Three seconds of floats, in which one sample is none, as a plug-in that fails makes them. */
const broken = () => {
  const channel = new Float32Array(3 * 48_000).fill(0.1);
  channel[2.5 * 48_000] = NaN;
  return writeWav({ rate: 48_000, channels: [channel] }, 'float', false);
};

test.each([
  ['a text', Buffer.from('hello'), 'Not a WAV'],
  ['with a sample that is no number', broken(), 'samples that are not numbers, at about 0:0'],
  ['cut off', writeWav(sound, '16', false).subarray(0, 9000), 'cut off'],
  ['without samples', writeWav({ rate: 48_000, channels: [new Float32Array(0)] }, '16', false), 'no samples'],
])('%s is refused with a sentence, and nothing is kept of it', async (_, bytes, why) => {
  const { status, body } = await put('in.1', bytes);
  expect([status, JSON.stringify(body)]).toEqual([422, expect.stringContaining(why)]);
  expect((await rig.get(`/productions/${rig.production.id}/stems`)).body).toEqual([]);
});

test('silence and a single sample are taken for what they are, and mixed', async () => {
  const nothing = { rate: 48_000, channels: [new Float32Array(9600)] };
  // Dither alone is silence too.
  expect((await put('in.1', writeWav(nothing, '16', true))).body).toMatchObject([{ silent: true, peak: null }]);
  expect((await put('in.1', writeWav(nothing, '24', false))).body).toMatchObject([{ silent: true, seconds: 0.2 }]);
  const one = { rate: 48_000, channels: [Float32Array.of(0.5)] };
  expect((await put('in.2', writeWav(one, '16', false))).body).toMatchObject([
    {},
    // Half of full scale, by arithmetic.
    { silent: false, seconds: 1 / 48_000, peak: expect.closeTo(-6.02, 1) as number },
  ]);
  expect((await ended((await begin({ solo: 'in.1' })).body.id)).measured!.loudness).toMatchObject({
    integrated: null,
    truePeak: null,
  });
  for (const strip of ['in.1', 'in.2']) await fetch(stemsUrl(`/${strip}`), { method: 'DELETE' });
});

test('a strip that is no input, and a file of 20 GB, are refused before anything is read', async () => {
  expect((await put('main.1', writeWav(sound, '16', false))).status).toBe(422);
  const status = await new Promise<number | undefined>((resolve, reject) => {
    const call = request(stemsUrl('/in.1'), { method: 'PUT', headers: { 'content-length': 20_000_000_000 } }, (res) => {
      resolve(res.statusCode);
      call.destroy();
    });
    call.on('error', reject);
    call.write(Buffer.alloc(1000));
  }).catch(() => undefined);
  expect(status).toBe(422);
});

test('settings put over a scene sound as if the desk held them, and what the desk does not have is refused', async () => {
  await put('in.1', writeWav(sound, '24', false));
  const versionId = rig.production.versions[0]!.id;
  const { id: sceneId } = (
    await rig.post<{ id: string }>(`/desks/${rig.desk.id}/captures`, { versionId, name: 'For presets' })
  ).body;
  const over = async (settings: object) =>
    rig.post<RenderView & Problem>('/renders', {
      productionId: rig.production.id,
      sceneId,
      output: 'main.1',
      settings,
    });
  const quieter = { 'in.1/fader/level': -12 };
  const tried = (await over(quieter)).body.id;
  expect(tried).not.toBe((await over({})).body.id);
  rig.front.hands(quieter);
  await untilHeard('in.1', 'fader/level', -12);
  expect((await begin()).body.id).toBe(tried);
  const refused = await over({ 'in.1/fader/level': 'loud' });
  expect([refused.status, refused.body.title]).toEqual([422, expect.stringContaining('in.1/fader/level')]);
  rig.front.hands({ 'in.1/fader/level': 0 });
  await untilHeard('in.1', 'fader/level', 0);
  await fetch(stemsUrl('/in.1'), { method: 'DELETE' });
});

test('one strip at unity through the whole server is its stem, sample for sample; resampled where its rate is another', async () => {
  await put('in.1', writeWav(sound, 'float', false));
  const off = ['eq/on', 'gate/on', 'compressor/on', 'preamp/lowcut/on', 'routing/dca.1'];
  const dry = Object.fromEntries(Array.from({ length: 8 }, (_, i) => [`in.1/sends/fx.${i + 1}/level`, -90]));
  rig.front.hands({
    ...Object.fromEntries(off.map((key) => [`in.1/${key}`, false])),
    ...dry,
    'in.1/pan/position': 0,
    'in.1/routing/main.1': true,
    'main.1/compressor/on': false,
    'main.1/eq/on': false,
    'in.48/pan/position': 77,
  });
  await untilHeard('in.48', 'pan/position', 77);
  const { body } = await begin({ solo: 'in.1' });
  const view = await ended(body.id);
  expect([view.status, view.why]).toEqual(['done', '']);
  const answer = await fetch(`http://127.0.0.1:${rig.running.port}/api/renders/${view.id}/audio.wav`);
  const mixed = readWav(new Uint8Array(await answer.arrayBuffer()));
  const differing = sound.channels.map((channel, c) => channel.findIndex((x, i) => x !== mixed.channels[c]![i]));
  expect(differing).toEqual([-1, -1]);

  await put('in.1', writeWav(throughSox(sound, 'rate', '44100'), 'float', false));
  const other = await ended((await begin({ solo: 'in.1' })).body.id);
  expect(other.measured!.loudness.truePeak).toBeCloseTo(-12, 1);
});

test('the same mix is worked out once; another output and a bounce are had from it', async () => {
  const [one, two] = await Promise.all([begin(), begin()]);
  expect(one.body.id).toBe(two.body.id);
  await ended(one.body.id);
  expect((await begin()).body.status).toBe('done');
  expect((await begin({ output: 'in.1' })).status).toBe(422);
  const bounce = await fetch(
    `http://127.0.0.1:${rig.running.port}/api/renders/${one.body.id}/bounce.wav?depth=16&name=Night%20Ferry`,
  );
  expect(bounce.headers.get('content-disposition')).toBe('attachment; filename="Night Ferry.wav"');
  expect(readWav(new Uint8Array(await bounce.arrayBuffer())).channels).toHaveLength(2);
});

test('whoever waits for a mix hears of its end at once, and no longer than a second', async () => {
  const { body } = await begin({ law: 'linear' });
  expect((await rig.get<RenderView>(`/renders/${body.id}?wait=1000`)).body.status).toBe('done');
  expect((await rig.get(`/renders/${body.id}?wait=1001`)).status).toBe(422);
});

test('mixes in one archive, and how loud one is in plain words', async () => {
  const { body } = await begin();
  const view = await ended(body.id);
  const url = `http://127.0.0.1:${rig.running.port}/api/renders`;
  const files = [`${body.id} 01 Fiddle`, `${body.id} 02 Wren / vox`].map((file) => `file=${encodeURIComponent(file)}`);
  const zip = await fetch(`${url}/archive.zip?depth=16&name=Strips&${files.join('&')}`);
  const entries = unzipSync(new Uint8Array(await zip.arrayBuffer()));
  expect(Object.keys(entries)).toEqual(['01 Fiddle.wav', '02 Wren  vox.wav']);
  expect(readWav(entries['01 Fiddle.wav']!).channels[0]).toHaveLength(view.measured!.seconds * 48_000);
  const answer = await fetch(`${url}/${body.id}/analysis`);
  const { spectrum, correlation } = (await answer.json()) as RenderAnalysis;
  expect(answer.headers.get('cache-control')).toContain('immutable');
  const loudest = Math.max(...spectrum.map((level) => level ?? -Infinity));
  // All of it is one sine at 440 Hz, the same on both sides.
  expect(thirdOctaves()[spectrum.indexOf(loudest)]).toBeCloseTo(440, -2);
  expect(correlation[3]).toBeCloseTo(1, 3);
  expect((await fetch(`${url}/${'0'.repeat(64)}/analysis`)).status).toBe(404);
  const gone = await fetch(`${url}/archive.zip?file=${'0'.repeat(64)}%20Nothing`);
  expect([gone.status, await gone.text()]).toEqual([404, expect.stringContaining('not rendered')]);
  expect((await fetch(`${url}/archive.zip?file=../../secret`)).status).toBe(422);
  const report = await (await fetch(`${url}/${body.id}/report.txt?name=Night%20Ferry`)).text();
  expect(report).toContain('Night Ferry');
  // Neither 24 nor 16 bits make a loud mix louder or softer.
  const loudness = view.measured!.loudness.integrated!.toFixed(1);
  expect(report).toMatch(new RegExp(`Integrated loudness( +${loudness} LUFS){3}`));
});

test('a blind test is kept with both sides, whichever was A; too few answers and a production that is gone are refused', async () => {
  const [a, b] = ['01ARZ3NDEKTSV4RRFFQ69G5FAV', '01ARZ3NDEKTSV4RRFFQ69G5FAW'];
  const trials = Array.from({ length: 12 }, (_, i) => ({ hidden: 'A', said: i < 9 ? 'A' : 'B' }));
  const test = { productionId: rig.production.id, a, b, heard: 'Main, 0:04–0:12', trials };
  expect((await rig.post('/blind-tests', test)).status).toBe(201);
  expect((await rig.get(`/blind-tests/${b}/${a}`)).body).toMatchObject([
    { heard: 'Main, 0:04–0:12', right: 9, trials: 12 },
  ]);
  const few = await rig.post('/blind-tests', { ...test, trials: trials.slice(3) });
  expect([few.status, JSON.stringify(few.body)]).toEqual([422, expect.stringContaining('at least 10 answers')]);
  expect((await rig.post('/blind-tests', { ...test, productionId: a })).status).toBe(404);
});

test('a mix is cancelled while it is worked out, and begun anew', async () => {
  await put('in.1', writeWav(sine(330, -12, 200), '16', false));
  const { body } = await begin();
  await rig.post(`/renders/${body.id}/cancel`, {});
  expect((await ended(body.id)).status).toBe('cancelled');
  await begin();
  expect((await ended(body.id)).status).toBe('done');
});

test('of two mixes that are worked out together one is cancelled at once, and the other goes on to its end', async () => {
  await put('in.1', writeWav(sine(330, -12, 200), '16', false));
  const [one, other] = await Promise.all([begin({ law: 'compromise' }), begin({ law: 'linear', solo: 'in.1' })]);
  await rig.post(`/renders/${one.body.id}/cancel`, {});
  expect((await ended(one.body.id)).status).toBe('cancelled');
  expect((await rig.get<RenderView>(`/renders/${other.body.id}`)).body.status).toBe('running');
  expect((await ended(other.body.id)).status).toBe('done');
  await begin({ law: 'compromise' });
  expect((await ended(one.body.id)).status).toBe('done');
});
