import fc from 'fast-check';

import { boathouse, profileJson, PROFILES, quay, skiff } from '@old-echo/testing/profiles';
import { anyState, anyValue } from '@old-echo/testing/random-state';

import { hasAllOf, parseProfile, specOf, stripFamily } from '../../src/desk/profile';
import { isNumberSpec, quantise, sameValue, validateValue } from '../../src/desk/setting';
import { addressesOf, defaultState, validateSettings, valueAt } from '../../src/desk/state';
import { Fault } from '../../src/fault/fault';

describe('the three desks', () => {
  test.each([
    ['Quay 48', quay, { in: 48, fx: 8, mix: 16, group: 8, dca: 8, mutegroup: 6, matrix: 8, main: 2, desk: 1 }],
    ['Boathouse', boathouse, { in: 40, fx: 6, group: 8, main: 1, desk: 1 }],
    ['Skiff 16', skiff, { in: 16, fx: 2, mix: 4, mutegroup: 4, main: 1, desk: 1 }],
  ] as const)('%s has its strips', (_, profile, counts) => {
    expect(Object.fromEntries(profile.families.map((f) => [f.id, f.strips.length]))).toEqual(counts);
  });

  test('has all that it had when it had less, and not the other way round', () => {
    const source = profileJson('quay-48') as { families: { id: string }[] };
    const before = parseProfile({ ...source, families: source.families.filter(({ id }) => id !== 'mutegroup') });
    const fewer = parseProfile({
      ...source,
      families: source.families.map((f) => ({ ...f, count: 1, names: undefined })),
    });
    for (const less of [before, fewer]) expect([hasAllOf(quay, less), hasAllOf(less, quay)]).toEqual([true, false]);
    expect(hasAllOf(quay, skiff)).toBe(false);
  });

  test('the Quay has 105 strips, and about 150 settings on an input', () => {
    expect(quay.strips).toHaveLength(105);
    const settings = Object.keys(stripFamily(quay, 'in.7')?.settings ?? {}).length;
    expect(settings).toBeGreaterThanOrEqual(140);
    expect(settings).toBeLessThanOrEqual(160);
  });

  test('a live input has every section of a strip but automation, a studio input has automation too', () => {
    const live = [
      'source',
      'preamp',
      'gate',
      'eq',
      'compressor',
      'inserts',
      'sends',
      'pan',
      'fader',
      'mute',
      'routing',
      'label',
      'view',
    ];
    expect([...(stripFamily(quay, 'in.1')?.sections ?? [])].sort()).toEqual([...live].sort());
    expect(stripFamily(boathouse, 'in.1')?.sections).toContain('automation');
  });

  test('only the Quay has remote preamps, and the Skiff has neither gate nor more than two bands', () => {
    expect(specOf(quay, 'in.1/preamp/gain')).toMatchObject({ unit: 'dB', min: -6, max: 60, step: 0.5 });
    for (const profile of [boathouse, skiff]) expect(specOf(profile, 'in.1/preamp/gain')).toBeUndefined();
    expect(stripFamily(skiff, 'in.1')?.sections).not.toContain('gate');
    expect(
      Object.keys(stripFamily(skiff, 'in.1')?.settings ?? {}).filter((k) => /^eq\/.*\/gain$/.test(k)),
    ).toHaveLength(2);
  });

  test.each(PROFILES)('every setting of %s starts at a value that it accepts', (_, profile) => {
    const state = defaultState(profile);
    for (const address of addressesOf(profile)) {
      const value = valueAt(state, address);
      expect([address, validateValue(specOf(profile, address)!, value)]).toEqual([address, { ok: true, value }]);
    }
  });

  test.each(PROFILES)('random states of %s are whole and stay as they are when taken again', (_, profile) => {
    fc.assert(
      fc.property(anyState(profile), (state) => {
        const settings = Object.fromEntries(addressesOf(profile).map((address) => [address, valueAt(state, address)]));
        expect(validateSettings(profile, settings)).toEqual(settings);
      }),
      { numRuns: 10 },
    );
  });
});

describe('a setting', () => {
  const level = specOf(quay, 'in.1/fader/level')!;

  test.each([
    [-3.33, -3.3],
    [-3.36, -3.4],
    [10.04, 10],
    [-90, -90],
    [-4.899999618530273, -4.9],
  ])('a fader sent to %f stands at %f, in steps of 0.1 dB', (sent, stands) => {
    expect(validateValue(level, sent)).toEqual({ ok: true, value: stands });
  });

  test.each([
    ['99 dB', 99],
    ['under the floor', -91],
    ['not a number', Number.NaN],
    ['a text', '−5'],
    ['nothing', undefined],
  ])('a fader refuses %s rather than clamping it', (_, sent) => expect(validateValue(level, sent).ok).toBe(false));

  test('whatever a desk accepts, it accepts again unchanged, as single-precision floats too', () => {
    for (const [, profile] of PROFILES)
      for (const family of profile.families)
        for (const spec of Object.values(family.settings).filter(isNumberSpec))
          fc.assert(
            fc.property(anyValue(spec), (value) => {
              expect(quantise(spec, Math.fround(Number(value)))).toBe(value);
            }),
            { numRuns: 3 },
          );
  });

  test('two values are the same within half a step, and no further', () => {
    expect(sameValue(level, -5, -5.05)).toBe(true);
    expect(sameValue(level, -5, -5.06)).toBe(false);
  });

  test.each(['a\u0000b', 'two\nlines', '\ud83d'])('a label refuses %j, which no wire carries', (text) => {
    expect(validateValue(specOf(quay, 'in.1/label/name')!, text).ok).toBe(false);
  });

  test('automation keeps its points in order of time and refuses any other', () => {
    const lane = specOf(boathouse, 'in.1/automation/fader')!;
    expect(
      validateValue(lane, [
        [0, -4],
        [1.23456, -3.04],
      ]),
    ).toEqual({
      ok: true,
      value: [
        [0, -4],
        [1.235, -3],
      ],
    });
    expect(
      validateValue(lane, [
        [2, 0],
        [1, 0],
      ]),
    ).toMatchObject({ ok: false });
  });
});

type Json = { families: [{ id: string; sections: Record<string, Record<string, Record<string, unknown>>> }] };

describe('a profile that is wrong', () => {
  const broken = (change: (json: Json) => void) => {
    const json = structuredClone(profileJson('skiff-16')) as Json;
    change(json);
    return () => parseProfile(json);
  };

  test.each([
    ['a family that does not exist', (j: Json) => (j.families[0].id = 'sidecar'), 'families[0].id'],
    [
      'a default out of range',
      (j: Json) => (j.families[0].sections['fader']!['level']!['default'] = 40),
      'families.in.sections.fader.level',
    ],
    [
      'a kind that does not exist',
      (j: Json) => (j.families[0].sections['pan']!['position']!['kind'] = 'wheel'),
      'families.in.sections.pan.position',
    ],
    [
      'a step of nothing',
      (j: Json) => (j.families[0].sections['pan']!['position']!['step'] = 0),
      'families.in.sections.pan.position',
    ],
  ])('%s is refused with its path', (_, change, path) => {
    expect.assertions(2);
    try {
      broken(change)();
    } catch (error) {
      expect(error).toBeInstanceOf(Fault);
      expect((error as Fault).where).toBe(path);
    }
  });

  test('settings are taken whole or not at all', () => {
    expect(() => validateSettings(skiff, { 'in.1/fader/level': -5, 'in.99/fader/level': -5 })).toThrow(
      'in.99/fader/level',
    );
  });
});
