import fc from 'fast-check';

import { boathouse, quay } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';
import { FULL } from '@old-echo/testing/runs';

import type { Profile } from '../../src/desk/profile';
import { addressesOf, defaultState, joinSettings, type State, withSettings } from '../../src/desk/state';
import { risesBetween } from '../../src/recall/path-rises';
import { preview } from '../../src/recall/preview';
import { ALL_WITH_GLOBALS } from '../../src/recall/scope-rules';
import { BAND_EDGE_RATIO, thirdOctaves } from '../../src/signal/third-octaves';
import { DEFAULT_THRESHOLDS } from '../../src/signal/thresholds';
import { seededRandom } from '../../src/signal/wav-samples';
import { type Channels, inMemory } from '../../src/sound/recording';
import { buildRenderGraph, type StemInput } from '../../src/sound/render-graph';
import { renderHere } from '../../src/sound/render-here';
import { thirdOctaveLevels } from '../../src/sound/spectrum';

jest.setTimeout(600_000);

/** As many pairs of states on each desk as are promised, by `npm run faults`; fewer otherwise. */
const PAIRS = FULL ? 250 : 40;

const RATE = 48_000;
/** The second half is measured. */
const FRAMES = FULL ? 57_600 : 14_400;
/** Third octaves that are narrower than two lines of it say nothing: what they hold is chance. */
const LOWEST_HZ = (2 * RATE) / (FRAMES / 2) / (BAND_EDGE_RATIO - 1 / BAND_EDGE_RATIO);
const isJudged = thirdOctaves().map((middle) => middle >= LOWEST_HZ);
/** Noise of −25 dB in the mean. */
const random = seededRandom(1);
const noise: Channels = [Float32Array.from({ length: FRAMES }, () => (random() - 0.5) * 0.2)];
/** One source, so that nothing that cancels by chance is taken for quiet. */
const stems: Record<string, StemInput> = { 'in.1': { hash: 'n1', frames: FRAMES, gain: 0 } };

/** What the model desk makes of noise on a strip, per third octave of one output, in dB. */
function heardOn(profile: Profile, state: State, output: string): readonly number[] {
  const plan = buildRenderGraph(profile, state, {
    output,
    solo: null,
    stems,
    law: 'constant power',
    rate: RATE,
    frames: FRAMES,
  });
  const channels = renderHere(plan, () => inMemory(noise));
  // What builds up, and gates and compressors that begin at rest, have settled in the second half.
  const settled = channels.map((channel) => channel.slice(FRAMES / 2));
  return thirdOctaveLevels({ rate: RATE, channels: settled });
}

/** Faders up, nothing processed: where every pair of states starts from. */
const up = (profile: Profile): State =>
  withSettings(defaultState(profile), {
    'in.1/fader/level': -12,
    'main.1/fader/level': -6,
    ...(profile === quay ? { 'mix.1/fader/level': -3, 'in.1/sends/mix.1/level': -6 } : {}),
  });

/** Whatever decides how loud the strip is on an output, apart from where it meets itself again. */
const LOUD =
  /^(in\.1|main\.1|mix\.1|dca\.1|mutegroup\.1)\/(preamp\/(gain|trim|pad|lowcut.*)|gate\/(on|threshold|range)|eq\/(on|\d\/(on|gain|kind|q|freq))|compressor\/(on|threshold|ratio|makeup|mix)|inserts\/1\/.*|sends\/mix\.1\/(level|on|tap)|fader\/level|mute\/on|routing\/(main\.1|dca\.1|mutegroup\.1))$/;
/** Those of them that decide most. */
const MOST =
  /((gain|trim|makeup|level|ratio|threshold|ceiling|amount|pad)$|(eq|compressor|gate|lowcut)\/on$|inserts\/1\/(on|kind)$)/;

/** What would leave nothing to be heard before. */
const CLOSES = /(mute|routing|gate\/on|fader|\/on$)/;

/** Third octaves from so much above the noise of numbers count, in dB. */
const AUDIBLE = -80;

describe.each([
  ['Boathouse', boathouse, ['main.1']],
  ['Quay 48', quay, ['main.1', 'mix.1']],
] as const)('the model desk is the judge, on %s', (_, profile, outputs) => {
  const addresses = addressesOf(profile).filter((address) => LOUD.test(address));
  const start = up(profile);
  const some = anySettings(
    profile,
    6,
    addresses.filter((address) => !CLOSES.test(address)),
  );
  const few = anySettings(
    profile,
    3,
    addresses.filter((address) => MOST.test(address)),
  );

  test('over many pairs of states no third octave of an output rises over its threshold without a caution that names it', () => {
    let risen = 0;
    fc.assert(
      fc.property(some, few, few, few, (from, ...moves) => {
        const to = joinSettings(moves);
        const before = withSettings(start, from);
        const after = withSettings(before, to);
        const { cautions } = preview({
          profile,
          now: before,
          target: after,
          scope: ALL_WITH_GLOBALS,
          safes: [],
          mode: 'live',
        });
        const rises = risesBetween(profile, before, after);
        for (const output of outputs) {
          const [was, is] = [heardOn(profile, before, output), heardOn(profile, after, output)];
          const most = Math.max(
            ...is.map((level, i) => (isJudged[i] && level > AUDIBLE ? level - Math.max(AUDIBLE, was[i]!) : 0)),
          );
          // No path is claimed to rise by less than the output really does, but for half a decibel.
          const claimed = Math.max(...Object.keys(rises.is[output]!).map((source) => rises.of(output, source)));
          if (most <= DEFAULT_THRESHOLDS.path + 0.5) continue;
          risen++;
          expect(claimed).toBeGreaterThan(most - 0.5);
          const named = cautions.some(
            ({ kind, items }) =>
              ['louder', 'whole', 'ringing'].includes(kind) &&
              items.some(
                ({ strip, outputs: on }) =>
                  on?.includes(output) || strip === output || kind === 'ringing' || /^(dca|mutegroup)/.test(strip),
              ),
          );
          expect(named).toBe(true);
        }
      }),
      { numRuns: PAIRS, endOnFailure: true },
    );
    expect(risen).toBeGreaterThan(PAIRS / 20);
  });
});

test('a shelf at the top of the range is claimed whole, as a filter at 48 kHz makes it there', () => {
  const shelf = { 'in.1/eq/4/kind': 'high shelf', 'in.1/eq/4/freq': 8000, 'in.1/eq/4/gain': 18 };
  const before = withSettings(up(boathouse), { ...shelf, 'in.1/eq/on': false });
  const claimed = risesBetween(boathouse, before, withSettings(before, { 'in.1/eq/on': true })).of('main.1', 'in.1');
  expect(claimed).toBeGreaterThan(17.5);
  expect(claimed).toBeLessThan(18.01);
});
