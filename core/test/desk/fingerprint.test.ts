import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import canonicalize from 'canonicalize';
import fc from 'fast-check';

import { PROFILES, quay } from '@old-echo/testing/profiles';
import { anySettings, anyState } from '@old-echo/testing/random-state';

import { countStrips, diffStates } from '../../src/desk/diff-states';
import { fingerprint, stripFingerprint, stripFingerprints } from '../../src/desk/fingerprint';
import { defaultState, withSettings } from '../../src/desk/state';
import { MAX_NAME_LENGTH, uniqueName } from '../../src/fault/text-shapes';
import { suggestMixtureName, suggestName } from '../../src/phrases/suggest-name';

describe('fingerprints', () => {
  test('SHA-256 of "abc" is that of FIPS 180-4, appendix B.1', () => {
    expect(bytesToHex(sha256(utf8ToBytes('abc')))).toBe(
      'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
    );
  });

  test('canonical JSON is that of the example in RFC 8785, section 3.2.2', () => {
    const value = {
      numbers: [Number('333333333.33333329'), 1e30, 4.5, 2e-3, 0.000000000000000000000000001],
      string: '\u20ac$\u000F\u000aA\'\u0042\u0022\u005c\\"/',
      literals: [null, true, false],
    };
    expect(canonicalize(value)).toBe(
      '{"literals":[null,true,false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27],"string":"€$\\u000f\\nA\'B\\"\\\\\\\\\\"/"}',
    );
  });

  test('keys are sorted by UTF-16 code units, as in RFC 8785, section 3.2.3', () => {
    const value = {
      '\u20ac': 'Euro Sign',
      '\r': 'Carriage Return',
      '\ufb33': 'Hebrew Letter Dalet With Dagesh',
      '1': 'One',
      '\ud83d\ude00': 'Emoji: Grinning Face',
      '\u0080': 'Control',
      '\u00f6': 'Latin Small Letter O With Diaeresis',
    };
    expect([...(canonicalize(value) ?? '').matchAll(/:"([^"]*)"/g)].map((m) => m[1])).toEqual([
      'Carriage Return',
      'One',
      'Control',
      'Latin Small Letter O With Diaeresis',
      'Euro Sign',
      'Emoji: Grinning Face',
      'Hebrew Letter Dalet With Dagesh',
    ]);
  });

  test('the order of settings does not matter, their values do', () => {
    expect(fingerprint({ a: 1, b: true })).toBe(fingerprint({ b: true, a: 1 }));
    expect(fingerprint({ a: 1 })).not.toBe(fingerprint({ a: 1.1 }));
  });

  test('that of a strip is that of the same as any value, in whatever order and of whatever name its settings are', () => {
    const value = fc.oneof(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.boolean(), fc.string());
    fc.assert(
      fc.property(fc.dictionary(fc.oneof(fc.string(), fc.nat().map(String)), value), (strip) => {
        expect(stripFingerprint(strip)).toBe(fingerprint(strip));
      }),
    );
  });

  test.each([NaN, Infinity, -Infinity])('what JSON cannot hold has none: %s', (level) => {
    expect(() => stripFingerprint({ level })).toThrow(TypeError);
    expect(() => fingerprint({ level })).toThrow();
  });

  test('only the strips that moved have another fingerprint', () => {
    const before = defaultState(quay);
    const after = withSettings(before, { 'in.3/fader/level': -5, 'fx.1/inserts/time': 2 });
    const [a, b] = [stripFingerprints(before), stripFingerprints(after)];
    expect(Object.keys(a).filter((strip) => a[strip] !== b[strip])).toEqual(['in.3', 'fx.1']);
  });
});

describe('drift', () => {
  test.each(PROFILES)('what was moved on %s is what has drifted, and nothing else', (_, profile) => {
    fc.assert(
      fc.property(anyState(profile), anySettings(profile), (state, settings) => {
        const moved = Object.fromEntries(
          diffStates(profile, state, withSettings(state, settings)).map((c) => [c.address, c.now]),
        );
        for (const [address, value] of Object.entries(moved)) expect(settings[address]).toEqual(value);
        expect(diffStates(profile, state, state)).toEqual([]);
        // Applying the drift to where it came from leads to the same place.
        expect(diffStates(profile, withSettings(state, moved), withSettings(state, settings))).toEqual([]);
      }),
      { numRuns: 15 },
    );
  });
});

describe('a suggested name says what moved', () => {
  const named = withSettings(defaultState(quay), {
    'in.1/label/name': 'Fiddle',
    'in.2/label/name': 'Accordion L',
    'in.7/label/name': 'Wren vox',
  });
  const suggest = (settings: Record<string, number | boolean>) => {
    const changes = diffStates(quay, named, withSettings(named, settings));
    expect(countStrips(changes)).toBe(new Set(Object.keys(settings).map((a) => a.split('/')[0])).size);
    return suggestName(quay, named, changes);
  };

  test.each([
    [{ 'in.1/fader/level': -5, 'in.2/fader/level': -8 }, 'Fiddle and Accordion L louder'],
    [{ 'in.7/eq/2/gain': 3 }, 'EQ on Wren vox'],
    [{ 'in.7/mute/on': true }, 'Wren vox muted'],
    [{ 'in.7/eq/2/gain': 3, 'in.7/compressor/threshold': -30 }, 'EQ and compressor on Wren vox'],
    [{}, 'No changes'],
  ])('%j is "%s"', (settings, name) => expect(suggest(settings as Record<string, number | boolean>)).toBe(name));

  test.each([
    ['9 Fiddle back, with sends from 12 Chorus', 'Fiddle back, with sends from 12 Chorus'],
    [`9 Fiddle back, with ${'very '.repeat(12)}long names`, 'Fiddle back, with others'],
    ['Only EQ of 9 Fiddle back', 'Only EQ of 9 Fiddle back'],
  ])('%s, kept as a scene, is "%s"', (line, name) =>
    expect(suggestMixtureName({ number: 9, name: 'Fiddle back' }, line)).toBe(name),
  );

  test('a mixture of scenes with the longest names has a name that fits', () => {
    const scene = { number: 9, name: 'x'.repeat(MAX_NAME_LENGTH) };
    const name = suggestMixtureName(scene, `9 ${scene.name}, with sends from 12 Chorus`);
    expect([name.length, name.endsWith(', with others')]).toEqual([MAX_NAME_LENGTH, true]);
  });

  test('a name that is taken gets a number, whatever its case and accents, and never grows too long', () => {
    expect(uniqueName('Wren vox muted', ['wren vox muted', 'Wrén vox muted 2'])).toBe('Wren vox muted 3');
    const long = 'x'.repeat(MAX_NAME_LENGTH);
    expect(uniqueName(long, [long])).toBe(`${'x'.repeat(MAX_NAME_LENGTH - 2)} 2`);
  });
});
