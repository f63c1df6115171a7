import fc from 'fast-check';

import { bytesPerSample, type StoredDepth } from '../../src/signal/wav-header';
import { decodeSamples, peakOf } from '../../src/signal/wav-samples';

const WHOLE_NUMBERS: readonly StoredDepth[] = ['16', '24', '32'];

/** Bytes of some samples, wherever in memory they begin. */
const anySound = (depth: StoredDepth) =>
  fc
    .record({ samples: fc.array(fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }), { maxLength: 40 }), at: fc.nat(7) })
    .map(({ samples, at }) => {
      const size = bytesPerSample(depth);
      const all = new Uint8Array(at + samples.length * size);
      // The upper bytes of each, the low one first.
      samples.forEach((sample, i) =>
        Array.from({ length: size }, (_, n) => (all[at + i * size + n] = sample >> (8 * (4 - size + n)))),
      );
      return {
        stored: all.subarray(at),
        highest: Math.max(0, ...samples.map((one) => Math.abs(one >> (32 - 8 * size)))),
      };
    });

test.each(WHOLE_NUMBERS)('%s bits: the peak is the highest of the samples, from wherever they are read', (depth) => {
  fc.assert(
    fc.property(anySound(depth), ({ stored, highest }) => {
      const peak = peakOf(stored, depth);
      expect(peak).toBe(highest / 2 ** (8 * bytesPerSample(depth) - 1));
      const decoded = decodeSamples(stored, depth, 1)[0]!;
      expect(Math.fround(peak)).toBe(decoded.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0));
    }),
  );
});

test('24 bits: full scale downwards is 1, one step is 2^-23 (common practice: two’s complement)', () => {
  expect(peakOf(Uint8Array.of(0, 0, 0x80), '24')).toBe(1);
  expect(peakOf(Uint8Array.of(0xff, 0xff, 0xff), '24')).toBe(2 ** -23);
  expect(peakOf(new Uint8Array(), '24')).toBe(0);
  for (const broken of [NaN, Infinity, -Infinity])
    expect(peakOf(new Uint8Array(Float32Array.of(0.5, broken, 0.25).buffer), 'float')).toBe(Infinity);
});
