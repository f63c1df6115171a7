import fc from 'fast-check';

import { boathouse, profileJson, PROFILES, quay, skiff } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { batchEdit } from '../../src/desk/batch-edit';
import { diffStates } from '../../src/desk/diff-states';
import { parseProfile, type Profile, stripFamily } from '../../src/desk/profile';
import { validateValue, type Value } from '../../src/desk/setting';
import { defaultState, type State, valueAt, withSettings } from '../../src/desk/state';
import { isUnused } from '../../src/desk/strips-in-use';
import { inputList, parseInputList } from '../../src/files/input-list';
import {
  changedSinceApplied,
  type PresetSource,
  putOnDesk,
  putOnStrips,
  SOUND_SECTIONS,
} from '../../src/library/apply-preset';
import { convertScene } from '../../src/library/convert-scene';
import { type Carried, type ConversionNote, convertStrip } from '../../src/library/convert-strip';
import { bestAssignment, matchStrips, similarity } from '../../src/library/match-strips';
import { presetContent, processorOf, stripSetContent } from '../../src/library/preset';
import { applyStripSet, findUnusedInputs } from '../../src/library/strip-set';
import { suggestPart } from '../../src/library/suggest-part';
import { settingsForVenue, venueSettings } from '../../src/library/venue';
import { conversionReport } from '../../src/phrases/conversion-report';
import { preview } from '../../src/recall/preview';
import { ALL_EXCEPT_GLOBALS, ALL_WITH_GLOBALS } from '../../src/recall/scope-rules';

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

describe('presets on strips', () => {
  const voice = withSettings(defaultState(boathouse), {
    'in.10/label/name': 'Wren vox',
    'in.10/source/socket': 'Track 3',
    'in.10/eq/on': true,
    'in.10/eq/3/gain': 3,
    'in.10/inserts/2/kind': 'de-ess',
    'in.10/inserts/2/on': true,
    'in.10/inserts/2/de-ess/freq': 7000,
    'in.10/fader/level': -4,
  });
  const whole: PresetSource = {
    kind: 'strip',
    profile: boathouse,
    content: presetContent('strip', boathouse, voice, 'in.10'),
  };
  const sound = { sections: new Set(SOUND_SECTIONS), withPatch: false };

  test('a strip preset put on another strip leaves that strip’s input alone (common practice)', () => {
    const all = { sections: new Set(boathouse.families[0]!.sections), withPatch: false };
    const { settings } = putOnStrips(whole, boathouse, defaultState(boathouse), ['in.20', 'in.21'], all);
    expect(settings['in.20/eq/3/gain']).toBe(3);
    expect(settings['in.21/fader/level']).toBe(-4);
    expect(Object.keys(settings).filter((address) => address.includes('/source/'))).toEqual([]);
    const patched = putOnStrips(whole, boathouse, defaultState(boathouse), ['in.20'], { ...all, withPatch: true });
    expect(patched.settings['in.20/source/socket']).toBe('Track 3');
  });

  test('its sound comes along, its place in the mix does not', () => {
    const { settings } = putOnStrips(whole, boathouse, defaultState(boathouse), ['in.20'], sound);
    expect(settings['in.20/eq/3/gain']).toBe(3);
    expect(settings['in.20/fader/level']).toBeUndefined();
    expect(settings['in.20/label/name']).toBeUndefined();
  });

  test('an insert takes the place of one of its kind, else the first that is free, else it says why not', () => {
    const content = { 'in.10': processorOf(voice['in.10']!, 'inserts', 2) };
    const deEss: PresetSource = { kind: 'processor', profile: boathouse, content };
    const options = { sections: new Set(['inserts']), withPatch: false };
    const now = withSettings(defaultState(boathouse), {
      'in.1/inserts/3/kind': 'de-ess',
      'in.2/inserts/1/kind': 'drive',
      ...Object.fromEntries([1, 2, 3, 4].map((n) => [`in.3/inserts/${n}/kind`, 'echo'])),
    });
    const { settings, notes } = putOnStrips(deEss, boathouse, now, ['in.1', 'in.2', 'in.3'], options);
    expect(settings['in.1/inserts/3/de-ess/freq']).toBe(7000);
    expect(settings['in.2/inserts/2/kind']).toBe('de-ess');
    expect(notes).toEqual([
      expect.objectContaining({ strip: 'in.3', from: 'de-ess', to: undefined, why: 'no insert free' }),
    ]);
  });

  test('a strip knows how far it moved away from what landed on it', () => {
    const { settings } = putOnStrips(whole, boathouse, voice, ['in.20'], sound);
    const landed = withSettings(voice, settings);
    expect(changedSinceApplied(boathouse, landed, settings)).toEqual([]);
    expect(changedSinceApplied(boathouse, withSettings(landed, { 'in.20/eq/3/gain': 1 }), settings)).toEqual([
      'in.20/eq/3/gain',
    ]);
  });

  test('a gain that comes from elsewhere is to be checked', () => {
    const target = withSettings(defaultState(quay), { 'in.5/preamp/gain': 41 });
    const what = {
      profile: quay,
      now: defaultState(quay),
      target,
      scope: ALL_EXCEPT_GLOBALS,
      safes: [],
      mode: 'live' as const,
    };
    expect(preview({ ...what, elsewhere: true }).cautions.map(({ kind, weight }) => [kind, weight])).toContainEqual([
      'source',
      'care',
    ]);
    expect(preview(what).cautions.some(({ kind }) => kind === 'source')).toBe(false);
  });

  test('a template is a desk without its sound; a patch brings what feeds the inputs only when asked', () => {
    const content = presetContent('template', boathouse, voice);
    const keys = new Set(Object.values(content).flatMap((settings) => Object.keys(settings)));
    expect([...keys].filter((key) => /^(fader|eq|compressor|gate|mute|sends)\//.test(key))).toEqual([]);
    const patch: PresetSource = {
      kind: 'patch',
      profile: boathouse,
      content: presetContent('patch', boathouse, voice),
    };
    const options = { sections: new Set(['source', 'routing']), withPatch: false };
    const sockets = ({ settings }: ReturnType<typeof putOnDesk>) =>
      Object.keys(settings).filter((address) => address.endsWith('/source/socket'));
    expect(sockets(putOnDesk(patch, boathouse, options))).toEqual([]);
    expect(sockets(putOnDesk(patch, boathouse, { ...options, withPatch: true })).length).toBe(40);
  });

  test('several strips move by the same step: inside the range, and what is off stays off', () => {
    const now = withSettings(defaultState(quay), {
      'in.1/fader/level': -10,
      'in.2/fader/level': 8,
      'in.3/fader/level': -90,
    });
    expect(batchEdit(quay, now, ['in.1', 'in.2', 'in.3'], 'fader/level', { by: 3 })).toEqual({
      'in.1/fader/level': -7,
      'in.2/fader/level': 10,
    });
    expect(batchEdit(quay, now, ['in.1', 'main.1'], 'preamp/phantom', { to: true })).toEqual({
      'in.1/preamp/phantom': true,
    });
  });
});

describe('stripSets', () => {
  const band: State = withSettings(defaultState(boathouse), {
    'in.3/label/name': 'Accordion L',
    'in.3/source/link': true,
    'in.3/fader/level': -12,
    'in.3/sends/fx.1/level': -14,
    'in.3/routing/group.2': true,
    'in.4/label/name': 'Accordion R',
    'in.4/fader/level': -12,
    'in.4/sends/fx.1/level': -20,
    'fx.1/label/name': 'Room',
    'fx.1/inserts/time': 0.7,
    'group.2/label/name': 'Strings and reeds',
  });
  const stripSet: PresetSource = {
    kind: 'strip set',
    profile: boathouse,
    content: stripSetContent(boathouse, band, ['in.3']),
  };
  const put = (now: State) =>
    applyStripSet(stripSet, boathouse, now, findUnusedInputs(stripSet, boathouse, now), false);

  test('it holds the linked half, the group, and the effect return that its sends feed', () => {
    expect(Object.keys(stripSet.content)).toEqual(['in.3', 'in.4', 'fx.1', 'group.2']);
    expect(stripSet.content['in.3']?.['sends/fx.2/level']).toBeUndefined();
  });

  test('put in twice it gives two of the strips and one shared return', () => {
    const first = put(defaultState(boathouse));
    const once = withSettings(defaultState(boathouse), first.settings);
    expect(first.places.map(({ how }) => how)).toEqual(['input', 'input', 'free', 'free']);
    const second = put(once);
    expect(second.places).toEqual([
      { from: 'in.3', to: 'in.3', how: 'input' },
      { from: 'in.4', to: 'in.4', how: 'input' },
      { from: 'fx.1', to: 'fx.1', how: 'same' },
      { from: 'group.2', to: 'group.1', how: 'same' },
    ]);
    const twice = withSettings(once, second.settings);
    const named = (name: string) => boathouse.strips.filter((strip) => twice[strip]?.['label/name'] === name);
    expect([named('Accordion L'), named('Accordion R'), named('Room')]).toEqual([
      ['in.1', 'in.3'],
      ['in.2', 'in.4'],
      ['fx.1'],
    ]);
    expect(second.sends).toEqual([
      { strip: 'in.3', to: 'fx.1', level: -14 },
      { strip: 'in.4', to: 'fx.1', level: -20 },
    ]);
  });

  test('a linked pair lands side by side, on an odd strip and the even one after it', () => {
    const now = withSettings(defaultState(boathouse), { 'in.1/label/name': 'Taken', 'in.1/fader/level': 0 });
    expect([...findUnusedInputs(stripSet, boathouse, now).values()]).toEqual(['in.3', 'in.4']);
  });

  test('strips that were chosen are all used, in their order, and then free ones', () => {
    const three = { ...stripSet, content: stripSetContent(boathouse, band, ['in.3', 'in.5', 'in.6']) };
    const chosen = (...strips: string[]) => [
      ...findUnusedInputs(three, boathouse, defaultState(boathouse), strips).values(),
    ];
    expect(chosen('in.9', 'in.10', 'in.20', 'in.15')).toEqual(['in.9', 'in.10', 'in.20', 'in.15']);
    // A linked pair stands on an odd strip and the even one after it.
    expect(chosen('in.20', 'in.15')).toEqual(['in.15', 'in.16', 'in.20', 'in.21']);
    expect(new Set(chosen('in.9', 'in.9'))).toHaveProperty('size', 4);
  });

  test('put in at once, it lands on none of the strips it was made from, and on no strip twice', () => {
    const two = { ...stripSet, content: stripSetContent(boathouse, band, ['in.5', 'in.6']) };
    const named = withSettings(band, {
      'in.5/label/name': 'Voice',
      'in.6/label/name': 'Fiddle',
      'in.5/fader/level': 0,
    });
    const made = { ...two, content: stripSetContent(boathouse, named, ['in.5', 'in.6']) };
    const landed = [...findUnusedInputs(made, boathouse, named, ['in.5', 'in.6']).values()];
    expect(new Set(landed).size).toBe(2);
    expect(landed.some((strip) => ['in.5', 'in.6'].includes(strip))).toBe(false);
  });

  test('where no return is free, its sends stay behind and that is told', () => {
    const full = withSettings(
      defaultState(boathouse),
      Object.fromEntries(boathouse.families[1]!.strips.map((fx) => [`${fx}/label/name`, `Own ${fx}`])),
    );
    const plan = put(full);
    expect(plan.sends).toEqual([]);
    expect(plan.notes).toContainEqual(expect.objectContaining({ strip: 'fx.1', why: 'no effect return free' }));
    expect(Object.keys(plan.settings).some((address) => address.includes('/sends/'))).toBe(false);
  });

  test('a return that nobody feeds and nobody named is free, one that is fed is not', () => {
    expect(isUnused(boathouse, defaultState(boathouse), 'fx.2')).toBe(true);
    const fed = withSettings(defaultState(boathouse), { 'in.1/sends/fx.2/level': -20 });
    expect(isUnused(boathouse, fed, 'fx.2')).toBe(false);
  });
});

describe('what a venue keeps', () => {
  const part = fc.constantFrom('fiddle', 'voice', 'room');
  const parts = fc.dictionary(fc.constantFrom('in.1', 'in.2', 'in.3', 'in.10', 'fx.1', 'fx.2'), part, { minKeys: 1 });

  test('kept and gone to at once nothing changes, whoever shares a part with whom', () => {
    let shared = 0;
    fc.assert(
      fc.property(anyState(boathouse), parts, (now, held) => {
        if (new Set(Object.values(held)).size < Object.keys(held).length) shared++;
        const settings = venueSettings(boathouse, settingsForVenue(held, now), held);
        expect(diffStates(boathouse, now, withSettings(now, settings))).toEqual([]);
        expect(new Set(Object.keys(settings).map((address) => address.split('/')[0]))).toEqual(
          new Set(Object.keys(held)),
        );
      }),
      { numRuns: runs(500) },
    );
    expect(shared).toBeGreaterThan(runs(500) / 5);
  });

  test('strips that share a part find their own again by their order, on other strips too', () => {
    const now = withSettings(defaultState(boathouse), { 'in.2/pan/position': -40, 'in.10/pan/position': 40 });
    const kept = settingsForVenue({ 'in.10': 'voice', 'in.2': 'voice' }, now);
    const there = venueSettings(boathouse, kept, { 'in.5': 'voice', 'in.30': 'voice' });
    expect([there['in.5/pan/position'], there['in.30/pan/position']]).toEqual([-40, 40]);
  });
});

describe('linked pairs on another desk', () => {
  const strips = ['in.1', 'in.2', 'in.3', 'in.4', 'in.5', 'in.6', 'in.7', 'in.8'];
  const names = fc.record(
    Object.fromEntries(strips.map((s) => [s, fc.constantFrom('Fiddle', 'Wren', 'Tam', 'Accordion', 'Drum', '')])),
  );
  const links = fc.subarray(['in.1', 'in.3', 'in.5', 'in.7']);
  const named = (profile: Profile, of: Record<string, string>, linked: readonly string[]) =>
    withSettings(defaultState(profile), {
      ...Object.fromEntries<Value>(
        strips.flatMap((s) => [
          [`${s}/label/name`, of[s]!],
          [`${s}/fader/level`, -10],
        ]),
      ),
      ...Object.fromEntries<Value>(linked.map((s) => [`${s}/source/link`, true])),
    });

  test('whatever strips are called there, a pair lands side by side or is unlinked, and never linked to a stranger', () => {
    let together = 0;
    fc.assert(
      fc.property(names, names, links, (here, there, linked) => {
        const scene = named(quay, here, linked);
        const from = { profile: quay, state: scene, parts: {} };
        const to = { profile: skiff, state: named(skiff, there, []), parts: {} };
        const matches = matchStrips(from, to);
        const { state } = convertScene(quay, scene, skiff, matches);
        const origins = new Map(matches.flatMap((m) => (m.to === null ? [] : [[m.to, m.from] as const])));
        expect(origins.size).toBe(matches.filter((m) => m.to !== null).length);
        for (const [strip, settings] of Object.entries(state)) {
          if (settings['source/link'] !== true) continue;
          together++;
          const next = `in.${Number(strip.slice(3)) + 1}`;
          const [one, other] = [origins.get(strip)!, origins.get(next)!];
          expect([linked.includes(one), other]).toEqual([true, `in.${Number(one.slice(3)) + 1}`]);
        }
      }),
      { numRuns: runs(300) },
    );
    expect(together).toBeGreaterThan(runs(300) / 5);
  });

  test('where hands tear a pair apart, it is unlinked and the report says so', () => {
    const scene = named(quay, Object.fromEntries(strips.map((s) => [s, s])), ['in.1']);
    const matches = [
      { from: 'in.1', to: 'in.5', why: 'hand' as const },
      { from: 'in.2', to: 'in.9', why: 'hand' as const },
    ];
    const { state, notes } = convertScene(quay, scene, skiff, matches);
    expect(state['in.5']?.['source/link']).toBe(false);
    expect(notes).toContainEqual(expect.objectContaining({ strip: 'in.5', key: 'source/link', to: false }));
  });
});

describe('who goes where', () => {
  /** The best sum of any one-to-one assignment, by trying all of them. */
  function best(rows: readonly (readonly number[])[], taken: readonly number[] = []): number {
    const [row, ...rest] = rows;
    if (!row) return 0;
    const choices = row.flatMap((value, i) => (taken.includes(i) ? [] : [value + best(rest, [...taken, i])]));
    return Math.max(best(rest, taken), ...choices);
  }

  test('the assignment is as good as the best of all there are', () => {
    const matrix = fc.tuple(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 1, max: 5 })).chain(([n, m]) =>
      fc.array(fc.array(fc.integer({ min: 0, max: 20 }), { minLength: m, maxLength: m }), {
        minLength: n,
        maxLength: n,
      }),
    );
    fc.assert(
      fc.property(matrix, (likes) => {
        const pairs = bestAssignment(likes);
        const used = pairs.filter((column) => column !== undefined);
        expect(new Set(used).size).toBe(used.length);
        const sum = pairs.reduce<number>(
          (total, column, row) => total + (column === undefined ? 0 : likes[row]![column]!),
          0,
        );
        expect(sum).toBe(best(likes));
      }),
      { numRuns: runs(200) },
    );
  });

  test('names of the trade that mean the same are the same part; sides and numbers stay apart', () => {
    expect(suggestPart('Wren vox')).toBe(suggestPart('Wren Vocal'));
    expect(suggestPart('Accordion L')).toBe('accordion left');
    expect(suggestPart('Accordion L')).not.toBe(suggestPart('Accordion R'));
    expect(suggestPart('Upright bass mic')).toBe('upright bass');
    const named = (name: string, part: string | null = null) => ({ strip: 'in.1', name, part });
    expect(similarity(named('Fiddle', 'lead'), named('Fiddle', 'second'))).toBe(0);
    expect(similarity(named('A', 'lead'), named('B', 'lead'))).toBe(2);
    expect(similarity(named('Fiddle'), named('Snare'))).toBe(0);
  });

  test('parts win over names, hands over both; nobody has two places, and no place two strips', () => {
    const show = withSettings(defaultState(quay), {
      'in.1/label/name': 'Fiddle',
      'in.2/label/name': 'Viola',
      'in.3/label/name': 'Drum',
    });
    const small = withSettings(defaultState(skiff), { 'in.5/label/name': 'Fiddle', 'in.6/label/name': 'Strings' });
    const from = { profile: quay, state: show, parts: { 'in.2': 'strings' } };
    const to = { profile: skiff, state: small, parts: { 'in.6': 'strings' } };
    const found = (hands = {}) =>
      Object.fromEntries(matchStrips(from, to, hands).map(({ from: strip, to: onto, why }) => [strip, [onto, why]]));
    expect(found()).toMatchObject({ 'in.1': ['in.5', 'name'], 'in.2': ['in.6', 'part'], 'in.3': ['in.1', 'free'] });
    expect(found({ 'in.1': 'in.9', 'in.3': null })).toMatchObject({
      'in.1': ['in.9', 'hand'],
      'in.3': [null, 'hand'],
    });
    const places = matchStrips(from, to).flatMap(({ to: onto }) => onto ?? []);
    expect(new Set(places).size).toBe(places.length);
  });

  test('names that a smaller desk must shorten stay apart from one another', () => {
    const scene = withSettings(defaultState(quay), {
      'in.1/label/name': 'Frame drum, low',
      'in.2/label/name': 'Frame drum, high',
      'in.3/label/name': 'Frame drum, low',
      'in.4/label/name': 'Fiddle',
    });
    const matches = [1, 2, 3, 4].map((n) => ({ from: `in.${n}`, to: `in.${n}`, why: 'name' as const }));
    const { state, notes } = convertScene(quay, scene, skiff, matches);
    const labels = [1, 2, 3, 4].map((n) => String(valueAt(state, `in.${n}/label/name`)));
    const longest = stripFamily(skiff, 'in.1')!.settings['label/name'];
    expect(new Set(labels).size).toBe(4);
    expect(labels[3]).toBe('Fiddle');
    expect(labels[1]).toMatch(/^Fra.* high$/);
    if (longest?.kind === 'text') for (const label of labels) expect(label.length).toBeLessThanOrEqual(longest.longest);
    // What is told of them is what they came to be called.
    for (const n of [1, 2, 3])
      expect(notes.find((note) => note.strip === `in.${n}` && note.key === 'label/name')?.to).toBe(labels[n - 1]);
  });

  test('a carried scene holds what came along, and restored brings nothing else', () => {
    fc.assert(
      fc.property(anyState(quay, 80), anyState(skiff, 80), (scene, now) => {
        const matches = [{ from: 'in.1', to: 'in.2', why: 'name' as const }];
        const { state, settings } = convertScene(quay, scene, skiff, matches);
        expect(Object.keys(state)).toEqual(['in.2']);
        expect(Object.keys(state['in.2']!)).toHaveLength(settings);
        expect(state['in.2']).not.toHaveProperty(['source/socket']);
        const { changes } = preview({
          profile: skiff,
          now,
          target: state,
          scope: ALL_WITH_GLOBALS,
          safes: [],
          mode: 'live',
        });
        expect(changes.every(({ address, to }) => address.startsWith('in.2/') && valueAt(state, address) === to)).toBe(
          true,
        );
      }),
      { numRuns: 40 },
    );
  });
});

describe('strip lists', () => {
  test('a list out and in again changes nothing; what was written into it does', () => {
    const state = withSettings(defaultState(quay), { 'in.1/label/name': 'Fiddle', 'in.1/preamp/phantom': true });
    const rows = inputList(quay, state, { 'in.1': 'fiddle' }).map((row) => ({ ...row }));
    expect(parseInputList(quay, state, rows)).toEqual({ settings: {}, parts: { 'in.1': 'fiddle' }, wrong: [] });
    const edited = rows.map((row) => (row.strip === 'in.2' ? { ...row, name: 'Viola', phantom: 'yes' } : row));
    expect(parseInputList(quay, state, edited).settings).toEqual({
      'in.2/label/name': 'Viola',
      'in.2/preamp/phantom': true,
    });
  });

  test('what cannot be taken is told with its line', () => {
    const { wrong, settings } = parseInputList(quay, defaultState(quay), [
      { strip: 'in.99', name: 'X' },
      { strip: 'in.1', source: 'Moon 7', phantom: 'maybe' },
    ]);
    expect(settings).toEqual({});
    expect(wrong.map((why) => why.slice(0, 7))).toEqual(['Line 2:', 'Line 3:', 'Line 3:']);
  });
});
