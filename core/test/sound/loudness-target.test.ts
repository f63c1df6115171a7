import fc from 'fast-check';

import type { Loudness } from '../../src/sound/loudness';
import { EBU_R_128, overTarget } from '../../src/sound/loudness-target';

const measured = (integrated: number | null, truePeak: number | null): Loudness => ({
  integrated,
  truePeak,
  range: null,
  momentaryMax: null,
  shortTermMax: null,
  momentary: [],
  shortTerm: [],
});

// EBU R 128, from memory: −23.0 LUFS, ±0.5 LU where it cannot be met exactly, −1 dBTP at most.
test.each([
  [-23, -1, { loudness: 0, isLoudnessRight: true, peak: 0, isPeakRight: true }],
  [-22.5, -1, { isLoudnessRight: true }],
  [-22.4, -1, { isLoudnessRight: false }],
  [-23.6, -1.1, { isLoudnessRight: false, isPeakRight: true }],
  [-23, -0.9, { isLoudnessRight: true, isPeakRight: false }],
  [null, null, { loudness: null, isLoudnessRight: true, peak: null, isPeakRight: true, peakAtTarget: null }],
])('%p LUFS and %p dBTP against EBU R 128', (integrated, truePeak, expected) => {
  expect(overTarget(measured(integrated, truePeak), EBU_R_128)).toMatchObject(expected);
});

test('turned by as much as it is over, a mix is at the target, and its peak where it is said to be', () => {
  const db = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  fc.assert(
    fc.property(db(-60, 0), db(-40, 6), db(-30, -6), db(-6, 0), (integrated, truePeak, asked, most) => {
      const target = { integrated: asked, tolerance: 0.5, truePeak: most };
      const { loudness, peakAtTarget } = overTarget(measured(integrated, truePeak), target);
      const turned = overTarget(measured(integrated - loudness!, truePeak - loudness!), target);
      expect(turned.loudness).toBeCloseTo(0, 9);
      expect(turned.peak).toBeCloseTo(peakAtTarget!, 9);
    }),
  );
});
