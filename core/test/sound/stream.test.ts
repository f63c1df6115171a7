import fc from 'fast-check';

import { boathouse, quay } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';

import type { Profile } from '../../src/desk/profile';
import { addressesOf, defaultState, joinSettings, type SettingsByAddress, withSettings } from '../../src/desk/state';
import { seededRandom } from '../../src/signal/wav-samples';
import { type Channels, inMemory } from '../../src/sound/recording';
import { buildRenderGraph, type RenderGraph } from '../../src/sound/render-graph';
import { renderHere } from '../../src/sound/render-here';
import { stemStarts } from '../../src/sound/stem-starts';
import { planStream } from '../../src/sound/stream-plan';

const RATE = 48_000;
const FRAMES = 24_321;

/** Loud and soft in turn, so that gates and compressors move. */
const noise = (seed: number, length: number) => {
  const random = seededRandom(seed);
  return Float32Array.from({ length }, (_, i) => (random() - 0.5) * (Math.floor(i / 7000) % 2 === 0 ? 1.2 : 0.05));
};
const recordings: Readonly<Record<string, Channels>> = {
  one: [noise(1, FRAMES - 5321)],
  two: [noise(2, FRAMES - 10_320), noise(3, FRAMES - 10_320)],
};
const recording = (hash: string) => inMemory(recordings[hash]!);

/** Everything between a recording and the main may be set to anything; what would close it stays open. */
function anyMoves(profile: Profile, strips: readonly string[], not = /^$/): fc.Arbitrary<SettingsByAddress> {
  const used = new Set([...strips, 'fx.1', 'fx.2', 'fx.3', 'main.1']);
  const addresses = addressesOf(profile).filter(
    (address) => used.has(address.split('/')[0]!) && !/mute|routing|source|phantom/.test(address) && !not.test(address),
  );
  const some = fc.array(anySettings(profile, 300, addresses), { minLength: 8, maxLength: 8, size: 'max' });
  const open = {
    ...Object.fromEntries([...used].map((strip) => [`${strip}/fader/level`, 0])),
    ...Object.fromEntries(strips.map((strip, i) => [`${strip}/sends/fx.${(i % 3) + 1}/level`, -10])),
  };
  return some.map((several) => ({ ...joinSettings(several), ...open }));
}

function graphOf(profile: Profile, strips: readonly string[], moves: SettingsByAddress, frames = FRAMES): RenderGraph {
  const stems = Object.fromEntries(
    strips.map((strip, i) => [strip, { hash: i % 3 === 0 ? 'two' : 'one', frames, gain: 0 }]),
  );
  const state = withSettings(defaultState(profile), { 'main.1/fader/level': 0, ...moves, 'main.1/mute/on': false });
  return buildRenderGraph(profile, state, { output: 'main.1', solo: null, stems, law: 'linear', rate: RATE, frames });
}

const few = ['in.1', 'in.2', 'in.10'];
const many = Array.from({ length: 20 }, (_, i) => `in.${i + 1}`);

test.each([
  ['three strips of the Boathouse', boathouse, few],
  ['twenty of the Quay', quay, many],
] as const)(
  '%s: a mix is the same to the last bit, however much of it is worked out at a time',
  (_, profile, strips) => {
    fc.assert(
      fc.property(anyMoves(profile, strips), fc.integer({ min: 1, max: 30 }), (moves, blocks) => {
        const graph = graphOf(profile, strips, moves);
        const whole = renderHere(graph, recording, { stretch: FRAMES });
        expect(whole.some((channel) => channel.some((x) => x !== 0))).toBe(true);
        expect(renderHere(graph, recording, { stretch: 1024 * blocks })).toEqual(whole);
      }),
      { numRuns: 5 },
    );
  },
);

test('begun in the middle, a mix is within −120 dBFS of the whole', () => {
  // Long enough for most of what is set to have settled; what takes long by itself stays as it is.
  const frames = 10 * RATE;
  const long = { one: [noise(1, frames)], two: [noise(2, frames), noise(3, frames)] } as const;
  const heard = (hash: string) => inMemory(long[hash as keyof typeof long]);
  let inTheMiddle = 0;
  fc.assert(
    fc.property(anyMoves(boathouse, few, /release|hold|time|feedback/), fc.integer({ min: 8, max: 9 }), (moves, at) => {
      const graph = graphOf(boathouse, few, moves, frames);
      const [start, end] = [at * RATE, at * RATE + 4096];
      if (planStream([graph], { channelsOf: () => 1, start, end }).begin > 0) inTheMiddle++;
      const whole = renderHere(graph, heard, { end });
      const part = renderHere(graph, heard, { start, end });
      const loudest = whole.reduce(
        (most, channel) => channel.reduce((high, x) => Math.max(high, Math.abs(x)), most),
        1,
      );
      const worst = part.map((channel, c) =>
        channel.reduce((most, x, i) => Math.max(most, Math.abs(x - whole[c]![start + i]!)), 0),
      );
      expect(Math.max(...worst)).toBeLessThan(1e-6 * loudest);
    }),
    { numRuns: 6 },
  );
  expect(inTheMiddle).toBeGreaterThan(2);
});

test('what a mix needs of memory does not grow with its length', () => {
  const open = Object.fromEntries(many.map((strip) => [`${strip}/fader/level`, 0]));
  const roomOf = (frames: number) =>
    planStream([graphOf(quay, many, open, frames)], { channelsOf: () => 1 }).windows.reduce(
      (sum, { channels, room }) => sum + channels * room,
      0,
    );
  expect(roomOf(100 * FRAMES)).toBe(roomOf(FRAMES));
});

test('threads share a mix evenly, and what feeds a sum of some strips is worked out where that is', () => {
  const moves = joinSettings(
    many.map((strip, n) => ({
      [`${strip}/fader/level`]: 0,
      [`${strip}/compressor/on`]: true,
      [`${strip}/compressor/threshold`]: -20 - n,
    })),
  );
  const { steps } = planStream([graphOf(quay, many, moves)], { channelsOf: () => 1, lanes: 2 });
  const perLane = [0, 1].map(
    (lane) => steps.filter((step) => step.lane === lane && step.nodes[0]!.kind === 'stem').length,
  );
  expect(Math.min(...perLane)).toBeGreaterThan(many.length / 4);
  for (const { lane, reads, nodes } of steps)
    if (nodes[0]!.kind === 'sum') expect(reads.map((n) => steps[n]!.lane)).toEqual(reads.map(() => lane));
});

test('a recording that begins later in the song is heard then, wherever blocks lie', () => {
  const state = withSettings(defaultState(boathouse), { 'in.1/fader/level': 0, 'main.1/fader/level': 0 });
  const request = { output: 'main.1', solo: null, law: 'linear', rate: RATE, frames: FRAMES } as const;
  const mix = (start: number) => {
    const stems = { 'in.1': { hash: 'two', frames: FRAMES, gain: 0, start } };
    return renderHere(buildRenderGraph(boathouse, state, { ...request, stems }), recording);
  };
  const [atOnce] = mix(0);
  for (const start of [1, 1000, 1024, 5000]) {
    const [late] = mix(start);
    expect(late!.subarray(0, start).every((x) => x === 0)).toBe(true);
    expect(late!.subarray(start)).toEqual(atOnce!.subarray(0, FRAMES - start));
  }
});

// EBU Tech 3285: time references are samples since midnight.
test('stems line up by their time references; what has none begins with the first, and what is of another day lines nothing up', () => {
  const at = (timeReference: number | null, rate = 48_000) => ({ timeReference, rate });
  expect(stemStarts([at(480_000), at(480_000 + 96_000), at(null), at(441_000 + 44_100, 44_100)])).toEqual([0, 2, 0, 1]);
  expect(stemStarts([at(0), at(3_601 * 48_000)])).toEqual([0, 0]);
  expect(stemStarts([at(null)])).toEqual([0]);
  expect(stemStarts([])).toEqual([]);
});
