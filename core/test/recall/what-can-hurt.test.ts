import { boathouse, quay } from '@old-echo/testing/profiles';

import type { Curve } from '../../src/desk/setting';
import { defaultState, type SettingsByAddress, withSettings } from '../../src/desk/state';
import type { Caution, CautionKind } from '../../src/recall/caution';
import { preview } from '../../src/recall/preview';
import { ALL_WITH_GLOBALS } from '../../src/recall/scope-rules';
import { DEFAULT_THRESHOLDS } from '../../src/signal/thresholds';

/**
 * A show: lead voice and fiddle open on the main and, before the fader, in a monitor and in ears; an echo and a hall with what is sent
 * to them; a DCA, a group and a limiter. Whatever is loud by itself is not loud here: every row of the table is the only change.
 */
const SHOW: SettingsByAddress = {
  'in.7/label/name': 'Wren vox',
  'in.7/fader/level': -8,
  'in.7/preamp/gain': 30,
  'in.7/preamp/lowcut/on': true,
  'in.7/preamp/lowcut/freq': 100,
  'in.7/gate/on': true,
  'in.7/gate/threshold': -35,
  'in.7/gate/range': 60,
  'in.7/compressor/on': true,
  'in.7/compressor/threshold': -50,
  'in.7/compressor/ratio': 20,
  'in.7/compressor/knee': 0,
  'in.7/eq/on': true,
  'in.7/sends/mix.1/level': -10,
  'in.7/sends/mix.5/level': -10,
  'in.7/sends/fx.1/level': -12,
  'in.7/sends/fx.2/level': -12,
  'in.1/fader/level': -8,
  'in.1/preamp/gain': 25,
  'in.1/sends/mix.1/level': -10,
  'in.1/label/note': 'Mic behind the bridge',
  'in.9/mute/on': true,
  'in.9/fader/level': -10,
  'in.10/routing/dca.2': true,
  'in.10/fader/level': -14,
  'dca.2/mute/on': true,
  'in.11/routing/mutegroup.1': true,
  'in.11/fader/level': -10,
  'mutegroup.1/mute/on': true,
  'fx.1/routing/mutegroup.2': true,
  'fx.2/routing/mutegroup.2': true,
  'mix.1/fader/level': 0,
  'mix.1/eq/on': true,
  'mix.1/eq/2/kind': 'notch',
  'mix.1/eq/2/freq': 2800,
  'mix.1/eq/2/q': 8,
  'mix.5/fader/level': 0,
  'mix.5/compressor/on': true,
  'mix.5/compressor/threshold': -20,
  'mix.5/compressor/ratio': 20,
  'fx.1/inserts/kind': 'hall',
  'fx.1/inserts/time': 2.4,
  'fx.1/fader/level': -10,
  'fx.2/inserts/kind': 'echo',
  'fx.2/inserts/feedback': 8,
  'fx.2/fader/level': -10,
  'main.1/fader/level': 0,
};

const LANE: Curve = [0, 4, 9, 12, 20, 31].map((at) => [at, -10] as const);
/** A song: a voice with automation, a drive and an echo among its inserts; a limiter on the main. */
const SONG: SettingsByAddress = {
  'in.1/label/name': 'Lead',
  'in.1/fader/level': -10,
  'in.1/automation/fader': LANE,
  'in.1/inserts/1/kind': 'drive',
  'in.1/inserts/1/on': true,
  'in.1/inserts/1/drive/amount': 18,
  'in.1/inserts/2/kind': 'echo',
  'in.1/inserts/2/on': true,
  'in.1/inserts/2/echo/feedback': 10,
  'in.1/inserts/2/echo/mix': 30,
  'in.2/fader/level': -10,
  'in.2/mute/on': true,
  'in.2/automation/mute': [],
  'main.1/fader/level': -3,
  'main.1/inserts/1/kind': 'limiter',
  'main.1/inserts/1/on': true,
  'main.1/inserts/1/limiter/ceiling': -12,
};

const asked = (profile: typeof quay, base: SettingsByAddress, to: SettingsByAddress, mode: 'studio' | 'live') => {
  const now = withSettings(defaultState(profile), base);
  const target = withSettings(now, to);
  return preview({ profile, now, target, scope: ALL_WITH_GLOBALS, safes: [], mode, thresholds: DEFAULT_THRESHOLDS })
    .cautions;
};
/** What the first strip of a caution has to be: its rise in dB to a tenth, or within two of them. */
interface Found {
  readonly strip?: string;
  readonly rise?: number | readonly [from: number, to: number];
  readonly outputs?: readonly string[];
  readonly fact?: Partial<Record<string, unknown>>;
}
type Row = readonly [what: string, to: SettingsByAddress, kind: CautionKind, found: Found];

function expectFound(caution: Caution | undefined, { rise, ...others }: Found) {
  const item = caution?.items[0];
  expect(item).toMatchObject(others);
  if (typeof rise === 'number') expect(item?.rise === Infinity ? Infinity : Number(item?.rise?.toFixed(1))).toBe(rise);
  if (typeof rise === 'object') {
    expect(item?.rise).toBeGreaterThanOrEqual(rise[0]);
    expect(item?.rise).toBeLessThan(rise[1]);
  }
}
const every = (strips: readonly string[], key: string, value: number | boolean) =>
  Object.fromEntries(strips.map((strip) => [`${strip}/${key}`, value]));

// Setting → change → caution. What each adds is arithmetic on its static curve or its magnitude (Audio EQ Cookbook); that it is to be
// cautioned against is common practice.
describe.each(['live', 'studio'] as const)('nothing that can hurt comes back unseen (%s)', (mode) => {
  test.each<Row>([
    [
      'make-up by 20 dB',
      { 'in.7/compressor/makeup': 20 },
      'louder',
      { strip: 'in.7', rise: 20, outputs: expect.arrayContaining(['main.1']) as string[] },
    ],
    ['EQ by 15 dB', { 'in.7/eq/3/gain': 15 }, 'louder', { rise: 15 }],
    ['a shelf by 15 dB', { 'in.7/eq/1/gain': 15 }, 'louder', { rise: [14, 16] }],
    ['a compressor that held 47 dB goes', { 'in.7/compressor/on': false }, 'louder', { rise: 47.5 }],
    ['a compressor of which nothing is mixed in any more', { 'in.7/compressor/mix': 0 }, 'louder', { rise: 47.5 }],
    ['a compressor whose threshold goes up', { 'in.7/compressor/threshold': 0 }, 'louder', {}],
    ['a compressor whose ratio goes', { 'in.7/compressor/ratio': 1 }, 'louder', {}],
    ['a gate goes', { 'in.7/gate/on': false }, 'louder', { rise: 60 }],
    ['a gate that opens for everything', { 'in.7/gate/threshold': -80 }, 'louder', { rise: 60 }],
    ['a gate that closes less', { 'in.7/gate/range': 10 }, 'louder', { rise: 50 }],
    [
      'what limits the ears goes',
      { 'mix.5/compressor/on': false },
      'louder',
      { strip: 'mix.5', rise: 19, outputs: ['mix.5'] },
    ],
    ['a low cut goes', { 'in.7/preamp/lowcut/on': false }, 'louder', { rise: [27, 29] }],
    ['a low cut goes down', { 'in.7/preamp/lowcut/freq': 20 }, 'louder', {}],
    [
      'a feedback notch in a monitor goes',
      { 'mix.1/eq/2/on': false },
      'ringing',
      { strip: 'mix.1', rise: 18, fact: { is: 'boosted', hertz: 2800 } },
    ],
    ['a feedback notch in a monitor becomes flat', { 'mix.1/eq/2/kind': 'bell' }, 'ringing', {}],
    ['the EQ of a monitor goes', { 'mix.1/eq/on': false }, 'ringing', {}],
    [
      'a narrow boost on an open microphone',
      { 'in.7/eq/3/gain': 5, 'in.7/eq/3/q': 6 },
      'ringing',
      { rise: 5, fact: { is: 'boosted', hertz: 2500 } },
    ],
    ['a narrow boost on the main', { 'main.1/eq/on': true, 'main.1/eq/2/gain': 4, 'main.1/eq/2/q': 8 }, 'ringing', {}],
    [
      'repeats that hardly die away',
      { 'fx.2/inserts/feedback': 95 },
      'ringing',
      { strip: 'fx.2', fact: { is: 'repeats', percent: 95 } },
    ],
    [
      'feedback and what is sent to it together',
      { 'fx.2/inserts/feedback': 40, 'in.7/sends/fx.2/level': -7 },
      'louder',
      {},
    ],
    ['a return that lets the dry sound through', { 'fx.1/inserts/mix': 0 }, 'louder', {}],
    ['a hall of 10 s after one of 2.4 s', { 'fx.1/inserts/time': 10 }, 'louder', { rise: 6.2 }],
    ['a return that is another echo', { 'fx.1/inserts/kind': 'echo', 'fx.1/inserts/feedback': 90 }, 'louder', {}],
    ['polarity of one voice', { 'in.7/preamp/polarity': true }, 'polarity', {}],
    ['a fader behind its mute by 10 dB', { 'in.9/fader/level': 0 }, 'behind', { strip: 'in.9', rise: 10 }],
    ['faders behind a muted DCA by 14 dB', { 'in.10/fader/level': 0 }, 'behind', { rise: 14 }],
    [
      'a mute group that opens',
      { 'mutegroup.1/mute/on': false },
      'louder',
      { strip: 'mutegroup.1', rise: Infinity, outputs: ['main.1'] },
    ],
    ['a fader behind a muted mute group by 10 dB', { 'in.11/fader/level': 0 }, 'behind', { rise: 10 }],
    [
      'a strip that leaves its muted mute group',
      { 'in.11/routing/mutegroup.1': false },
      'louder',
      { strip: 'in.11', rise: Infinity },
    ],
    ['a mute group that closes', { 'mutegroup.2/mute/on': true }, 'silent', { strip: 'fx.1', fact: { is: 'silent' } }],
    ['make-up behind a mute', { 'in.9/compressor/on': true, 'in.9/compressor/makeup': 12 }, 'behind', {}],
    ['a strip that closes louder', { 'in.7/mute/on': true, 'in.7/fader/level': 6 }, 'behind', { rise: 14 }],
    ['every input by 5.9 dB', every(['in.7', 'in.1'], 'fader/level', -2.1), 'whole', { rise: 5.9 }],
    [
      'every send of a monitor by 5.9 dB',
      every(['in.7', 'in.1'], 'sends/mix.1/level', -4.1),
      'whole',
      { strip: 'mix.1', rise: 5.9 },
    ],
    [
      'main and its EQ by 2.9 dB each',
      { 'main.1/fader/level': 2.9, 'main.1/eq/on': true, 'main.1/eq/1/gain': 2.9 },
      'whole',
      {},
    ],
    [
      'the main by 3.1 dB',
      { 'main.1/fader/level': 3.1 },
      'louder',
      { strip: 'main.1', rise: 3.1, outputs: ['main.1'] },
    ],
    ['preamp gain by 12 dB', { 'in.7/preamp/gain': 42 }, 'louder', {}],
    ['a pad that goes', { 'in.7/preamp/pad': false }, 'louder', { rise: 20 }],
    [
      'a socket that is plugged in',
      { 'in.8/source/socket': 'Stage 8', 'in.8/fader/level': 0 },
      'louder',
      { rise: Infinity },
    ],
    [
      'a send that goes before the fader',
      { 'in.12/sends/mix.1/tap': 'pre' },
      'louder',
      { rise: Infinity, outputs: ['mix.1'] },
    ],
    ['a group that is joined', { 'in.8/routing/group.1': true, 'in.8/fader/level': -3 }, 'louder', {}],
    ['headphones by 27 dB', { 'desk.1/headphones/level': -3 }, 'global', { strip: 'desk.1', rise: 27 }],
    ['monitor by 27 dB', { 'desk.1/monitor/level': -3 }, 'global', {}],
    ['talkback that would lead into the main', { 'desk.1/talkback/to': 'main' }, 'global', {}],
    ['another clock', { 'desk.1/clock/source': 'network' }, 'global', {}],
    ['main muted', { 'main.1/mute/on': true }, 'silent', { strip: 'main.1', fact: { is: 'silent' } }],
    ['ears muted', { 'mix.5/mute/on': true }, 'silent', { strip: 'mix.5', fact: { is: 'silent' } }],
    [
      'ears that lose what is sent before the fader',
      { 'in.7/sends/mix.5/on': false },
      'silent',
      { strip: 'mix.5', fact: { is: 'silent' } },
    ],
    [
      'a monitor that loses one of two',
      { 'in.7/sends/mix.1/level': -90 },
      'silent',
      { strip: 'in.7', outputs: ['mix.1'], fact: { is: 'leaves' } },
    ],
    ['a source that is unplugged', { 'in.1/source/socket': 'none' }, 'silent', { strip: 'in.1' }],
    ['48 V off', { 'in.7/preamp/phantom': false }, 'phantom', { strip: 'in.7', fact: { is: 'switched', to: false } }],
    [
      'a note that goes',
      { 'in.1/label/note': '' },
      'lost',
      { strip: 'in.1', fact: { is: 'emptied', lanes: [], notes: ['Mic behind the bridge'] } },
    ],
  ])('%s', (_, to, kind, what) => {
    const now = { ...SHOW, 'in.7/preamp/phantom': true, ...NOW[_] };
    const found = asked(quay, now, to, mode).filter((caution) => caution.kind === kind);
    expect(found.map((caution) => caution.kind)).toEqual([kind]);
    expectFound(found[0], what);
    const weight = found[0]?.weight;
    if (kind === 'silent') expect(weight).toBe(mode === 'live' ? 'care' : 'note');
    else if (kind === 'lost') expect(weight).toBe('stop');
    else if (mode === 'live' && kind !== 'polarity' && kind !== 'phantom') expect(weight).toBe('stop');
  });

  test.each<Row>([
    ['a limiter on the main goes', { 'main.1/inserts/1/on': false }, 'louder', { strip: 'main.1', rise: 12 }],
    ['a limiter on the main is taken out', { 'main.1/inserts/1/kind': 'empty' }, 'louder', { rise: 12 }],
    ['a ceiling that is lifted', { 'main.1/inserts/1/limiter/ceiling': 0 }, 'louder', { rise: 12 }],
    ['a drive from 18 to 100 %', { 'in.1/inserts/1/drive/amount': 100 }, 'louder', { rise: 12.1 }],
    ['an echo from 10 to 95 %', { 'in.1/inserts/2/echo/feedback': 95 }, 'ringing', {}],
    [
      'the lane of a fader by 10 dB',
      { 'in.1/automation/fader': LANE.map(([at]) => [at, 0] as const) },
      'lane',
      { rise: 10 },
    ],
    ['the lane of a send', { 'in.3/automation/fx.1': [[0, -5]] }, 'lane', {}],
    ['a lane of a mute that opens', { 'in.2/automation/mute': [[8, 0]] }, 'lane', { rise: Infinity }],
    [
      'a lane of six points that goes',
      { 'in.1/automation/fader': [] },
      'lost',
      { strip: 'in.1', fact: { is: 'emptied', lanes: [['automation/fader', 6]], notes: [] } },
    ],
  ])('in the studio: %s', (_, to, kind, what) => {
    const now = { ...SONG, 'fx.1/fader/level': -5, 'in.3/fader/level': -10, 'in.3/routing/main.1': false };
    const found = asked(boathouse, now, to, mode).filter((caution) => caution.kind === kind);
    expect(found.map((caution) => caution.kind)).toEqual([kind]);
    expectFound(found[0], what);
    if (kind === 'lane' || kind === 'lost') expect(found[0]?.weight).toBe('stop');
  });
});

/** Where a row begins from something else than the show. */
const NOW: Readonly<Record<string, SettingsByAddress>> = {
  'a pad that goes': { 'in.7/preamp/pad': true },
  'a socket that is plugged in': { 'in.8/source/socket': 'none' },
  'a send that goes before the fader': {
    'in.12/fader/level': -90,
    'in.12/sends/mix.1/level': 0,
    'in.12/sends/mix.1/tap': 'post',
  },
  'a group that is joined': { 'in.8/routing/main.1': false, 'group.1/fader/level': 0, 'in.8/fader/level': -3 },
};

describe('what is meant is not cautioned against', () => {
  test.each<[string, SettingsByAddress]>([
    ['a quieter fader', { 'in.7/fader/level': -14 }],
    ['EQ that cuts', { 'in.7/eq/2/gain': -6 }],
    ['a wide lift of 3 dB', { 'in.7/eq/3/gain': 3 }],
    ['a compressor that holds more', { 'in.7/compressor/threshold': -55 }],
    ['a gate that closes more', { 'in.7/gate/range': 70 }],
    ['a low cut that goes up', { 'in.7/preamp/lowcut/freq': 120 }],
    ['a shorter hall', { 'fx.1/inserts/time': 1.2 }],
    ['a hall that rings a little longer', { 'fx.1/inserts/time': 3 }],
    [
      'main and DCA against each other',
      { 'main.1/fader/level': 2.5, 'in.7/fader/level': -10.5, 'in.1/fader/level': -10.5 },
    ],
    [
      'make-up for what a fader takes',
      {
        'in.7/compressor/makeup': 10,
        'in.7/fader/level': -18,
        'in.7/sends/mix.1/level': -20,
        'in.7/sends/mix.5/level': -20,
        'in.7/sends/fx.1/level': -12,
      },
    ],
    ['a note that is written', { 'in.7/label/note': 'Capo 2' }],
    ['a narrow boost on a closed strip', { 'in.20/eq/on': true, 'in.20/eq/2/gain': 9, 'in.20/eq/2/q': 8 }],
    ['a fader behind a mute that goes down', { 'in.9/fader/level': -30 }],
  ])('%s', (_, to) => expect(asked(quay, SHOW, to, 'live').filter(({ weight }) => weight === 'stop')).toEqual([]));
});

test('in the studio a mute that opens what stood there is care; a fader that jumps up from nothing has to be answered', () => {
  const now = { ...SONG, 'in.3/fader/level': -10, 'in.3/mute/on': true, 'in.4/fader/level': -90 };
  const [mute] = asked(boathouse, now, { 'in.3/mute/on': false }, 'studio');
  const [jump] = asked(boathouse, now, { 'in.4/fader/level': -4 }, 'studio');
  expect([mute?.weight, jump?.weight]).toEqual(['care', 'stop']);
});
