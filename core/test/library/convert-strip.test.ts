import fc from 'fast-check';

import { boathouse, profileJson, PROFILES, quay, skiff } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';

import { parseProfile, type Profile, stripFamily } from '../../src/desk/profile';
import { validateValue, type Value } from '../../src/desk/setting';
import { defaultState } from '../../src/desk/state';
import { type Carried, type ConversionNote, convertStrip } from '../../src/library/convert-strip';
import { conversionReport } from '../../src/phrases/conversion-report';

const alone = new Map<string, string>();
const carried = (from: Profile, strip: string, keys: Record<string, Value>, to: Profile, onto: string): Carried => ({
  from,
  strip,
  settings: { ...defaultState(from)[strip], ...keys },
  to,
  onto,
  others: alone,
});
const noteOn = (notes: readonly ConversionNote[], key: string) => notes.find((note) => note.key === key);

describe('a strip of one desk on another', () => {
  test('what a strip of the same desk holds lands there as it is', () => {
    fc.assert(
      fc.property(anyState(quay, 60), (state) => {
        const others = new Map(quay.strips.map((strip) => [strip, strip]));
        const settings = state['in.3'] ?? {};
        const landed = convertStrip({ from: quay, strip: 'in.3', settings, to: quay, onto: 'in.9', others });
        expect(landed).toEqual({ settings, notes: [] });
      }),
      { numRuns: 60 },
    );
  });

  test('whatever lands is something that the other desk can hold, and nothing is invented', () => {
    const pairs = PROFILES.flatMap(([, from]) => PROFILES.map(([, to]) => [from, to] as const));
    for (const [from, to] of pairs)
      fc.assert(
        fc.property(anyState(from, 60), fc.constantFrom('in.1', 'fx.1', 'main.1'), (state, strip) => {
          const { settings, notes } = convertStrip({
            from,
            strip,
            settings: state[strip] ?? {},
            to,
            onto: strip,
            others: new Map([['fx.1', 'fx.2']]),
          });
          const family = stripFamily(to, strip);
          for (const [key, value] of Object.entries(settings)) {
            const spec = family?.settings[key];
            expect([key, spec && validateValue(spec, value)]).toEqual([key, { ok: true, value }]);
          }
          // Nothing that could be heard goes without a word.
          if (state[strip]?.['compressor/on'] === true && !family?.keys.includes('compressor/on'))
            expect(noteOn(notes, 'compressor/on')).toBeDefined();
        }),
        { numRuns: 25 },
      );
  });

  test('ranges are clamped, and it says from what to what', () => {
    const { settings, notes } = convertStrip(
      carried(boathouse, 'in.1', { 'compressor/threshold': -52, 'compressor/on': true }, skiff, 'in.2'),
    );
    expect(settings['compressor/threshold']).toBe(-40);
    expect(noteOn(notes, 'compressor/threshold')).toMatchObject({ from: -52, to: -40 });
  });

  test('steps are the other desk’s own: 2.7 : 1 becomes 2.5 : 1 where the step is a half', () => {
    const { settings, notes } = convertStrip(carried(boathouse, 'in.1', { 'compressor/ratio': 2.7 }, skiff, 'in.2'));
    expect(settings['compressor/ratio']).toBe(2.5);
    expect(noteOn(notes, 'compressor/ratio')).toBeUndefined();
  });

  test('of four bands the shelves find a desk with two; the bells are told, flat ones are not', () => {
    const eq = {
      'eq/on': true,
      'eq/1/kind': 'low shelf',
      'eq/1/gain': -3,
      'eq/1/freq': 180,
      'eq/2/kind': 'bell',
      'eq/2/gain': 4,
      'eq/3/gain': 0,
      'eq/4/kind': 'high shelf',
      'eq/4/gain': 2,
      'eq/4/freq': 9000,
    };
    const { settings, notes } = convertStrip(carried(boathouse, 'in.1', eq, skiff, 'in.2'));
    expect([
      settings['eq/low/gain'],
      settings['eq/low/freq'],
      settings['eq/high/gain'],
      settings['eq/high/freq'],
    ]).toEqual([-3, 180, 2, 9000]);
    expect(noteOn(notes, 'eq/2/gain')?.to).toBeUndefined();
    expect(noteOn(notes, 'eq/2/gain')).toBeDefined();
    expect(noteOn(notes, 'eq/3/gain')).toBeUndefined();
  });

  test('two bands come back into four as shelves, and the free ones are flat', () => {
    const { settings } = convertStrip(
      carried(skiff, 'in.1', { 'eq/on': true, 'eq/low/gain': 6, 'eq/high/gain': -4.5 }, boathouse, 'in.2'),
    );
    const kinds = [1, 2, 3, 4].map((band) => [settings[`eq/${band}/kind`], settings[`eq/${band}/gain`]]);
    expect(kinds.filter(([, gain]) => gain === 6)).toEqual([['low shelf', 6]]);
    expect(kinds.filter(([, gain]) => gain === -4.5)).toEqual([['high shelf', -4.5]]);
    expect(kinds.filter(([, gain]) => gain === 0)).toHaveLength(2);
  });

  test('a chain finds the slots that are there, in order; what has none is told once', () => {
    const chain = {
      'inserts/1/kind': 'drive',
      'inserts/1/on': true,
      'inserts/1/drive/amount': 44,
      'inserts/3/kind': 'limiter',
      'inserts/3/on': true,
      'inserts/3/limiter/ceiling': -2,
      'inserts/4/kind': 'echo',
    };
    const { settings, notes } = convertStrip(carried(boathouse, 'in.1', chain, boathouse, 'group.1'));
    expect([settings['inserts/1/kind'], settings['inserts/1/drive/amount']]).toEqual(['drive', 44]);
    expect([settings['inserts/2/kind'], settings['inserts/2/limiter/ceiling']]).toEqual(['limiter', -2]);
    expect(notes.filter(({ key }) => key.startsWith('inserts/4'))).toHaveLength(1);
  });

  test('where a strip cannot choose its output nothing is routed for it', () => {
    const cannotChoose = PROFILES.map(([, profile]) => profile).filter(
      (profile) => !stripFamily(profile, 'fx.1')!.keys.includes('routing/main.1'),
    );
    expect(cannotChoose.length).toBeGreaterThan(0);
    const out = { 'routing/main.1': false, 'routing/group.2': true };
    for (const to of cannotChoose)
      expect(convertStrip(carried(boathouse, 'fx.1', out, to, 'fx.1')).settings).not.toHaveProperty(['routing/main.1']);
  });

  test('who went through a group that did not come along goes to the main, and is not silent', () => {
    const { settings, notes } = convertStrip(
      carried(quay, 'in.1', { 'routing/main.1': false, 'routing/group.2': true }, skiff, 'in.1'),
    );
    expect(settings['routing/main.1']).toBe(true);
    expect(noteOn(notes, 'routing/group.2')).toBeDefined();
  });

  test('a strip that keeps its group, or goes to the main already, is not sent to the main for one that was lost', () => {
    const settings = { 'routing/main.1': false, 'routing/group.1': true, 'routing/group.2': true };
    const kept = convertStrip({
      ...carried(quay, 'in.1', settings, boathouse, 'in.1'),
      others: new Map([['group.1', 'group.3']]),
    });
    expect(kept.settings['routing/group.3']).toBe(true);
    expect(kept.settings['routing/main.1']).not.toBe(true);
  });

  test('a level that is off stays off, wherever the other desk’s faders end', () => {
    const json = profileJson('skiff-16') as { families: { sections: { fader: { level: object } } }[] };
    Object.assign(json.families[0]!.sections.fader.level, { min: -60, default: -60 });
    const short = parseProfile(json);
    const off = (from: Profile, to: Profile) => {
      const { min } = stripFamily(from, 'in.1')!.settings['fader/level'] as { min: number };
      return convertStrip(carried(from, 'in.1', { 'fader/level': min }, to, 'in.1')).settings['fader/level'];
    };
    expect([off(short, quay), off(quay, short)]).toEqual([-90, -60]);
  });

  test('a label that is too long keeps its side', () => {
    const { settings } = convertStrip(carried(quay, 'in.2', { 'label/name': 'Accordion R' }, skiff, 'in.1'));
    expect(settings['label/name']).toBe('Accord R');
  });

  test('the report tells a section once when all of it stayed', () => {
    const gate = { 'gate/on': true, 'gate/threshold': -40, 'gate/range': 12, 'gate/hold': 90, 'gate/attack': 2 };
    const { notes } = convertStrip(carried(boathouse, 'in.1', gate, skiff, 'in.2'));
    const lines = conversionReport(boathouse, skiff, notes, () => 'in.1');
    expect(lines.filter(({ what }) => what.startsWith('Gate'))).toEqual([
      { strip: 'in.2', how: 'left behind', about: 'Gate', what: 'Gate, 5 settings', why: 'not on Skiff 16' },
    ]);
  });
});
