import fc from 'fast-check';

import { between } from '@old-echo/testing/between';
import { boathouse, quay } from '@old-echo/testing/profiles';
import { anySettings, anyState } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { defaultState, type SettingsByAddress, withSettings } from '../../src/desk/state';
import { type Caution, type CautionKind, isCovered, type Severity } from '../../src/recall/caution';
import { preview } from '../../src/recall/preview';
import { ALL_EXCEPT_GLOBALS, ALL_WITH_GLOBALS, type Safes } from '../../src/recall/scope-rules';
import { DEFAULT_THRESHOLDS, thresholdsShape } from '../../src/signal/thresholds';

/** Strips 1 to 4 open on the main at -15 dB with 20 dB of gain, 2 and 3 a linked pair; the rest of the desk is closed. */
const base = withSettings(defaultState(quay), {
  'main.1/fader/level': 0,
  'mix.1/fader/level': 0,
  'matrix.1/fader/level': 0,
  'main.1/sends/matrix.1/level': 0,
  'fx.1/fader/level': -90,
  'in.2/source/link': true,
  ...Object.fromEntries([1, 2, 3, 4].map((n) => [`in.${n}/fader/level`, -15])),
  'in.1/label/name': 'Fiddle',
  'in.9/label/name': 'Brass 1',
});

interface Case {
  readonly now?: SettingsByAddress;
  readonly to: SettingsByAddress;
  readonly mode?: 'studio' | 'live';
  readonly muteFirst?: string[];
  readonly safes?: Safes;
}
const plan = ({ now = {}, to, mode = 'live', muteFirst = [], safes = [] }: Case, thresholds = DEFAULT_THRESHOLDS) => {
  const before = withSettings(base, now);
  const target = withSettings(before, to);
  return preview({ profile: quay, now: before, target, scope: ALL_EXCEPT_GLOBALS, safes, mode, muteFirst, thresholds });
};
const kinds = (cautions: readonly Caution[]) => cautions.map(({ kind, weight }) => [kind, weight]);

describe('cautions', () => {
  test.each<[SettingsByAddress, opening: number, rising: number]>([
    [{ 'in.5/fader/level': -15, 'in.9/fader/level': -15 }, 2, 0],
    [{ 'in.9/fader/level': -15, 'in.1/fader/level': -5 }, 1, 1],
    [
      {
        ...Object.fromEntries([5, 6, 7].map((n) => [`in.${n}/fader/level`, -15])),
        'in.1/fader/level': -5,
        'in.4/fader/level': -5,
      },
      3,
      2,
    ],
  ])('%# what opens comes before what only rises, one line for each strip', (to, opening, rising) => {
    const found = plan({ to }).cautions.find(({ kind }) => kind === 'louder')!;
    const opens = found.items.map(({ rise }) => rise === Infinity);
    expect(opens).toEqual([...Array<boolean>(opening).fill(true), ...Array<boolean>(rising).fill(false)]);
  });

  // Every row of the table: what the restore does, in the studio, at a show. Common practice, as are the thresholds.
  test.each<[string, Case, CautionKind | null, Severity?, Severity?]>([
    ['a path opens far above what is heard', { to: { 'in.9/fader/level': -15 } }, 'louder', 'stop', 'stop'],
    ['a path opens a little', { to: { 'in.9/fader/level': -40 } }, 'louder', 'care', 'stop'],
    ['a path opens so little that nobody hears it', { to: { 'in.9/fader/level': -70 } }, null],
    ['a path rises by 6.1 dB', { to: { 'in.1/fader/level': -8.9 } }, 'louder', 'care', 'stop'],
    ['a path rises by 6 dB', { to: { 'in.1/fader/level': -9 } }, null],
    ['a path falls', { to: { 'in.1/fader/level': -40 } }, null],
    ['a monitor path opens', { to: { 'in.1/sends/mix.1/level': -10 } }, 'louder', 'stop', 'stop'],
    [
      'a monitor path rises by 8 dB',
      { now: { 'in.1/sends/mix.1/level': -20 }, to: { 'in.1/sends/mix.1/level': -12 } },
      'louder',
      'care',
      'stop',
    ],
    ['a DCA rises by 4 dB', { to: { 'dca.1/fader/level': 4 } }, 'louder', 'care', 'stop'],
    ['a DCA rises by 3 dB', { to: { 'dca.1/fader/level': 3 } }, null],
    ['the main rises by 4 dB', { to: { 'main.1/fader/level': 4 } }, 'louder', 'care', 'stop'],
    [
      'phantom power, and the strip is muted on the way',
      { to: { 'in.1/preamp/phantom': true } },
      'phantom',
      'care',
      'care',
    ],
    ['preamp gain rises by 6 dB on an open path', { to: { 'in.1/preamp/gain': 26 } }, null],
    ['preamp gain rises by 12 dB on a closed path', { to: { 'in.9/preamp/gain': 32 } }, null],
    ['the routing of an open strip changes', { to: { 'in.1/routing/group.2': true } }, 'patch', 'care', 'stop'],
    [
      'the source of an open strip changes, muted on the way',
      { to: { 'in.1/source/socket': 'Stage 30' } },
      'patch',
      'care',
      'care',
    ],
    ['the source of a closed strip changes', { to: { 'in.9/source/socket': 'Stage 30' } }, null],
    ['polarity flips on one half of a pair', { to: { 'in.2/preamp/polarity': true } }, 'polarity', 'care', 'care'],
    ['polarity flips on both halves', { to: { 'in.2/preamp/polarity': true, 'in.3/preamp/polarity': true } }, null],
    ['polarity flips on an open strip by itself', { to: { 'in.1/preamp/polarity': true } }, 'polarity', 'care', 'care'],
    ['polarity flips on a closed strip', { to: { 'in.9/preamp/polarity': true } }, null],
    ['a delay changes on an open path', { to: { 'in.1/inserts/delay': 12 } }, 'click', 'note', 'care'],
    ['the insert changes on a closed path', { to: { 'in.9/inserts/device': 'Rack 1' } }, null],
  ])('%s', (_, only, kind, ...[studio, live]) => {
    for (const [mode, weight] of [
      ['studio', studio],
      ['live', live],
    ] as const)
      expect(kinds(plan({ ...only, mode }).cautions)).toEqual(kind ? [[kind, weight]] : []);
  });

  test('one gain knob is one caution, with all the outputs it is heard on; where something makes up for it, it is told as gain', () => {
    const monitors = Object.fromEntries([1, 2, 3, 4, 5, 6, 7].map((n) => [`in.1/sends/mix.${n}/level`, -10]));
    const faders = Object.fromEntries([1, 2, 3, 4, 5, 6, 7].map((n) => [`mix.${n}/fader/level`, 0]));
    const { cautions } = plan({
      now: { ...monitors, ...faders },
      to: { ...monitors, ...faders, 'in.1/preamp/gain': 32 },
    });
    expect(cautions.map(({ kind }) => kind)).toEqual(['louder']);
    const [item] = cautions[0]!.items;
    expect([item?.strip, item?.rise?.toFixed(1), item?.outputs?.length]).toEqual(['in.1', '12.0', 8]);
    const made = plan({ to: { 'in.1/preamp/gain': 27, 'in.1/fader/level': -22 } }).cautions;
    expect(made.map(({ kind, items }) => [kind, items[0]?.strip, items[0]?.fact])).toEqual([
      ['gain', 'in.1', { is: 'gained', by: 7 }],
    ]);
  });

  test.each<[string, SettingsByAddress, string, string]>([
    ['one strip', { 'in.1/fader/level': -5.6 }, 'main.1', '9.4'],
    ['a strip in a monitor', { 'in.1/sends/mix.1/level': -10 }, 'mix.1', 'Infinity'],
  ])('%s is who gets louder, and the path is where', (_, to, output, rise) => {
    const found = plan({ to }).cautions.find(({ kind }) => kind === 'louder');
    const [item] = found!.items;
    expect([item?.strip, item?.outputs, item?.rise?.toFixed(1)]).toEqual(['in.1', [output], rise]);
  });

  test.each<[string, Case, Caution['form']]>([
    ['an open strip, muted on the way', { to: { 'in.1/preamp/phantom': true } }, 'muted'],
    ['a strip that stands muted', { now: { 'in.1/mute/on': true }, to: { 'in.1/preamp/phantom': true } }, 'muted'],
    [
      'a strip whose fader is down, but whose mute is not to be touched',
      {
        now: { 'in.12/fader/level': -90 },
        to: { 'in.12/preamp/phantom': true },
        safes: [{ strips: ['in.12'], sections: ['mute'] }],
      },
      'inaudible',
    ],
  ])('of 48 V on %s nothing is said that is not so', (_, only, why) => {
    const caution = plan(only).cautions.find(({ kind }) => kind === 'phantom');
    expect(caution?.form).toBe(why);
  });

  test('phantom power is a stop where the strip cannot be muted first', () => {
    const before = withSettings(base, {});
    const cautions = preview({
      profile: quay,
      now: before,
      target: withSettings(before, { 'in.1/preamp/phantom': true }),
      scope: ALL_EXCEPT_GLOBALS,
      safes: [{ strips: ['in.1'], sections: ['mute'] }],
      mode: 'live',
    }).cautions;
    expect(kinds(cautions)).toEqual([['phantom', 'stop']]);
  });

  test('automation whose processor goes is a stop in every mode, with its points counted', () => {
    const now = withSettings(defaultState(boathouse), {
      'in.1/inserts/1/kind': 'drive',
      'in.1/automation/inserts/1': [
        [0, 10],
        [4, 60],
        [9, 0],
      ],
    });
    const target = withSettings(now, { 'in.1/inserts/1/kind': 'empty' });
    for (const mode of ['studio', 'live'] as const) {
      const { cautions } = preview({ profile: boathouse, now, target, scope: ALL_EXCEPT_GLOBALS, safes: [], mode });
      const lost = cautions.find((caution) => caution.kind === 'automation');
      expect([lost?.weight, lost?.items[0]?.fact]).toEqual(['stop', { is: 'lane', points: 3 }]);
    }
  });

  test('a send into an effect that is not the one the scene had there', () => {
    const now = withSettings(base, { 'fx.1/inserts/kind': 'echo' });
    const target = withSettings(now, { 'fx.1/inserts/kind': 'hall', 'in.1/sends/fx.1/level': -8 });
    const scope = [{ strips: ['in'], sections: ['sends'], include: true }];
    const { cautions } = preview({ profile: quay, now, target, scope, safes: [], mode: 'live' });
    expect(kinds(cautions)).toEqual([['effect', 'care']]);
    expect(cautions[0]?.items[0]?.fact).toEqual({ is: 'fed', effect: 'fx.1', holds: 'echo', held: 'hall' });
  });

  test('says which output, by how much, from whom, and what makes it so', () => {
    const { cautions } = plan({
      now: { 'in.9/fader/level': -20 },
      to: { 'in.9/fader/level': -14, 'in.9/preamp/gain': 23.4 },
    });
    expect(cautions[0]?.items).toMatchObject([{ strip: 'in.9', outputs: ['main.1'] }]);
    expect(cautions[0]?.items[0]?.rise).toBeCloseTo(9.4, 6);
    expect(cautions[0]?.items[0]?.causes.toSorted()).toEqual(['in.9/fader/level', 'in.9/preamp/gain']);
  });

  test('a matrix that only follows the main is not told twice; one that rises by itself is', () => {
    expect(plan({ to: { 'in.9/fader/level': -15 } }).cautions.map((c) => c.items[0]?.outputs)).toEqual([['main.1']]);
    expect(plan({ to: { 'main.1/sends/matrix.1/level': 8 } }).cautions.map((c) => c.items[0]?.outputs)).toEqual([
      ['matrix.1'],
    ]);
  });

  test('without what causes it, no path is louder any more: leaving out is a way out', () => {
    fc.assert(
      fc.property(anyState(quay, 120), anyState(quay, 120), (now, target) => {
        const input = { profile: quay, now, target, safes: [], mode: 'live' as const };
        const causes = preview({ ...input, scope: ALL_EXCEPT_GLOBALS }).cautions.flatMap((c) =>
          c.kind === 'louder' ? c.items.flatMap((i) => i.causes) : [],
        );
        const without = [...new Set(causes)].map((address) => {
          const [strip = '', section = '', ...rest] = address.split('/');
          return { strips: [strip], sections: [section], settings: [[section, ...rest].join('/')], include: false };
        });
        const left = preview({ ...input, scope: [...ALL_EXCEPT_GLOBALS, ...without] }).cautions.filter(
          (c) => c.kind === 'louder',
        );
        // What closes a strip may have been what kept another way quiet; each round has fewer, and ends.
        expect(left.length).toBeLessThanOrEqual(causes.length);
        if (causes.length > 0)
          expect(left.flatMap((c) => c.items.flatMap((i) => i.causes)).some((a) => causes.includes(a))).toBe(false);
      }),
      { numRuns: 30 },
    );
  });

  test('muted first, a patch on an open path is no longer a stop', () => {
    const to = { 'in.1/routing/group.2': true };
    expect(kinds(plan({ to, muteFirst: ['in.1'] }).cautions)).toEqual([['patch', 'care']]);
    expect(plan({ to, muteFirst: ['in.1'] }).guarded).toEqual(['in.1']);
  });

  test('thresholds can be tightened, and not loosened', () => {
    expect(
      plan({ to: { 'in.1/fader/level': -12 } }, { ...DEFAULT_THRESHOLDS, path: 2 } as never).cautions,
    ).toHaveLength(1);
    expect(() => thresholdsShape.validateSync({ path: 7 })).toThrow();
    expect(thresholdsShape.validateSync({ master: 0 })).toEqual({ ...DEFAULT_THRESHOLDS, master: 0 });
  });

  test('an answer covers what was read and nothing more: a further threshold, another output or another strip asks again', () => {
    const seen = (to: SettingsByAddress, now: SettingsByAddress = {}) =>
      plan({ to, now: { 'in.9/fader/level': -30, ...now } }).cautions.filter(({ kind }) => kind === 'louder');
    const [read] = seen({ 'in.9/fader/level': -22 });
    const covers = (to: SettingsByAddress, now?: SettingsByAddress) =>
      seen(to, now).every((c) => isCovered(c, read!.points));
    expect(covers({ 'in.9/fader/level': -22 }, { 'in.9/fader/level': -33.5 })).toBe(true);
    expect(covers({ 'in.9/fader/level': -24 })).toBe(true);
    expect(covers({ 'in.9/fader/level': -17 })).toBe(false);
    expect(covers({ 'in.9/fader/level': -22 }, { 'in.9/fader/level': -90 })).toBe(false);
    expect(covers({ 'in.9/fader/level': -22, 'in.9/sends/mix.1/level': -10 })).toBe(false);
    expect(covers({ 'in.9/fader/level': -22, 'in.5/fader/level': -20 })).toBe(false);
  });

  test('a hand that rides faders within a threshold between preview and restore asks for nothing new, one that goes over it does', () => {
    const rides = [1, 2, 3, 4].map((n) => `in.${n}/fader/level`);
    const to = { 'in.9/fader/level': -15, ...Object.fromEntries(rides.map((address) => [address, -8])) };
    const read = plan({ to }).cautions.flatMap(({ points }) => points);
    fc.assert(
      // A path rises by 7 dB to -8 dB; from under -20 dB on it would be 12 dB, twice its threshold.
      fc.property(fc.record(Object.fromEntries(rides.map((r) => [r, between(-19.9, 0)]))), (now) => {
        for (const caution of plan({ to, now }).cautions) expect(isCovered(caution, read)).toBe(true);
      }),
      { numRuns: 100 },
    );
    for (const level of [-40, -20.1]) {
      const far = plan({ to, now: { 'in.1/fader/level': level } }).cautions;
      expect(far.every((caution) => isCovered(caution, read))).toBe(false);
    }
    // A path that nobody has read of makes the output another one.
    const other = plan({
      to: { ...to, 'in.8/fader/level': -7 },
      now: { 'in.1/fader/level': -13.9, 'in.8/fader/level': -12.9 },
    });
    expect(other.cautions.every((caution) => isCovered(caution, read))).toBe(false);
  });

  test('nothing that changes means nothing to be cautious of', () => {
    fc.assert(
      fc.property(anyState(quay), (state) => {
        expect(
          preview({
            profile: quay,
            now: state,
            target: structuredClone(state),
            scope: ALL_EXCEPT_GLOBALS,
            safes: [],
            mode: 'live',
          }).cautions,
        ).toEqual([]);
      }),
      { numRuns: 10 },
    );
  });
});

describe('the halves of a linked pair', () => {
  const linked = { 'in.3/source/link': true };
  const two = (
    from: SettingsByAddress,
    to: SettingsByAddress,
    scope = ALL_EXCEPT_GLOBALS,
    mode: 'studio' | 'live' = 'studio',
  ) =>
    preview({
      profile: quay,
      now: withSettings(defaultState(quay), { ...linked, ...from }),
      target: withSettings(defaultState(quay), { ...linked, ...to }),
      scope,
      safes: [],
      mode,
    }).cautions.filter(({ kind }) => kind === 'pair');
  const only = (strip: string) => [{ strips: [strip], sections: ['*'], include: true }];

  test('one that comes back alone is cautioned against, with the name of the one that stays', () => {
    const both = { 'in.3/fader/level': -9, 'in.4/fader/level': -9 };
    const [caution] = two({}, { ...both, 'in.4/label/name': '' }, only('in.3'));
    expect(caution).toMatchObject({ weight: 'care', items: [{ strip: 'in.3', causes: ['in.3/fader/level'] }] });
    expect(two({}, both)).toEqual([]);
    expect(two({}, both, only('in.4'))[0]?.items[0]?.strip).toBe('in.4');
  });

  // Common practice: where each half comes from, stands and is called is its own.
  test.each(['in.3/pan/position', 'in.3/label/note', 'in.3/source/socket', 'in.3/sends/mix.1/pan'])(
    '%s is not a matter of both',
    (address) => {
      const value = address.includes('pan') ? -100 : address.includes('note') ? 'x' : 'Stage 40';
      expect(two({}, { [address]: value }, only('in.3'))).toEqual([]);
    },
  );

  test('over random states and scopes: whoever is left unlike its other half by a restore is named, and nobody else', () => {
    const strips = ['in.3', 'in.4', 'in.5', 'in.6'];
    const keys = ['fader/level', 'mute/on', 'eq/on', 'eq/1/gain', 'pan/position', 'sends/mix.1/level', 'preamp/gain'];
    const addresses = strips.flatMap((strip) => keys.map((key) => `${strip}/${key}`));
    const any = anySettings(quay, 20, addresses);
    const pairs = { 'in.3/source/link': true, 'in.5/source/link': true };
    const scopes = fc.array(
      fc.record({
        strips: fc.subarray(strips, { minLength: 1 }),
        sections: fc.subarray(['fader', 'mute', 'eq', 'pan', 'sends', 'preamp'], { minLength: 1 }),
        include: fc.constant(true),
      }),
      { minLength: 1, maxLength: 3 },
    );
    let named = 0;
    fc.assert(
      fc.property(any, any, scopes, (from, to, scope) => {
        const now = withSettings(defaultState(quay), { ...from, ...pairs });
        const target = withSettings(defaultState(quay), { ...to, ...pairs });
        const { changes, cautions } = preview({ profile: quay, now, target, scope, safes: [], mode: 'studio' });
        const after = withSettings(now, Object.fromEntries(changes.map((c) => [c.address, c.to])));
        const changed = new Set(changes.map(({ address }) => address));
        const half = (strip: string) =>
          ({ 'in.3': 'in.4', 'in.4': 'in.3', 'in.5': 'in.6', 'in.6': 'in.5' })[strip] as string;
        const expected = changes
          .filter(({ strip, key }) => key !== 'pan/position' && !changed.has(`${half(strip)}/${key}`))
          .filter(({ strip, key }) => after[strip]?.[key] !== after[half(strip)]?.[key])
          .map(({ address }) => address);
        const told = cautions
          .filter(({ kind }) => kind === 'pair')
          .flatMap(({ items }) => items.flatMap((i) => i.causes));
        named += expected.length;
        expect([...told].sort()).toEqual([...expected].sort());
      }),
      { numRuns: runs(2000) },
    );
    expect(named).toBeGreaterThan(runs(2000) / 2);
  });
});

describe('what belongs to the whole desk', () => {
  const globals = (from: SettingsByAddress, to: SettingsByAddress, mode: 'studio' | 'live' = 'live') =>
    preview({
      profile: quay,
      now: withSettings(defaultState(quay), from),
      target: withSettings(defaultState(quay), to),
      scope: ALL_WITH_GLOBALS,
      safes: [],
      mode,
    }).cautions.filter(({ kind }) => kind === 'global');

  test.each([
    ['headphones 27 dB louder', { 'desk.1/headphones/level': -30 }, { 'desk.1/headphones/level': -3 }, 27],
    ['monitor that opens', { 'desk.1/monitor/level': -90 }, { 'desk.1/monitor/level': -20 }, Infinity],
    ['dim that goes', { 'desk.1/monitor/dim': true }, {}, undefined],
    ['talkback that opens', {}, { 'desk.1/talkback/on': true }, undefined],
    ['another clock', {}, { 'desk.1/clock/rate': '96 kHz' }, undefined],
  ])('%s is a stop at a show, and care in the studio', (_, from, to, rise) => {
    expect(globals(from, to).map((c) => [c.weight, c.items[0]?.rise])).toEqual([['stop', rise]]);
    expect(globals(from, to, 'studio').map((c) => c.weight)).toEqual(['care']);
  });

  test.each([
    ['headphones a little louder', { 'desk.1/headphones/level': -30 }, { 'desk.1/headphones/level': -25 }],
    ['headphones quieter', { 'desk.1/headphones/level': -3 }, { 'desk.1/headphones/level': -30 }],
    ['dim that comes', {}, { 'desk.1/monitor/dim': true }],
    ['talkback that closes', { 'desk.1/talkback/on': true }, {}],
  ])('%s is not', (_, from, to) => expect(globals(from, to)).toEqual([]));

  test('each is left out by itself', () => {
    const to = { 'desk.1/headphones/level': -3, 'desk.1/clock/rate': '96 kHz' };
    const found = globals({ 'desk.1/headphones/level': -30 }, to);
    expect(found.map((c) => c.items.flatMap((i) => i.causes)).sort()).toEqual([
      ['desk.1/clock/rate'],
      ['desk.1/headphones/level'],
    ]);
  });
});
