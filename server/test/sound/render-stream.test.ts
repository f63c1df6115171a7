import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import { PIECE_SECONDS } from '@old-echo/core/contracts/sound';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { seededRandom } from '@old-echo/core/signal/wav-samples';
import { measureLoudness } from '@old-echo/core/sound/loudness-meter';
import { type Channels, inMemory } from '@old-echo/core/sound/recording';
import { buildRenderGraph, type RenderGraph } from '@old-echo/core/sound/render-graph';
import { renderHere } from '@old-echo/core/sound/render-here';
import { KeptSums, type Reusing } from '@old-echo/server/sound/kept-sums';
import { MixesAtWork } from '@old-echo/server/sound/mixes-at-work';
import { RenderCache } from '@old-echo/server/sound/render-cache';
import { RenderStream } from '@old-echo/server/sound/render-stream';
import type { PiecePlace } from '@old-echo/server/sound/send-piece';
import { Turns } from '@old-echo/server/sound/turns';
import { WavRecording } from '@old-echo/server/sound/wav-recording';
import { WorkerPool } from '@old-echo/server/sound/worker-pool';
import { quay } from '@old-echo/testing/profiles';

import { until } from '../server-rig';

/** Long enough for threads to wait for one another. */
const [RATE, FRAMES] = [48_000, 90_000];
const STRIPS = 12;
const HASH = 'noise';

const random = seededRandom(7);
const recording = [Float32Array.from({ length: FRAMES - 700 }, () => random() - 0.5)];

let folder: string;
let pool: WorkerPool;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'old-echo-stream-'));
  writeFileSync(join(folder, HASH), writeWav({ rate: RATE, channels: recording }, 'float', false));
  pool = new WorkerPool(undefined, 3);
  pool.openAll();
});
afterAll(async () => {
  await pool.close();
  rmSync(folder, { recursive: true });
});

function graphOf(
  moves: SettingsByAddress,
  frames = FRAMES,
  hash = HASH,
  others: Readonly<Record<string, string>> = {},
): RenderGraph {
  const strips = Array.from({ length: STRIPS }, (_, i) => `in.${i + 1}`);
  const set = strips.flatMap((strip, n): [string, number | boolean][] => [
    [`${strip}/fader/level`, -10],
    [`${strip}/compressor/threshold`, -20 - n],
    [`${strip}/sends/fx.1/level`, -15],
    [`${strip}/compressor/on`, true],
  ]);
  const state = withSettings(defaultState(quay), {
    ...Object.fromEntries(set),
    'main.1/fader/level': 0,
    'fx.1/fader/level': 0,
    ...moves,
  });
  const stems = Object.fromEntries(strips.map((strip) => [strip, { hash: others[strip] ?? hash, frames, gain: 0 }]));
  return buildRenderGraph(quay, state, { output: 'main.1', solo: null, stems, law: 'linear', rate: RATE, frames });
}

let made = 0;
const target = (graph: RenderGraph) => {
  const file = join(folder, `${made++}.wav`);
  return { graph, file, part: `${file}.part` };
};
const stems = () => ({ [HASH]: { file: join(folder, HASH), channels: 1 } });
/** Every sample of each channel, to be compared at once. */
const hashed = (channels: Channels) => channels.map((channel) => createHash('sha256').update(channel).digest('hex'));
const samplesOf = (file: string) => hashed(readWav(readFileSync(file)).channels);
const alone = (graph: RenderGraph) => renderHere(graph, () => inMemory(recording));
/** So little is kept that all windows are rings, or so much that everything is. */
const [LITTLE, MUCH] = [1, 512 * 1024 * 1024];

test.each([
  ['in rings', LITTLE],
  ['all of it kept', MUCH],
])('%s: mixes that threads work out together are what each is by itself, to the last bit', async (_, kept) => {
  const memory = new RenderCache(MUCH);
  const graphs = [graphOf({}), graphOf({ 'in.3/fader/level': -3 }), graphOf({ 'fx.1/inserts/predelay': 40 })];
  const mixes = graphs.map(target);
  const measured = await new RenderStream(pool, memory, mixes, stems(), { kept }).run();
  for (const [n, { graph, file }] of mixes.entries()) {
    const expected = alone(graph);
    expect(samplesOf(file)).toEqual(hashed(expected));
    expect(measured[n]!.loudness).toEqual(measureLoudness({ rate: RATE, channels: expected }));
  }
});

test('what was worked out before is taken as it is, whatever memory it lies in', async () => {
  // Too little for two mixes, so that something has to go each time.
  const memory = new RenderCache(20 * 4 * FRAMES, 8 * 4 * FRAMES);
  const moves = (n: number): SettingsByAddress => ({
    [`in.${(n % STRIPS) + 1}/fader/level`]: -20 + n,
    'fx.1/inserts/predelay': (n * 13) % 90,
    'fx.1/inserts/kind': n % 3 === 0 ? 'echo' : 'room',
  });
  for (const n of [0, 1, 2, 0]) {
    const mix = target(graphOf(moves(n)));
    await new RenderStream(pool, memory, [mix], stems(), { kept: MUCH }).run();
    expect(samplesOf(mix.file)).toEqual(hashed(alone(mix.graph)));
    memory.rest();
  }
});

test('a mix that is stopped, and one whose recording breaks off, leave nothing; the threads work on', async () => {
  const [long, broken] = [target(graphOf({}, 100 * FRAMES)), target(graphOf({}))];
  const stream = new RenderStream(pool, new RenderCache(), [long], stems(), { kept: LITTLE });
  const running = stream.run();
  while (stream.done(0) === 0) await new Promise((later) => setTimeout(later, 5));
  stream.stop();
  await expect(running).rejects.toThrow('stopped');

  const cut = join(folder, 'cut');
  writeFileSync(cut, writeWav({ rate: RATE, channels: recording }, 'float', false));
  truncateSync(cut, 300_000);
  const files = { [HASH]: { file: cut, channels: 1 } };
  await expect(new RenderStream(pool, new RenderCache(), [broken], files, { kept: LITTLE }).run()).rejects.toThrow(
    'cut off',
  );
  expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);

  const after = target(graphOf({}));
  await new RenderStream(pool, new RenderCache(), [after], stems(), { kept: LITTLE }).run();
  expect(samplesOf(after.file)).toEqual(hashed(alone(after.graph)));
});

describe('from where somebody listens', () => {
  const frames = 40 * RATE;
  const song = [Float32Array.from({ length: frames }, () => random() - 0.5)];
  const files = () => ({ song: { file: join(folder, 'song'), channels: 1 } });
  const failed = jest.fn();
  const toolsOf = (arriving = mkdtempSync(join(folder, 'arriving-'))) => ({
    pool,
    memory: new RenderCache(),
    sums: new KeptSums(arriving),
    turns: new Turns(),
    arriving,
    kept: LITTLE,
  });
  const targets = (...moves: readonly SettingsByAddress[]) =>
    moves.map((move) => target(graphOf(move, frames, 'song')));
  const whole = ({ graph }: { graph: RenderGraph }) => renderHere(graph, () => inMemory(song));

  beforeAll(() => writeFileSync(join(folder, 'song'), writeWav({ rate: RATE, channels: song }, 'float', false)));
  beforeEach(() => failed.mockReset());

  /** The piece of a mix that begins with a second, as soon as it is there. */
  async function heard(atWork: MixesAtWork, mixes: readonly { file: string }[], mix: number, second: number) {
    const from = second * RATE;
    let piece: Channels | undefined;
    const read = (place: PiecePlace) => {
      const recording = new WavRecording(place.file, { grows: true });
      piece = recording.read(place.from, PIECE_SECONDS * RATE).map((channel) => channel.slice());
      recording.close();
    };
    await until(() => {
      const { file } = mixes[mix]!;
      const place = existsSync(file) ? { file, from } : atWork.find(mix, second / PIECE_SECONDS);
      // It may have got its name meanwhile.
      if (place && existsSync(place.file)) read(place);
      return piece !== undefined;
    });
    return piece!;
  }
  const partOf = (mix: Channels, second: number) =>
    mix.map((channel) => channel.subarray(second * RATE, (second + PIECE_SECONDS) * RATE));
  const highest = (channels: Channels) =>
    Math.max(...channels.map((channel) => channel.reduce((most, x) => Math.max(most, Math.abs(x)), 0)));
  const apart = (one: Channels, other: Channels) =>
    highest(one.map((channel, c) => channel.map((x, i) => x - other[c]![i]!)));

  test('far ahead of what is there, mixes are worked out from there, within −120 dBFS of what they are', async () => {
    const mixes = targets({}, { 'in.3/fader/level': -3 });
    const sounds = mixes.map(whole);
    const tools = toolsOf();
    const atWork = new MixesAtWork(tools, mixes, files(), failed);
    const running = atWork.run();
    for (const second of [30, 32, 14]) {
      for (const mix of [0, 1])
        expect(apart(await heard(atWork, mixes, mix, second), partOf(sounds[mix]!, second))).toBeLessThan(1e-6);
      expect(highest(partOf(sounds[0]!, second))).toBeGreaterThan(0.1);
      // All of the mix waits meanwhile.
      expect(atWork.done(0)).toBeLessThan(second * RATE);
    }
    // Back at its beginning it goes on.
    expect(apart(await heard(atWork, mixes, 0, 0), partOf(sounds[0]!, 0))).toBe(0);
    const soFar = atWork.soFar(0)!.loudness.integrated!;
    const [measured] = await running;
    expect(Math.abs(soFar - measured!.loudness.integrated!)).toBeLessThan(1);
    expect(mixes.map(({ file }) => samplesOf(file))).toEqual(sounds.map(hashed));
    tools.sums.clear();
    expect([readdirSync(tools.arriving), failed.mock.calls]).toEqual([[], []]);
  });

  test('after one fader has moved, what every other strip brings is taken from the mix before; the mix itself is the same to the last bit', async () => {
    const [before, after] = targets({}, { 'in.3/fader/level': -3 });
    const tools = toolsOf();
    await new MixesAtWork(tools, [before!], files(), failed).run();
    const sound = whole(after!);
    const reuse = jest.spyOn(tools.sums, 'reuse');
    const atWork = new MixesAtWork(tools, [after!], files(), failed);
    const running = atWork.run();
    for (const second of [20, 4, 36])
      expect(apart(await heard(atWork, [after!], 0, second), partOf(sound, second))).toBeLessThan(1e-6);
    expect(reuse.mock.results.map(({ value }) => (value as Reusing | undefined)?.end)).toContain(frames);
    await running;
    expect(samplesOf(after!.file)).toEqual(hashed(sound));
    expect(failed).not.toHaveBeenCalled();
  });

  test('a recording that was replaced is taken away, and the other is heard', async () => {
    const other = song.map((channel) => channel.map((x, i) => (i % 3 === 0 ? -x : x / 2)));
    writeFileSync(join(folder, 'other'), writeWav({ rate: RATE, channels: other }, 'float', false));
    const before = targets({})[0]!;
    const after = target(graphOf({}, frames, 'song', { 'in.3': 'other' }));
    const tools = toolsOf();
    await new MixesAtWork(tools, [before], files(), failed).run();
    const sound = renderHere(after.graph, (hash) => inMemory(hash === 'other' ? other : song));
    const atWork = new MixesAtWork(
      tools,
      [after],
      { ...files(), other: { file: join(folder, 'other'), channels: 1 } },
      failed,
    );
    const running = atWork.run();
    expect(apart(await heard(atWork, [after], 0, 24), partOf(sound, 24))).toBeLessThan(1e-6);
    await running;
    expect(failed).not.toHaveBeenCalled();
  });

  test('where what was kept is gone from the disk, the mix is heard all the same', async () => {
    const [before, after] = targets({}, { 'in.3/fader/level': -3 });
    const tools = toolsOf();
    await new MixesAtWork(tools, [before!], files(), failed).run();
    for (const name of readdirSync(tools.arriving)) rmSync(join(tools.arriving, name));
    const sound = whole(after!);
    const atWork = new MixesAtWork(tools, [after!], files(), failed);
    const running = atWork.run();
    expect(apart(await heard(atWork, [after!], 0, 30), partOf(sound, 30))).toBeLessThan(1e-6);
    await running;
    expect(failed).toHaveBeenCalledTimes(1);
  });

  test('strip sums take no more of the disk than was agreed: the oldest go', async () => {
    const arriving = mkdtempSync(join(folder, 'arriving-'));
    // Of one mix: two channels into the main, one into each effect that is sent to.
    const each = 3 * 4 * frames;
    const sums = new KeptSums(arriving, 2.5 * each);
    const mixes = targets({}, { 'in.3/fader/level': -3 }, { 'in.4/fader/level': -3 });
    for (const mix of mixes) await new MixesAtWork({ ...toolsOf(), sums }, [mix], files(), failed).run();
    expect(readdirSync(arriving)).toHaveLength(4);
    sums.clear();
    expect(readdirSync(arriving)).toEqual([]);
  });
});

test('memory of a sound that had to go is not written over before nobody reads it', () => {
  const channel = 4 * FRAMES;
  const memory = new RenderCache(2 * channel, 2 * channel);
  const sounds = ['one', 'two', 'three'].map((key) => ({ key, channels: [new Float32Array(FRAMES)] }));
  for (const { key, channels } of sounds) memory.set(key, channels);
  expect([memory.get('one'), memory.get('three')]).toEqual([undefined, sounds[2]!.channels]);
  const old = sounds[0]!.channels[0];
  expect(memory.allocate(FRAMES)).not.toBe(old);
  memory.rest();
  // Of other lengths there is none.
  expect(memory.allocate(FRAMES + 1)).toHaveLength(FRAMES + 1);
  expect(memory.allocate(FRAMES)).toBe(old);
  expect(memory.allocate(FRAMES)).not.toBe(old);
});

test('no more memory is held ready than was agreed, however much had to go; forgotten, nothing is', () => {
  const channel = 4 * FRAMES;
  const memory = new RenderCache(channel, 3 * channel);
  const gone = Array.from({ length: 20 }, () => new Float32Array(FRAMES));
  const fill = () => gone.forEach((channel, i) => memory.set(`sound ${i}`, [channel]));
  const held = () =>
    Array.from({ length: 20 }, () => memory.allocate(FRAMES)).filter((one) => (gone as unknown[]).includes(one)).length;
  fill();
  memory.rest();
  expect(held()).toBe(3);
  fill();
  memory.clear();
  memory.rest();
  expect([held(), memory.get('sound 19')]).toEqual([0, undefined]);
});

test('what waits for a thread when the threads end is told so', async () => {
  const closed = new WorkerPool(undefined, 1);
  const tasks = Array.from({ length: 3 }, () => closed.run({ do: 'analyse', file: '/no/such/file' }));
  const ends = Promise.allSettled(tasks);
  await closed.close();
  expect((await ends).map(({ status }) => status)).toEqual(['rejected', 'rejected', 'rejected']);
  await expect(closed.run({ do: 'analyse', file: '/no/such/file' })).rejects.toThrow('was stopped');
});
