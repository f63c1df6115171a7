import fc from 'fast-check';

import { quay } from '@old-echo/testing/profiles';

import { defaultState, joinSettings, type SettingsByAddress, withSettings } from '../../src/desk/state';
import { seededRandom } from '../../src/signal/wav-samples';
import { isStripSum, type KeptMix, type KeptSum, reuseStripSums } from '../../src/sound/kept-sums';
import { type Channels, inMemory } from '../../src/sound/recording';
import { buildRenderGraph, NOTHING, passedOn, type RenderGraph } from '../../src/sound/render-graph';
import { renderHere } from '../../src/sound/render-here';

const [RATE, FRAMES] = [48_000, 3 * 48_000];
const STRIPS = Array.from({ length: 20 }, (_, n) => `in.${n + 1}`);

const random = seededRandom(5);
const noise = (): Channels => [Float32Array.from({ length: FRAMES }, () => random() - 0.5)];
const recordings: Record<string, Channels> = { one: noise(), two: [...noise(), ...noise()] };
const recording = (hash: string) => inMemory(recordings[hash] ?? []);

const busy: SettingsByAddress = {
  ...joinSettings(
    STRIPS.map((strip, n) => ({
      [`${strip}/fader/level`]: -10,
      [`${strip}/pan/position`]: 4 * n - 40,
      [`${strip}/compressor/on`]: true,
      [`${strip}/compressor/threshold`]: -20 - n,
      [`${strip}/sends/fx.1/level`]: -n,
    })),
  ),
  'fx.1/fader/level': -3,
  'fx.1/inserts/time': 0.4,
  'main.1/fader/level': 0,
};

function graphOf(moves: SettingsByAddress, frames = FRAMES): RenderGraph {
  const stems = Object.fromEntries(
    STRIPS.map((strip, n) => [strip, { hash: n % 4 === 0 ? 'two' : 'one', frames, gain: 0 }]),
  );
  const state = withSettings(defaultState(quay), { ...busy, ...moves });
  return buildRenderGraph(quay, state, { output: 'main.1', solo: null, stems, law: 'linear', rate: RATE, frames });
}

/** A mix as it is kept once it was worked out: each of its strip sums a recording. */
function keptOf(graph: RenderGraph): KeptMix {
  const sums = graph.nodes.filter(isStripSum).map((node): [string, KeptSum] => {
    const isMono = node.kind === 'mono strip sum';
    const heard = { ...node, kind: 'sum', key: 'heard', feeds: [passedOn(node.key, isMono)], strip: NOTHING } as const;
    const sides = renderHere({ ...graph, nodes: [...graph.nodes, heard] }, recording);
    recordings[node.key] = isMono ? sides.slice(0, 1) : sides;
    return [node.bus, { hash: node.key, start: 0 }];
  });
  return { graph, sums: new Map(sums) };
}

const highest = (channels: Channels) =>
  Math.max(...channels.map((channel) => channel.reduce((most, x) => Math.max(most, Math.abs(x)), 0)));
const stemsOf = ({ nodes }: RenderGraph) => nodes.flatMap((node) => (node.kind === 'stem' ? [node.hash] : []));

const anyMove: fc.Arbitrary<SettingsByAddress> = fc
  .record({
    strip: fc.constantFrom(...STRIPS),
    key: fc.constantFrom('fader/level', 'pan/position', 'sends/fx.1/level', 'compressor/threshold', 'eq/2/gain'),
    value: fc.integer({ min: -20, max: 5 }),
  })
  .map(({ strip, key, value }) => ({ [`${strip}/${key}`]: value }));
/** What is moved on up to four strips, and what belongs to no strip. */
const anyMoves = fc
  .tuple(
    fc.array(anyMove, { minLength: 1, maxLength: 4 }),
    fc.constantFrom<SettingsByAddress>(
      {},
      { 'fx.1/fader/level': -9 },
      { 'main.1/eq/1/gain': 3 },
      { 'in.4/mute/on': true },
      { 'fx.1/inserts/predelay': 20 },
    ),
  )
  .map(([moves, other]) => ({ ...joinSettings(moves), ...other }));

test('with strip sums of another mix, one sounds as it does worked out whole, within −120 dBFS; from the middle too', () => {
  const kept = keptOf(graphOf({}));
  expect([...kept.sums.keys()].sort()).toEqual(['fx.1', 'main.1']);
  fc.assert(
    fc.property(anyMoves, fc.constantFrom(0, 2.5 * RATE), (moves, start) => {
      const graph = graphOf(moves);
      const reused = reuseStripSums(graph, kept);
      const whole = renderHere(graph, recording, { start });
      const sound = renderHere(reused!.graph, recording, { start });
      const loudest = highest(whole);
      expect(loudest).toBeGreaterThan(0.05);
      const apart = sound.map((channel, c) => channel.map((x, i) => x - whole[c]![i]!));
      expect(highest(apart)).toBeLessThan(1e-6 * Math.max(1, loudest));
    }),
    { numRuns: 12 },
  );
});

test('of what differs only that is read: one strip twice where its processing changed, none where only a bus did', () => {
  const kept = keptOf(graphOf({}));
  const needs = (moves: SettingsByAddress) => {
    const { graph, differing } = reuseStripSums(graphOf(moves), kept)!;
    const needed = new Map(graph.nodes.map((node) => [node.key, node]));
    const found = new Set<string>();
    const visit = (key: string): void => {
      const node = needed.get(key);
      if (!node || found.has(key)) return;
      found.add(key);
      if (node.kind !== 'stem') for (const { from } of node.feeds) visit(from);
    };
    visit(graph.nodes.at(-1)!.key);
    const stems = [...found].flatMap((key) => {
      const node = needed.get(key)!;
      return node.kind === 'stem' && ['one', 'two'].includes(node.hash) ? [node.hash] : [];
    });
    return { stems, differing };
  };
  expect(needs({ 'main.1/eq/1/gain': 3 })).toEqual({ stems: [], differing: 0 });
  expect(needs({ 'in.2/fader/level': -3 })).toEqual({ stems: ['one'], differing: 4 });
  expect(needs({ 'in.5/compressor/threshold': -3 })).toEqual({ stems: ['two', 'two'], differing: 4 });
  expect(needs({ 'in.2/mute/on': true })).toEqual({ stems: ['one'], differing: 2 });
});

test('where more than half of the strips differ, or the length does, nothing is taken', () => {
  const kept = keptOf(graphOf({}));
  const moved = (count: number) =>
    joinSettings(STRIPS.slice(0, count).map((strip) => ({ [`${strip}/compressor/threshold`]: -50 })));
  expect(reuseStripSums(graphOf(moved(9)), kept)).toBeDefined();
  expect(reuseStripSums(graphOf(moved(10)), kept)).toBeUndefined();
  expect(reuseStripSums(graphOf({}, FRAMES - 1024), kept)).toBeUndefined();
  expect(stemsOf(graphOf({})).length).toBe(20);
});
