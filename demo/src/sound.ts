import type { Value } from '@old-echo/core/desk/setting';

/** Settings of one strip by key. */
export type Keys = Readonly<Record<string, Value>>;

type Band = readonly [kind: 'bell' | 'low shelf' | 'high shelf' | 'notch', hertz: number, decibels: number, q: number];

/** A four-band EQ, switched on, from low to high. */
export const eq = (...bands: readonly Band[]): Keys =>
  Object.assign(
    { 'eq/on': true },
    ...bands.map(([kind, freq, gain, q], i) => ({
      [`eq/${i + 1}/kind`]: kind,
      [`eq/${i + 1}/freq`]: freq,
      [`eq/${i + 1}/gain`]: gain,
      [`eq/${i + 1}/q`]: q,
    })),
  ) as Keys;

/** A compressor, switched on: dB, ratio, ms, ms, dB. */
export const comp = (threshold: number, ratio: number, attack: number, release: number, makeup = 0): Keys => ({
  'compressor/on': true,
  'compressor/threshold': threshold,
  'compressor/ratio': ratio,
  'compressor/attack': attack,
  'compressor/release': release,
  'compressor/makeup': makeup,
});

/** A gate, switched on: dB, dB, ms, ms, ms. */
export const gate = (threshold: number, range: number, attack: number, hold: number, release: number): Keys => ({
  'gate/on': true,
  'gate/threshold': threshold,
  'gate/range': range,
  'gate/attack': attack,
  'gate/hold': hold,
  'gate/release': release,
});

export const lowCut = (hertz: number): Keys => ({ 'preamp/lowcut/on': true, 'preamp/lowcut/freq': hertz });
export const pan = (position: number): Keys => ({ 'pan/position': position });
export const fader = (decibels: number): Keys => ({ 'fader/level': decibels });
export const mic = (gain: number, phantom = false): Keys => ({ 'preamp/gain': gain, 'preamp/phantom': phantom });
export const label = (name: string, colour: string, note = ''): Keys => ({
  'label/name': name,
  'label/colour': colour,
  ...(note ? { 'label/note': note } : {}),
});
export const send = (to: string, level: number): Keys => ({ [`sends/${to}/level`]: level });
export const sends = (levels: Readonly<Record<string, number>>): Keys =>
  Object.fromEntries(Object.entries(levels).map(([to, level]) => [`sends/${to}/level`, level]));

/** What suits each instrument of the band, on any desk with four bands: why, beside the numbers. */
export const VOICES = {
  // Wood at 300 Hz kept, bow noise softened, air above 8 kHz.
  fiddle: {
    ...eq(
      ['low shelf', 150, -2, 0.7],
      ['bell', 420, -1.5, 1.2],
      ['bell', 2800, -1.8, 1.6],
      ['high shelf', 8000, 2, 0.7],
    ),
    ...comp(-20, 2.5, 18, 160, 1.5),
    ...lowCut(160),
  },
  // Bellows thump out, reeds forward without the 1 kHz honk.
  accordion: {
    ...eq(
      ['low shelf', 180, -3, 0.7],
      ['bell', 950, -2.2, 1.4],
      ['bell', 3200, 1.6, 0.9],
      ['high shelf', 10000, 1, 0.7],
    ),
    ...comp(-18, 2, 25, 220, 1),
    ...lowCut(110),
  },
  // The note at 80 Hz, boxiness at 300 Hz out, fingers at 1.5 kHz.
  bass: {
    ...eq(
      ['low shelf', 80, 1.5, 0.8],
      ['bell', 300, -3.2, 1.1],
      ['bell', 1500, 1.8, 1.2],
      ['high shelf', 6000, -2, 0.7],
    ),
    ...comp(-22, 4, 22, 180, 3),
    ...lowCut(35),
  },
  // Skin and hand; the gate keeps the fiddle out between strokes.
  drum: {
    ...eq(['low shelf', 95, 2, 0.8], ['bell', 380, -3.5, 1.3], ['bell', 3600, 2.4, 1], ['high shelf', 9000, 0.8, 0.7]),
    ...gate(-42, 14, 0.6, 90, 220),
    ...comp(-16, 3, 12, 110, 2),
  },
  shaker: {
    ...eq(
      ['low shelf', 400, -6, 0.7],
      ['bell', 800, -1, 1],
      ['bell', 5200, -1.2, 1.5],
      ['high shelf', 11000, 1.5, 0.7],
    ),
    ...lowCut(350),
  },
  // Close microphone: chest down, words up; a quick compressor with some make-up.
  wren: {
    ...eq(
      ['low shelf', 190, -2.5, 0.7],
      ['bell', 340, -2, 1.6],
      ['bell', 3100, 2.2, 0.9],
      ['high shelf', 9500, 2.6, 0.7],
    ),
    ...comp(-24, 3.5, 8, 140, 4),
    ...lowCut(110),
  },
  tam: {
    ...eq(
      ['low shelf', 140, -1.5, 0.7],
      ['bell', 260, -2.4, 1.5],
      ['bell', 2600, 1.4, 1],
      ['high shelf', 9000, 1.4, 0.7],
    ),
    ...comp(-22, 3, 10, 150, 3),
    ...lowCut(90),
  },
  brass: {
    ...eq(
      ['low shelf', 160, -1, 0.7],
      ['bell', 600, -1.6, 1.1],
      ['bell', 2400, -1.4, 1.3],
      ['high shelf', 7500, 1.2, 0.7],
    ),
    ...comp(-14, 2.5, 20, 180, 1),
    ...lowCut(120),
  },
  ambience: {
    ...eq(['low shelf', 250, -5, 0.7], ['bell', 900, 0, 1], ['bell', 2500, -1, 1], ['high shelf', 9000, -1.5, 0.7]),
    ...lowCut(200),
  },
} as const satisfies Record<string, Keys>;
