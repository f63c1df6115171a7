import fc from 'fast-check';

import { specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, type NumberSpec, quantise, type SettingSpec } from '@old-echo/core/desk/setting';
import { addressesOf } from '@old-echo/core/desk/state';
import { formatValue } from '@old-echo/core/phrases/format-value';
import { readValue } from '@old-echo/core/phrases/read-value';
import { between } from '@old-echo/testing/between';
import { boathouse, quay } from '@old-echo/testing/profiles';

const at = (address: string) => specOf(quay, address)!;
const read = (address: string, typed: string) => {
  const answer = readValue(at(address), typed);
  return answer.ok ? answer.value : answer.why;
};

// As values are written on consoles and in the trade: common practice.
test.each<[string, string, number]>([
  ['in.1/fader/level', '-6', -6],
  ['in.1/fader/level', '−6.5 dB', -6.5],
  ['in.1/fader/level', '+3', 3],
  ['in.1/fader/level', '-12,5', -12.5],
  ['in.1/fader/level', 'off', -90],
  ['in.1/fader/level', '−∞', -90],
  ['in.1/eq/2/freq', '2k4', 2400],
  ['in.1/eq/2/freq', '2.4 kHz', 2400],
  ['in.1/eq/2/freq', '2,4k', 2400],
  ['in.1/eq/2/freq', '440', 440],
  ['in.1/eq/2/freq', '440hz', 440],
  ['in.1/gate/attack', '1.2 ms', 1.2],
  ['in.1/gate/release', '.5 s', 500],
  ['in.1/compressor/ratio', '4:1', 4],
  ['in.1/compressor/ratio', '4 : 1', 4],
  ['in.1/compressor/ratio', '2.5', 2.5],
  ['in.1/pan/position', 'L 30', -30],
  ['in.1/pan/position', 'r100', 100],
  ['in.1/pan/position', 'C', 0],
  ['in.1/pan/position', '-14', -14],
  ['in.1/pan/width', '80 %', 80],
])('%s typed as “%s” is %p', (address, typed, value) => {
  expect(read(address, typed)).toBe(value);
});

test.each<[string, string, RegExp]>([
  ['in.1/fader/level', '11', /^From −∞ to 10\.0 dB\.$/],
  ['in.1/fader/level', '-6 Hz', /is no value in dB\.$/],
  ['in.1/fader/level', 'loud', /^“loud” is no value in dB\.$/],
  ['in.1/fader/level', '  ', /^Type a value from/],
  ['in.1/fader/level', '--6', /is no value/],
  ['in.1/fader/level', '6 6', /^From/],
  ['in.1/eq/2/freq', '30 kHz', /^From 20 Hz to 20 kHz\.$/],
  ['in.1/label/name', 'x'.repeat(500), /at most \d+ characters\.$/],
])('%s typed as “%s” is refused: %p', (address, typed, why) => {
  expect(read(address, typed)).toMatch(why);
});

test('whatever is shown can be typed, and is what is shown again', () => {
  const specs = [quay, boathouse].flatMap((profile) => {
    const all = new Map<string, SettingSpec>();
    for (const address of addressesOf(profile)) {
      const spec = specOf(profile, address)!;
      all.set(JSON.stringify(spec), spec);
    }
    return [...all.values()].filter(isNumberSpec);
  });
  expect(new Set(specs.map(({ unit }) => unit)).size).toBeGreaterThan(4);
  fc.assert(
    fc.property(fc.constantFrom<NumberSpec>(...specs), between(0, 1), (spec, share) => {
      const shown = formatValue(spec, quantise(spec, spec.min + share * (spec.max - spec.min)));
      const answer = readValue(spec, shown);
      expect([shown, answer.ok && formatValue(spec, answer.value)]).toEqual([shown, shown]);
    }),
    { numRuns: 500 },
  );
});

test('whatever is typed is a value of the desk or a sentence', () => {
  fc.assert(
    fc.property(fc.string(), (typed) => {
      const answer = readValue(at('in.1/fader/level'), typed);
      if (answer.ok) expect(Number(answer.value) >= -90 && Number(answer.value) <= 10).toBe(true);
      else expect(answer.why).toMatch(/\.$/);
    }),
  );
});
