/** "Lanterns on the Quay": a slow walk in D dorian, 96 beats a minute, twelve bars of four. */
const TEMPO = 96;
export const BEAT = 60 / TEMPO;
const BARS = 12;
export const SECONDS = BARS * 4 * BEAT;

/** A note: when it begins and how long it lasts in beats, its MIDI number, and how hard it is played, 0 … 1. */
export type Note = readonly [beat: number, beats: number, key: number, force: number];

/** The roots of the bars and what lies over them: D minor, C, F, G, as MIDI numbers. */
const CHORDS = [
  [38, [62, 65, 69]],
  [36, [60, 64, 67]],
  [41, [60, 65, 69]],
  [43, [59, 62, 67]],
] as const;
const chordOf = (bar: number) => CHORDS[bar % 4] ?? CHORDS[0];
const bars = Array.from({ length: BARS }, (_, bar) => bar);

/** A tune in eighths over two bars, as steps of D dorian; a rest is null. */
const TUNE = [
  0,
  2,
  4,
  null,
  4,
  3,
  2,
  1,
  0,
  null,
  1,
  2,
  4,
  6,
  4,
  null,
  7,
  6,
  4,
  3,
  2,
  null,
  3,
  4,
  1,
  0,
  -1,
  null,
  0,
  null,
  null,
  null,
];
const DORIAN = [0, 2, 3, 5, 7, 9, 10];
const degree = (step: number): number => 12 * Math.floor(step / 7) + (DORIAN[((step % 7) + 7) % 7] ?? 0);

const tune = (root: number, from: number, to: number, beats: number): Note[] =>
  bars
    .filter((bar) => bar >= from && bar < to)
    .flatMap((bar) =>
      Array.from({ length: 8 }, (_, eighth): Note[] => {
        const step = TUNE[((bar % 4) * 8 + eighth) % TUNE.length];
        return step == null ? [] : [[bar * 4 + eighth / 2, beats, root + degree(step), eighth % 4 === 0 ? 0.9 : 0.65]];
      }).flat(),
    );

export const FIDDLE = [...tune(74, 0, 4, 0.5), ...tune(74, 8, 12, 0.5)];
export const WREN = tune(62, 2, 10, 0.75);
export const WREN_DOUBLE = tune(62, 6, 10, 0.75);
export const TAM = tune(50, 4, 12, 0.9);
export const BASS: Note[] = bars.flatMap((bar): Note[] => {
  const [root] = chordOf(bar);
  return [
    [bar * 4, 1.8, root, 0.9],
    [bar * 4 + 2, 0.9, root + 7, 0.7],
    [bar * 4 + 3, 0.9, root + 12, 0.6],
  ];
});
export const ACCORDION = (upper: boolean): Note[] =>
  bars.flatMap((bar) =>
    [0, 1.5, 2.5].flatMap((beat) =>
      chordOf(bar)[1]
        .slice(upper ? 1 : 0, upper ? 3 : 2)
        .map((key): Note => [bar * 4 + beat, 1, key, beat ? 0.5 : 0.75]),
    ),
  );
export const BRASS = (third: boolean): Note[] =>
  bars
    .filter((bar) => bar % 4 === 3 || bar >= 8)
    .flatMap((bar): Note[] => {
      const key = chordOf(bar)[1][third ? 1 : 0] + 12;
      return [
        [bar * 4 + 2, 0.4, key, 0.8],
        [bar * 4 + 2.5, 1.3, key + 2, 0.9],
      ];
    });
/** Low and high strokes of the frame drum, and the shaker's eighths. */
export const DRUM: Note[] = bars.flatMap((bar): Note[] => [
  [bar * 4, 0.5, 40, 1],
  [bar * 4 + 1.5, 0.5, 52, 0.5],
  [bar * 4 + 2, 0.5, 40, 0.8],
  [bar * 4 + 3, 0.5, 52, 0.7],
  [bar * 4 + 3.5, 0.25, 52, 0.4],
]);
export const SHAKER: Note[] = bars.flatMap((bar) =>
  Array.from({ length: 8 }, (_, eighth): Note => [bar * 4 + eighth / 2, 0.2, 60, eighth % 2 ? 0.9 : 0.5]),
);
