import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import type { RenderView, StemView } from '@old-echo/core/contracts/sound';
import type { PcmAudio } from '@old-echo/core/signal/sound';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { wavHeader } from '@old-echo/core/signal/wav-header';
import { sampleEncoder } from '@old-echo/core/signal/wav-samples';
import { WorkerPool } from '@old-echo/server/sound/worker-pool';
import { inFolder, run, sine } from '@old-echo/testing/sounds';

import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
let pool: WorkerPool;
beforeAll(async () => {
  pool = new WorkerPool(undefined, 1);
  rig = await Rig.open();
  await rig.hands({ 'main.1/fader/level': 0, 'main.1/mute/on': false, 'in.1/mute/on': false, 'in.1/fader/level': 0 });
});
afterAll(async () => {
  await pool.close();
  await rig.close();
});

const address = (path: string) => `http://127.0.0.1:${rig.running.port}/api${path}`;
const stemsPath = () => `/productions/${rig.production.id}/stems`;
async function attach(bytes: Uint8Array, strip = 'in.1'): Promise<{ status: number; body: StemView[] }> {
  const headers = { 'content-type': 'audio/flac' };
  const answer = await fetch(address(`${stemsPath()}/${strip}?name=Fiddle.flac`), {
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
/** Debian's flac holds the samples of a file against their MD5. */
const judge = (flac: string) => run('flac', '--silent', '--test', '--warnings-as-errors', flac);
/** Unpacked by it. */
const unpacked = (flac: Uint8Array): PcmAudio =>
  inFolder((folder) => {
    const [from, to] = [join(folder, 'from.flac'), join(folder, 'to.wav')];
    writeFileSync(from, flac);
    judge(from);
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

/**
 * RFC 9639, appendix D.1 to D.3: the files, their rates, and the samples they are said to be, as whole numbers. From memory, where Debian's
 * flac holds each against the MD5 it has: one sample of two channels; all kinds of tags, and side with right; 8 bits with a linear predictor.
 */
const EXAMPLES = [
  {
    appendix: 'D.1',
    hex: '664c6143800000221000100000000f00000f0ac442f0000000013e84b41807dc690307586a3dad1a2e0ffff869180000bf0358fd03128baa9a',
    full: 32_768,
    samples: [[25_588], [10_416]],
  },
  {
    appendix: 'D.2',
    hex:
      '664c614300000022001000100000170000440ac442f000000013d5b0564975e98b8d8b930422757b8103030000120000000000000000000000000000' +
      '000000100400003a200000007265666572656e6365206c6962464c414320312e332e33203230313930383034010000000e0000005449544c453dd7a9' +
      'd79cd795d79d81000006000000000000fff86998000f9912086701623d1442998f5df70d6fe00c17caeb21000ee7a77a24a1590c1217b603097b784f' +
      'aa9a33d285e070ad5b1b4851b4010d99d2cd1a68f1e6b810fff869180102a402c382c40bc14a03ee48dd03b67c1330',
    full: 32_768,
    samples: [
      [
        10_372, 18_041, 14_942, 17_876, 15_627, 17_899, 16_242, 18_077, 16_824, 18_263, 17_295, -14_418, -15_201,
        -14_508, -15_195, -14_818, -15_486, -15_349, -16_054,
      ],
      [
        6_070, 10_545, 8_743, 10_449, 9_143, 10_463, 9_502, 10_569, 9_840, 10_680, 10_113, -8_428, -8_895, -8_476,
        -8_896, -8_653, -9_072, -8_958, -9_410,
      ],
    ],
  },
  {
    appendix: 'D.3',
    hex:
      '664c6143800000221000100000001f00001f07d0007000000018f8f9e396f5cbcfc6dc807f9977906b32fff868020017e944004f6f313d1047d227cb' +
      '6d090831452bdc2822228057a3',
    full: 128,
    samples: [[0, 79, 111, 78, 8, -61, -90, -68, -13, 42, 67, 53, 13, -27, -46, -38, -12, 14, 24, 19, 6, -4, -5, 0]],
  },
] as const;

test.each(EXAMPLES)(
  'the example of RFC 9639, appendix $appendix, is read as it stands there',
  async ({ hex, full, samples }) => {
    const folder = mkdtempSync(join(rig.files, 'example-'));
    const [from, to] = [join(folder, 'example.flac'), join(folder, 'example.wav')];
    writeFileSync(from, Buffer.from(hex, 'hex'));
    judge(from);
    await pool.run({ do: 'unpack flac', from, to });
    // The last one has a rate that no stem may have: its samples are taken from the end of the file as they stand there.
    const wav = readFileSync(to);
    const kept = samples.map((channel, c) =>
      channel.map((_, n) => {
        const fromEnd = (channel.length - n) * samples.length - c;
        return (wav.readInt16LE(wav.length - 2 * fromEnd) * full) / 32_768;
      }),
    );
    expect(kept).toEqual(samples);
  },
);

test('a stem that took the chunks of its Broadcast Wave file along lines up; one that did not begins with the song', async () => {
  const { channels, rate } = song(48_000, 1);
  const format = { rate, channels: 1, depth: '24', frames: channels[0]!.length } as const;
  const recordedAt = (timeReference: number) =>
    Buffer.concat([wavHeader(format, { timeReference }), sampleEncoder('24', false)(channels)]);
  await attach(packed(recordedAt(48_000), '--keep-foreign-metadata'), 'in.1');
  await attach(packed(recordedAt(3 * 48_000), '--keep-foreign-metadata'), 'in.2');
  // What stands before it is of any length.
  await attach(packed(recordedAt(2 * 48_000), '--keep-foreign-metadata', '--padding=100000', '--seekpoint=1s'), 'in.3');
  const { body } = await attach(packed(recordedAt(9 * 48_000)), 'in.4');
  expect(body.map(({ strip, start }) => [strip, start])).toEqual([
    ['in.1', 0],
    ['in.2', 2],
    ['in.3', 1],
    ['in.4', 0],
  ]);
});

const good = () => packed(writeWav(song(48_000, 2), '24', false));
/** With a byte of its last frame turned over. */
const damaged = () => good().map((byte, n, { length }) => (n === length - 400 ? byte ^ 0xff : byte));
/** RFC 9639, section 8.2: how many samples there are is 36 bits, from the lower half of byte 21 on; 0 where it is not known. */
const ofUnknownLength = () => good().map((byte, n) => (n === 21 ? byte & 0xf0 : n > 21 && n < 26 ? 0 : byte));

/** RFC 9639, section 8.2: bits of a sample, less one, are the last bit of byte 20 and the first four of byte 21. */
const ofTwentyBits = () => good().map((byte, n) => (n === 21 ? (byte & 0x0f) | 0x30 : byte));

test.each([
  ['damaged', damaged, 'is damaged'],
  ['cut off', () => good().subarray(0, 20_000), /is (damaged|cut off)/],
  ['with its head alone', () => good().subarray(0, 60), /is (damaged|cut off)/],
  ['of unknown length', ofUnknownLength, 'does not say how long it is'],
  ['of 20 bits', ofTwentyBits, 'has 20 bits a sample; 8, 16 and 24 are read'],
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
