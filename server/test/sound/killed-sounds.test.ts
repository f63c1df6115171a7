import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';

import type { RenderView, StemView } from '@old-echo/core/contracts/sound';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { faultRow } from '@old-echo/testing/fault-rows';
import { times } from '@old-echo/testing/runs';
import { sine } from '@old-echo/testing/sounds';

import { type Answer, Rig, until } from '../server-rig';

jest.setTimeout(1_200_000);

const runs = times(4, 60);
const SECONDS = 20;
const LEVEL = -12;

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open({}, { ownProcess: true });
  await rig.hands({
    'main.1/fader/level': 0,
    'main.1/mute/on': false,
    'in.1/mute/on': false,
    'in.1/fader/level': 0,
  });
  const stem = await fetch(`${at()}/productions/${rig.production.id}/stems/in.1?name=Fiddle.wav`, {
    method: 'PUT',
    headers: { 'content-type': 'audio/wav' },
    body: Buffer.from(writeWav(sine(440, LEVEL, SECONDS), 'float', false)),
  });
  if (!stem.ok) throw new Error(await stem.text());
});
afterAll(() => rig.close());

const at = () => `http://127.0.0.1:${rig.running.port}/api`;
const kept = (folder: string) => readdirSync(join(rig.files, folder));
const request = () => ({ productionId: rig.production.id, deskId: rig.desk.id, output: 'main.1' });
/** Asks for the mix of what the desk holds, once that is heard. */
async function begin(): Promise<RenderView> {
  let answer!: Answer<RenderView>;
  await until(async () => (answer = await rig.post<RenderView>('/renders', request())).status === 202);
  return answer.body;
}
async function ended(id: string): Promise<RenderView> {
  let view!: RenderView;
  await until(async () => (view = (await rig.get<RenderView>(`/renders/${id}`)).body).status !== 'running', 90_000);
  return view;
}
/** A file of the server, or null where it broke off. */
async function bytesOf(path: string): Promise<{ status: number; bytes: Uint8Array } | null> {
  try {
    const answer = await fetch(`${at()}${path}`);
    return { status: answer.status, bytes: new Uint8Array(await answer.arrayBuffer()) };
  } catch {
    return null;
  }
}
/** The peak of a mix, in dB of full scale. */
const peakOf = (bytes: Uint8Array): number => {
  const [left] = readWav(bytes).channels;
  return 20 * Math.log10(left!.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0));
};

const stemsPath = () => `/productions/${rig.production.id}/stems`;
/** The bytes of a file as they come over a line that takes so many ms for it. */
function slowly(bytes: Uint8Array, ms: number): ReadableStream<Uint8Array> {
  const parts = 20;
  const size = Math.ceil(bytes.length / parts);
  let part = 0;
  return new ReadableStream({
    async pull(line) {
      await pause(ms / parts);
      line.enqueue(bytes.slice(part * size, (part + 1) * size));
      if (++part === parts) line.close();
    },
  });
}
/** Whether the server said that it has a stem now. */
const attached = async (strip: string, body: ReadableStream<Uint8Array>): Promise<boolean> => {
  try {
    const answer = await fetch(`${at()}${stemsPath()}/${strip}?name=Wren.wav`, {
      method: 'PUT',
      headers: { 'content-type': 'audio/wav' },
      body,
      duplex: 'half',
    });
    return answer.ok;
  } catch {
    return false;
  }
};
const sha256 = (file: string): string => createHash('sha256').update(readFileSync(file)).digest('hex');

test('a mix that the server was killed in is there whole or not at all, and is as it should be when asked for again', async () => {
  const whole: boolean[] = [];
  const reference = peakOf((await bytesOf(`/renders/${(await ended((await begin()).id)).id}/audio.wav`))!.bytes);
  for (let i = 0; i < runs; i++) {
    // Another mix each time, so that nothing of it is known.
    const fader = -1 - i / 2;
    await rig.hands({ 'in.1/fader/level': fader });
    const { id } = await begin();
    await pause((i * 300) / runs);
    await rig.running.kill?.();
    await rig.start();
    const file = (await bytesOf(`/renders/${id}/audio.wav`))!;
    whole.push(file.status === 200);
    if (file.status === 200) expect(peakOf(file.bytes)).toBeCloseTo(reference + fader, 1);
    else expect(file.status).toBe(404);
    const { status, why } = await ended(id);
    expect([status, why]).toEqual(
      status === 'done' ? ['done', ''] : ['failed', expect.stringContaining('Old Echo stopped during it.')],
    );
    expect((await ended((await begin()).id)).status).toBe('done');
    expect(peakOf((await bytesOf(`/renders/${id}/audio.wav`))!.bytes)).toBeCloseTo(reference + fader, 1);
  }
  expect(kept('mixes').filter((name) => !name.endsWith('.wav'))).toEqual([]);
  const complete = whole.filter(Boolean).length;
  faultRow(
    'the server killed (SIGKILL) in a mix',
    `${runs} kills`,
    `${runs - complete} left nothing, ${complete} were whole; each was worked out when asked for again`,
  );
});

test('a bounce that the server was killed in arrives whole or is seen to have broken off, and is the same afterwards', async () => {
  const { id } = await ended((await begin()).id);
  const path = `/renders/${id}/bounce.wav?depth=24&dither=false`;
  const { bytes } = (await bytesOf(path))!;
  // What the mixes that were killed before left half-written may be swept away meanwhile.
  const [mixes, halves] = [kept('mixes'), kept('arriving')];
  let broke = 0;
  for (let i = 0; i < runs; i++) {
    const bounced = bytesOf(path);
    await pause((i * 400) / runs);
    await rig.running.kill?.();
    const arrived = await bounced;
    if (arrived) expect(Buffer.compare(arrived.bytes, bytes)).toBe(0);
    else broke++;
    await rig.start();
    expect(Buffer.compare((await bytesOf(path))!.bytes, bytes)).toBe(0);
  }
  expect(kept('mixes')).toEqual(mixes);
  expect(kept('arriving').filter((name) => !halves.includes(name))).toEqual([]);
  faultRow(
    'the server killed (SIGKILL) in a bounce',
    `${runs} kills`,
    `${broke} broke off, ${runs - broke} arrived whole; nothing was left of them`,
  );
});

test('of two stems that are on their way when the server is killed nothing is kept by half, and attached again they are there', async () => {
  const [before] = (await rig.get<StemView[]>(stemsPath())).body;
  const bytes = writeWav(sine(220, LEVEL, SECONDS), 'float', false);
  const strips = ['in.2', 'in.3'];
  let whole = 0;
  for (let i = 0; i < runs; i++) {
    const sent = strips.map((strip) => attached(strip, slowly(bytes, (i * 400) / runs)));
    await pause((i * 400) / runs);
    await rig.running.kill?.();
    const said = await Promise.all(sent);
    await rig.start();
    const stems = (await rig.get<StemView[]>(stemsPath())).body;
    // What the server said it kept is kept; what it had no time to say is there whole or not at all.
    strips.forEach((strip, n) => {
      if (said[n]) expect(stems.map((stem) => stem.strip)).toContain(strip);
    });
    whole += stems.length - 1;
    expect(stems).toContainEqual(before);
    for (const { hash } of stems) expect(sha256(join(rig.files, 'stems', `${hash}.wav`))).toBe(hash);
    for (const strip of strips) expect(await attached(strip, slowly(bytes, 0))).toBe(true);
    expect((await rig.get<StemView[]>(stemsPath())).body.map(({ strip }) => strip)).toEqual(['in.1', ...strips]);
    for (const strip of strips) await fetch(`${at()}${stemsPath()}/${strip}`, { method: 'DELETE' });
  }
  for (const name of kept('stems')) expect(`${sha256(join(rig.files, 'stems', name))}.wav`).toBe(name);
  faultRow(
    'the server killed (SIGKILL) while two stems arrive',
    `${runs} kills`,
    `${whole} of ${2 * runs} were whole, nothing of the others was kept; all attached again`,
  );
});
