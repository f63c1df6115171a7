import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import type { RenderView, StemView } from '@old-echo/core/contracts/sound';
import type { PcmAudio } from '@old-echo/core/signal/sound';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { inFolder, run, sine } from '@old-echo/testing/sounds';

import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
  await rig.hands({ 'main.1/fader/level': 0, 'main.1/mute/on': false, 'in.1/mute/on': false, 'in.1/fader/level': 0 });
});
afterAll(() => rig.close());

const address = (path: string) => `http://127.0.0.1:${rig.running.port}/api${path}`;
const stemsPath = () => `/productions/${rig.production.id}/stems`;
async function attach(bytes: Uint8Array): Promise<{ status: number; body: StemView[] }> {
  const headers = { 'content-type': 'audio/flac' };
  const answer = await fetch(address(`${stemsPath()}/in.1?name=Fiddle.flac`), {
    method: 'PUT',
    headers,
    body: Buffer.from(bytes),
  });
  return { status: answer.status, body: (await answer.json()) as StemView[] };
}
const song = (rate: number, channels: number): PcmAudio => ({ ...sine(440, -3, 1.3, { channels, rate }), rate });
/** Packed by Debian's flac. */
const packed = (wav: Uint8Array, ...options: string[]): Uint8Array =>
  inFolder((folder) => {
    const [from, to] = [join(folder, 'from.wav'), join(folder, 'to.flac')];
    writeFileSync(from, wav);
    run('flac', '--silent', '--force', ...options, '-o', to, from);
    return new Uint8Array(readFileSync(to));
  });
/** Unpacked by Debian's flac, which holds the samples against their MD5. */
const unpacked = (flac: Uint8Array): PcmAudio =>
  inFolder((folder) => {
    const [from, to] = [join(folder, 'from.flac'), join(folder, 'to.wav')];
    writeFileSync(from, flac);
    run('flac', '--silent', '--test', '--warnings-as-errors', from);
    run('flac', '--silent', '--decode', '-o', to, from);
    return readWav(new Uint8Array(readFileSync(to)));
  });

test.each([
  ['16', 48_000, 1, '--fast'],
  ['24', 48_000, 2, '--best'],
  ['24', 96_000, 2, '--blocksize=1152'],
] as const)(
  'a stem of %s bits at %i Hz with %i channels, %s, is what it was before it was packed',
  async (depth, rate, channels, option) => {
    const wav = writeWav(song(rate, channels), depth, false);
    const { body } = await attach(packed(wav, option));
    expect(body).toMatchObject([{ name: 'Fiddle.flac', depth, rate, channels, seconds: 1.3 }]);
    const kept = readWav(new Uint8Array(readFileSync(join(rig.files, 'stems', `${body[0]!.hash}.wav`))));
    expect(Buffer.compare(Buffer.from(writeWav(kept, depth, false)), Buffer.from(wav))).toBe(0);
  },
);

/** RFC 9639, appendix D.1, from memory: Debian's flac holds it against its own MD5. One sample of two channels. */
const EXAMPLE = Buffer.from(
  '664c6143800000221000100000000f00000f0ac442f0000000013e84b41807dc690307586a3dad1a2e0ffff869180000bf0358fd03128baa9a',
  'hex',
);

test('the first example of RFC 9639 is read as it stands there', async () => {
  expect(unpacked(EXAMPLE).rate).toBe(44_100);
  const { body } = await attach(EXAMPLE);
  expect(body).toMatchObject([{ depth: '16', rate: 44_100, channels: 2 }]);
  const kept = readWav(new Uint8Array(readFileSync(join(rig.files, 'stems', `${body[0]!.hash}.wav`))));
  expect(kept.channels.map(([sample]) => sample! * 32_768)).toEqual([25_588, 10_416]);
});

const good = () => packed(writeWav(song(48_000, 2), '24', false));
/** With a byte of its last frame turned over. */
const damaged = () => good().map((byte, n, { length }) => (n === length - 400 ? byte ^ 0xff : byte));
/** RFC 9639, section 8.2: how many samples there are is 36 bits, from the lower half of byte 21 on; 0 where it is not known. */
const ofUnknownLength = () => good().map((byte, n) => (n === 21 ? byte & 0xf0 : n > 21 && n < 26 ? 0 : byte));

test.each([
  ['damaged', damaged, 'is damaged'],
  ['cut off', () => good().subarray(0, 20_000), /is (damaged|cut off)/],
  ['with its head alone', () => good().subarray(0, 60), /is (damaged|cut off)/],
  ['of unknown length', ofUnknownLength, 'does not say how long it is'],
  ['of another format under its name', () => new Uint8Array(Buffer.from('OggS, or so')), 'Not a WAV file'],
])('a FLAC file that is %s is refused with a sentence, and nothing changes', async (_, bytes, why) => {
  const before = (await rig.get<StemView[]>(stemsPath())).body;
  const { status, body } = await attach(bytes());
  expect([status, JSON.stringify(body)]).toEqual([
    422,
    typeof why === 'string' ? expect.stringContaining(why) : expect.stringMatching(why),
  ]);
  expect((await rig.get<StemView[]>(stemsPath())).body).toEqual(before);
});

test.each(['16', '24'])('a bounce as FLAC of %s bits is the WAV bounce, sample by sample', async (depth) => {
  await attach(good());
  const request = { productionId: rig.production.id, deskId: rig.desk.id, output: 'main.1' };
  const { id } = (await rig.post<RenderView>('/renders', request)).body;
  await until(async () => (await rig.get<RenderView>(`/renders/${id}`)).body.status !== 'running');
  const bounce = (kind: string) => fetch(address(`/renders/${id}/bounce.${kind}?depth=${depth}&name=Low%20tide`));
  const answer = await bounce('flac');
  expect(answer.headers.get('content-disposition')).toContain('Low tide.flac');
  const sound = unpacked(new Uint8Array(await answer.arrayBuffer()));
  const wav = readWav(new Uint8Array(await (await bounce('wav')).arrayBuffer()));
  expect(sound.rate).toBe(wav.rate);
  sound.channels.forEach((channel, c) =>
    expect(Buffer.from(channel.buffer).equals(Buffer.from(wav.channels[c]!.buffer))).toBe(true),
  );
  expect((await fetch(address(`/renders/${id}/bounce.flac?depth=float`))).status).toBe(422);
});
