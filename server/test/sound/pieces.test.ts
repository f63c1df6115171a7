import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import { HALVED_HEADER, PIECE_SECONDS, type RenderView } from '@old-echo/core/contracts/sound';
import type { PcmAudio } from '@old-echo/core/signal/sound';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { measureLoudness } from '@old-echo/core/sound/loudness-meter';
import { inARow, inFolder, run, sine, throughEbur128 } from '@old-echo/testing/sounds';

import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

const RATE = 48_000;
/** A step of 24 bits. */
const STEP = 2 ** -23;

let rig: Rig;
let mix: RenderView;
const at = (path: string) => fetch(`http://127.0.0.1:${rig.running.port}/api${path}`);
const piecePath = (piece: number | string, id = mix.id) => `/renders/${id}/pieces/${piece}?wait=1000`;

/** A mix of one recording, at a level of its fader. */
async function mixOf(sound: PcmAudio, level: number): Promise<RenderView> {
  await rig.hands({ 'in.1/fader/level': level });
  await fetch(`http://127.0.0.1:${rig.running.port}/api/productions/${rig.production.id}/stems/in.1`, {
    method: 'PUT',
    headers: { 'content-type': 'audio/wav' },
    body: Buffer.from(writeWav(sound, '24', false)),
  });
  const request = { productionId: rig.production.id, deskId: rig.desk.id, output: 'main.1' };
  const { body } = await rig.post<RenderView>('/renders', request);
  let view = body;
  await until(async () => (view = (await rig.get<RenderView>(`/renders/${body.id}`)).body).status !== 'running');
  return view;
}

beforeAll(async () => {
  rig = await Rig.open();
  await rig.hands({ 'main.1/fader/level': 0, 'main.1/mute/on': false, 'in.1/mute/on': false });
  // As it is recorded: nothing works on it.
  for (const strip of ['in.1', 'main.1'])
    await rig.hands({ [`${strip}/eq/on`]: false, [`${strip}/compressor/on`]: false, [`${strip}/inserts/on`]: false });
  await rig.hands({ 'in.1/gate/on': false, 'in.1/preamp/lowcut/on': false, 'in.1/pan/position': 0 });
  // Ten dB more than full scale in the mix.
  mix = await mixOf(sine(440, -1, 3), 10);
});
afterAll(() => rig.close());

/** A piece as another program unpacks it. */
const unpacked = (bytes: Uint8Array, program: 'ffmpeg' | 'sox') =>
  inFolder((folder) => {
    const [from, to] = [join(folder, 'piece.flac'), join(folder, 'piece.wav')];
    writeFileSync(from, bytes);
    if (program === 'sox') run('sox', from, '-b', '24', to);
    else run('ffmpeg', '-hide_banner', '-loglevel', 'error', '-i', from, '-c:a', 'pcm_s24le', to);
    return readWav(new Uint8Array(readFileSync(to))).channels;
  });

test.each(['ffmpeg', 'sox'] as const)(
  '%s unpacks every piece to 24 bits of the mix, also what is over full scale',
  async (program) => {
    const whole = readWav(new Uint8Array(await (await at(`/renders/${mix.id}/audio.wav`)).arrayBuffer())).channels;
    const most = whole[0]!.reduce((high, x) => Math.max(high, Math.abs(x)), 0);
    expect(most).toBeGreaterThan(2);
    let from = 0;
    for (let piece = 0; from < whole[0]!.length; piece++) {
      const answer = await at(piecePath(piece));
      const times = 2 ** Number(answer.headers.get(HALVED_HEADER));
      const channels = unpacked(new Uint8Array(await answer.arrayBuffer()), program);
      const length = Math.min(PIECE_SECONDS * RATE, whole[0]!.length - from);
      expect(channels.map((channel) => channel.length)).toEqual([length, length]);
      channels.forEach((channel, c) => {
        const furthest = channel.reduce((most, x, i) => Math.max(most, Math.abs(x * times - whole[c]![from + i]!)), 0);
        expect(furthest).toBeLessThanOrEqual(STEP * times);
      });
      from += length;
    }
    expect(from).toBe(whole[0]!.length);
  },
);

const tone = (level: number, seconds: number) => sine(1000, level, seconds);

// EBU Tech 3341, cases 1 and 3: loudness within 0.1 LU.
test.each([
  ['1', tone(-23, 20), -23],
  ['3', inARow(tone(-36, 10), tone(-23, 60), tone(-36, 10)), -23],
])('what is heard of case %s of EBU Tech 3341, piece by piece, is as loud as it says', async (_, sound, loudness) => {
  const { id, measured } = await mixOf(sound, 0);
  const pieces: PcmAudio[] = [];
  for (let piece = 0; piece * PIECE_SECONDS < measured!.seconds; piece++) {
    const answer = await at(piecePath(piece, id));
    pieces.push({ rate: RATE, channels: unpacked(new Uint8Array(await answer.arrayBuffer()), 'ffmpeg') });
  }
  for (const found of [measured!.loudness, measureLoudness(inARow(...pieces)), throughEbur128(inARow(...pieces))])
    expect(Math.abs(found.integrated! - loudness)).toBeLessThanOrEqual(0.1);
});

test.each([
  ['behind the end', () => piecePath(99)],
  ['of no number', () => piecePath('first')],
  ['of a negative number', () => piecePath(-1)],
  ['of a mix that nobody rendered', () => piecePath(0, 'a'.repeat(64))],
  ['of what is no mix', () => piecePath(0, '..%2F..%2Fstems')],
])('a piece %s is refused with a sentence', async (_, path) => {
  const answer = await at(path());
  expect([answer.status, ((await answer.json()) as { title: string }).title]).toEqual([
    404,
    expect.stringMatching(/\.$/),
  ]);
});
