import type { Profile } from '@old-echo/core/desk/profile';
import { defaultState, type State } from '@old-echo/core/desk/state';
import { SOUND_SECTIONS } from '@old-echo/core/library/apply-preset';
import { filterSettings } from '@old-echo/core/library/convert-strip';
import { type PresetContent, presetContent, type PresetKind, stripSetContent } from '@old-echo/core/library/preset';

import { comp, eq, gate, type Keys, lowCut, VOICES } from './sound';
import { after } from './tell';

interface Starter {
  readonly kind: PresetKind;
  readonly name: string;
  readonly folder: string;
  /** Why its values are what they are. */
  readonly note: string;
  readonly tags?: readonly string[];
  readonly favourite?: boolean;
  readonly profileId: string;
  readonly content: PresetContent;
}

const insert = (kind: string, settings: Keys): Keys => ({
  'inserts/1/kind': kind,
  'inserts/1/on': true,
  ...Object.fromEntries(Object.entries(settings).map(([name, value]) => [`inserts/1/${kind}/${name}`, value])),
});
const effect = (kind: string, settings: Keys): Keys => ({
  'inserts/kind': kind,
  'inserts/on': true,
  ...Object.fromEntries(Object.entries(settings).map(([name, value]) => [`inserts/${name}`, value])),
});
const deEss = (freq: number, threshold: number) => insert('de-ess', { freq, threshold });

type Row = readonly [name: string, note: string, keys: Keys, tags?: readonly string[]];

/** Whole strips, by what they carry. */
const STRIPS: Readonly<Record<string, readonly Row[]>> = {
  Voices: [
    [
      'Lead voice, close',
      'For a singer on the microphone: a shelf at 190 Hz against proximity effect, 3.1 kHz for intelligibility, a quick compressor with an 8 ms attack leaves the first consonant alone.',
      { ...VOICES.wren, ...deEss(6800, -26) },
      ['lead'],
    ],
    [
      'Lead voice, soft',
      'For quiet singing: the ratio stays at 2 so that breath keeps its shape, and the shelf at 12 kHz opens the top without touching the s at 7 kHz.',
      {
        ...eq(
          ['low shelf', 120, -2, 0.7],
          ['bell', 240, -1.5, 1.4],
          ['bell', 3000, 1, 0.8],
          ['high shelf', 12000, 2, 0.7],
        ),
        ...comp(-30, 2, 12, 220, 3),
        ...lowCut(80),
        ...deEss(7200, -30),
      },
      ['lead'],
    ],
    [
      'Harmony voice',
      'Sits behind a lead: less presence lift than the lead, and an even compressor, so it stays where it is put.',
      { ...VOICES.tam, ...deEss(6400, -24) },
      ['harmony'],
    ],
    [
      'Double, tucked in',
      'A second take under the first: low end and air away, held flat at 6 to 1, so that it thickens and is never heard by itself.',
      {
        ...eq(
          ['low shelf', 220, -5, 0.7],
          ['bell', 400, -1, 1.2],
          ['bell', 2400, -1.5, 0.9],
          ['high shelf', 8000, -3, 0.7],
        ),
        ...comp(-28, 6, 4, 120, 4),
        ...lowCut(160),
        ...deEss(6000, -32),
      },
      ['double'],
    ],
    [
      'Announcements',
      'Words before beauty: cut below 130 Hz against handling, 300 Hz out, 2.6 kHz up, a gate of only 10 dB so that the room does not jump.',
      {
        ...eq(
          ['low shelf', 160, -3, 0.7],
          ['bell', 300, -3, 1.2],
          ['bell', 2600, 3, 0.9],
          ['high shelf', 9000, 0, 0.7],
        ),
        ...gate(-48, 10, 2, 250, 400),
        ...comp(-22, 4, 5, 160, 3),
        ...lowCut(130),
      },
      ['speech'],
    ],
  ],
  Strings: [
    [
      'Fiddle, close',
      'Wood at 300 Hz kept, bow noise at 2.8 kHz softened, air above 8 kHz. Low cut at 160 Hz: the lowest note of a fiddle is 196 Hz.',
      VOICES.fiddle,
    ],
    [
      'Fiddle, pickup',
      'A pickup barks around 1.2 kHz and has no air: a narrow cut there, a shelf from 6 kHz, and some drive for the wood that it does not hear.',
      {
        ...eq(
          ['low shelf', 200, -1, 0.7],
          ['bell', 1200, -4, 1.8],
          ['bell', 3000, -1.5, 1.2],
          ['high shelf', 6000, 3, 0.7],
        ),
        ...comp(-22, 3, 15, 150, 2),
        ...lowCut(180),
        ...insert('drive', { amount: 12, tone: 5200 }),
      },
    ],
    [
      'Upright bass DI',
      'The note at 80 Hz, boxiness at 300 Hz out, fingers at 1.5 kHz. The attack of 22 ms lets the finger through before it holds the note.',
      VOICES.bass,
    ],
    [
      'Upright bass mic',
      'The microphone brings the body, not the bottom: cut at 60 Hz so that it does not add to the DI, growl at 700 Hz, a little string above 5 kHz.',
      {
        ...eq(['low shelf', 100, -2.5, 0.7], ['bell', 250, -2, 1.2], ['bell', 700, 2, 1], ['high shelf', 5000, 1, 0.7]),
        ...comp(-20, 3, 25, 200, 2),
        ...lowCut(60),
      },
    ],
  ],
  Reeds: [
    [
      'Accordion, treble side',
      'Low cut at 110 Hz, a shelf at 180 Hz for bellows thump; reeds forward at 3.2 kHz without the honk at 950 Hz. Lowest note 174 Hz.',
      VOICES.accordion,
    ],
    [
      'Accordion, bass side',
      'Keeps 65 to 130 Hz, where its basses are, and takes the button clicks at 4 kHz down, since the treble side has the top.',
      {
        ...eq(
          ['low shelf', 110, 1, 0.8],
          ['bell', 350, -2.5, 1.1],
          ['bell', 4000, -3, 1],
          ['high shelf', 7000, -4, 0.7],
        ),
        ...comp(-20, 3, 20, 240, 2),
        ...lowCut(50),
      },
    ],
  ],
  Percussion: [
    [
      'Frame drum',
      'Skin at 95 Hz and hand at 3.6 kHz; the gate keeps the fiddle out between strokes and holds 90 ms, about as long as a stroke rings.',
      VOICES.drum,
    ],
    [
      'Frame drum, low',
      'For the microphone behind the skin: 80 Hz up, the slap at 1.2 kHz and everything from 4 kHz down; a hold of 160 ms keeps the ring whole.',
      {
        ...eq(['low shelf', 80, 3, 0.8], ['bell', 250, -4, 1], ['bell', 1200, -3, 0.8], ['high shelf', 4000, -6, 0.7]),
        ...gate(-40, 18, 1, 160, 320),
        ...comp(-18, 4, 18, 140, 2),
      },
    ],
    [
      'Shaker',
      'Nothing of it lies below 350 Hz. A little out at 5.2 kHz, where it bites, and air from 11 kHz.',
      VOICES.shaker,
    ],
  ],
  Brass: [
    [
      'Brass, at the bell',
      'Loud and near: a mild 2.5 to 1 with 20 ms attack leaves the front of the note, 2.4 kHz down keeps two of them from hurting.',
      VOICES.brass,
    ],
    [
      'Brass section, far',
      'From two metres: the room is part of it, so no gate and only 2 to 1; 500 Hz out for the wall behind, a shelf for what the air took.',
      {
        ...eq(['low shelf', 140, -1, 0.7], ['bell', 500, -2, 1], ['bell', 1800, 0.8, 1], ['high shelf', 7000, 2, 0.7]),
        ...comp(-16, 2, 30, 250, 1),
        ...lowCut(90),
      },
    ],
  ],
  Ambience: [
    [
      'Harbour outside',
      'Gulls and water, no ships: low cut at 200 Hz and the shelf take what rumbles, the top is dimmed so that it stays far.',
      VOICES.ambience,
    ],
  ],
};

/** Single processors, on an input of the Boathouse. */
const PROCESSORS: Readonly<Record<string, readonly Row[]>> = {
  'EQ and gate': [
    [
      'Less boxy',
      'The 300 to 500 Hz that small rooms and close microphones add; wide enough to leave the note alone.',
      eq(['low shelf', 100, 0, 0.7], ['bell', 380, -4, 1], ['bell', 2500, 0, 0.7], ['high shelf', 8000, 0, 0.7]),
    ],
    [
      'Make space for the voice',
      'For what plays under a singer: 2 dB out where words are, so that the voice need not be louder.',
      eq(['low shelf', 100, 0, 0.7], ['bell', 400, 0, 0.7], ['bell', 2900, -2, 0.8], ['high shelf', 8000, 0, 0.7]),
    ],
    [
      'Air',
      'Only a shelf from 10 kHz, 2.5 dB: more than that brings up hiss and sibilance.',
      eq(['low shelf', 100, 0, 0.7], ['bell', 400, 0, 0.7], ['bell', 2500, 0, 0.7], ['high shelf', 10000, 2.5, 0.7]),
    ],
    [
      'Hand drum gate',
      'Opens in half a millisecond, or the hand is lost; 14 dB is enough to clean, and does not flutter.',
      gate(-42, 14, 0.5, 90, 220),
    ],
    [
      'Quiet stage gate',
      'For voices that rest: slow to close and only 8 dB deep, so that nobody hears it work.',
      gate(-50, 8, 3, 400, 600),
    ],
  ],
  Dynamics: [
    [
      'Hold a voice',
      'Quick but not at once: 8 ms lets the first consonant through, 140 ms lets go before the next word.',
      comp(-24, 3.5, 8, 140, 4),
    ],
    ['Level, slowly', 'Rides the level as a hand would: 2 to 1 far down, slow both ways.', comp(-32, 2, 60, 600, 4)],
    [
      'Catch the strokes',
      'Peak control: set the threshold for 3 to 4 dB on the loudest strokes: 4 : 1, fast.',
      comp(-10, 4, 2, 90, 0),
    ],
    [
      'De-esser, close voice',
      'Between 6 and 8 kHz, where sibilance sits; take the threshold down until it just moves.',
      deEss(6800, -28),
    ],
    [
      'Safety limiter',
      'A ceiling 1 dB under full scale for a recording; it should never be seen to work.',
      insert('limiter', { ceiling: -1, release: 80 }),
    ],
  ],
  Colour: [
    [
      'A little wood',
      'A fifth of drive, dark: warmth for pickups and DIs without a sound of its own.',
      insert('drive', { amount: 20, tone: 4200 }),
    ],
    [
      'Slap',
      '95 ms, hardly coming back: one answer of a wall, near enough not to be an echo.',
      insert('echo', { time: 95, feedback: 5, mix: 18 }),
    ],
    [
      'Two of them',
      'Slow and shallow chorus: width for one voice, before anyone can name it.',
      insert('chorus', { rate: 0.4, depth: 22 }),
    ],
  ],
};

/** What effect returns do. */
const EFFECTS: readonly Row[] = [
  [
    'Small wooden room',
    '0.7 s and dark: puts close microphones into one place without being heard as a reverb.',
    effect('room', { time: 0.7, predelay: 8, tone: 5200 }),
    ['short'],
  ],
  [
    'Harbour Hall',
    '2.1 s, with 28 ms before it so that words stay in front. Use less while the room is empty and live.',
    effect('hall', { time: 2.1, predelay: 28, tone: 5600 }),
    ['long'],
  ],
  [
    'Plate for brass',
    '1.3 s and bright: follows sharp attacks at once, so almost no pre-delay.',
    effect('plate', { time: 1.3, predelay: 4, tone: 9000 }),
    ['bright'],
  ],
  [
    'Dotted eighth at 90',
    'Half a second: three quarters of a beat at 90 to the minute (60 s / 90 × 0.75); it falls between the strokes.',
    effect('echo', { time: 0.5, feedback: 30, tone: 4000 }),
    ['in time'],
  ],
];

/** About thirty presets to begin with, for the instruments of this world and for voices. */
export function makeStarterSet(boathouse: Profile, quay: Profile, song: State, show: State): Starter[] {
  const blank = defaultState(boathouse);
  const strip = (
    id: string,
    keys: Keys,
    takes: (section: string, key: string) => boolean,
    on = boathouse,
  ): PresetContent => ({
    [id]: filterSettings(after(on, on === boathouse ? blank : defaultState(on), { [id]: keys })[id] ?? {}, takes),
  });
  const made = (
    kind: PresetKind,
    folder: string,
    [name, note, , tags = []]: Row,
    content: PresetContent,
    profileId = boathouse.id,
  ) => ({ kind, name, folder, note, tags, profileId, content }) satisfies Starter;
  const strips = Object.entries(STRIPS).flatMap(([folder, rows]) =>
    rows.map((row) =>
      made(
        'strip',
        folder,
        row,
        strip('in.1', row[2], (section) => SOUND_SECTIONS.includes(section)),
      ),
    ),
  );
  const processors = Object.entries(PROCESSORS).flatMap(([folder, rows]) =>
    rows.map((row) => {
      const [first = ''] = Object.keys(row[2]);
      const section = first.slice(0, first.indexOf('/'));
      const one = (own: string, key: string) => own === section && (own !== 'inserts' || key in row[2]);
      return made('processor', folder, row, strip('in.1', row[2], one));
    }),
  );
  const effects = EFFECTS.map((row) =>
    made(
      'processor',
      'Rooms and echoes',
      row,
      strip('fx.1', row[2], (section) => section === 'inserts'),
    ),
  );
  const bus = (section: string) => ['eq', 'compressor', 'inserts'].includes(section);
  const buses = [
    made(
      'bus',
      'Buses',
      [
        'Gentle main',
        'Holds a whole mix together: 1.6 to 1 above −16 dB, slow enough for drums. Aim for 1 to 2 dB of reduction.',
        {},
      ],
      strip(
        'main.1',
        {
          ...eq(
            ['low shelf', 60, 0, 0.7],
            ['bell', 300, -0.6, 0.7],
            ['bell', 2800, 0, 0.7],
            ['high shelf', 11000, 0.8, 0.7],
          ),
          ...comp(-16, 1.6, 30, 250, 0.5),
        },
        bus,
      ),
    ),
    made(
      'bus',
      'Buses',
      [
        'Voices together',
        'For a group of voices: 2 : 1 over all of them holds the voices together and evens out their sum.',
        {},
      ],
      strip(
        'group.1',
        {
          ...eq(
            ['low shelf', 120, -1, 0.7],
            ['bell', 250, -1, 1],
            ['bell', 3000, 0.8, 0.8],
            ['high shelf', 10000, 1, 0.7],
          ),
          ...comp(-16, 2, 15, 180, 1),
        },
        bus,
      ),
    ),
    made(
      'bus',
      'Buses',
      [
        'Wedge, less honk',
        'A floor monitor at ear height rings first at 400 Hz and 2.5 kHz: both down a little before anyone asks.',
        {},
      ],
      strip(
        'mix.1',
        eq(
          ['low shelf', 120, -3, 0.7],
          ['bell', 400, -3, 1.4],
          ['bell', 2500, -2.5, 1.6],
          ['high shelf', 10000, 0, 0.7],
        ),
        bus,
        quay,
      ),
      quay.id,
    ),
  ];
  const stripSet = made(
    'strip set',
    'Reeds',
    [
      'Accordion, two channels and its room',
      'Both sides panned wide with their short room: the four faders that make it one instrument.',
      {},
    ],
    stripSetContent(boathouse, song, ['in.3']),
  );
  const template = made(
    'template',
    'Whole desks',
    [
      'Saltmarsh Six on a large desk',
      'Names, colours, sources and routing of the whole band, faders down: where a new show begins.',
      {},
    ],
    presetContent('template', quay, show),
    quay.id,
  );
  return [...strips, ...processors, ...effects, ...buses, { ...stripSet, favourite: true }, template];
}
