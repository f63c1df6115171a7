import { comp, eq, fader, label, pan, send, sends, VOICES } from './sound';
import type { Moves, Told } from './tell';

const HOUR = 60;
const DAY = 24 * HOUR;

/** Points of a ride: `[seconds, dB]`. */
const ride = (...points: [number, number][]) => ({ 'automation/fader': points });

/** "Lanterns on the Quay" as it came from the recording: named, patched, cleaned up, nothing balanced yet. */
export const TRACKS: Moves = {
  'in.1': { ...label('Fiddle', 'reed'), ...VOICES.fiddle },
  'in.2': { ...label('Fiddle room', 'reed'), 'eq/on': true, 'eq/1/gain': -3 },
  'in.3': { ...label('Accordion L', 'kelp'), ...VOICES.accordion, 'source/link': true },
  'in.4': { ...label('Accordion R', 'kelp'), ...VOICES.accordion },
  'in.5': { ...label('Upright bass DI', 'slate'), ...VOICES.bass },
  'in.6': { ...label('Upright bass mic', 'slate'), ...VOICES.bass, 'preamp/polarity': true },
  'in.7': { ...label('Frame drum', 'rust'), ...VOICES.drum },
  'in.8': { ...label('Frame drum low', 'rust'), ...VOICES.drum, 'eq/4/gain': -4 },
  'in.9': { ...label('Shaker', 'rust'), ...VOICES.shaker },
  'in.10': { ...label('Wren vox', 'foam'), ...VOICES.wren, 'inserts/1/kind': 'de-ess', 'inserts/1/on': true },
  'in.11': { ...label('Wren double', 'foam'), ...VOICES.wren, 'inserts/1/kind': 'de-ess', 'inserts/1/on': true },
  'in.12': { ...label('Tam vox', 'foam'), ...VOICES.tam, 'inserts/1/kind': 'de-ess', 'inserts/1/on': true },
  'in.13': { ...label('Brass 1', 'brass'), ...VOICES.brass },
  'in.14': { ...label('Brass 2', 'brass'), ...VOICES.brass },
  'in.15': { ...label('Harbour L', 'night'), ...VOICES.ambience, 'source/link': true },
  'in.16': { ...label('Harbour R', 'night'), ...VOICES.ambience },
  'fx.1': { ...label('Room', 'sand'), 'inserts/kind': 'room', 'inserts/time': 0.7, ...fader(-6) },
  'fx.2': {
    ...label('Hall', 'sand'),
    'inserts/kind': 'hall',
    'inserts/time': 2.1,
    'inserts/predelay': 28,
    ...fader(-9),
  },
  'fx.3': {
    ...label('Slap', 'sand'),
    'inserts/kind': 'echo',
    'inserts/time': 0.1,
    'inserts/feedback': 5,
    ...fader(-12),
  },
  'fx.4': { ...label('Plate', 'sand'), 'inserts/kind': 'plate', 'inserts/time': 1.3, ...fader(-10) },
  'group.1': label('Percussion', 'rust'),
  'group.2': label('Strings and reeds', 'kelp'),
  'group.3': label('Voices', 'foam'),
  'group.4': label('Brass', 'brass'),
  'main.1': { ...label('Main', 'sand'), ...fader(0) },
};

const toBus = (bus: string) => ({ 'routing/main.1': false, [`routing/${bus}`]: true });

/** The main mix, told in six scenes. */
export const MAIN: readonly Told[] = [
  {
    name: 'Rough balance',
    milestone: 'editing done',
    note: 'Levels only, to hear the song. No effects.',
    ago: 2 * DAY + 3 * HOUR,
    moves: {
      'in.1': fader(-9),
      'in.2': fader(-18),
      'in.3': fader(-13),
      'in.4': fader(-13),
      'in.5': fader(-8),
      'in.6': fader(-12),
      'in.7': fader(-10),
      'in.8': fader(-14),
      'in.9': fader(-22),
      'in.10': fader(-6),
      'in.11': { ...fader(-16), 'mute/on': true },
      'in.12': fader(-9),
      'in.13': fader(-15),
      'in.14': fader(-15),
      'in.15': fader(-30),
      'in.16': fader(-30),
    },
  },
  {
    name: 'Static balance',
    milestone: 'static mix done',
    protected: true,
    isAtHand: true,
    note: 'Everything has its place. Levels, pans, buses and rooms; nothing moves yet.',
    ago: 2 * DAY,
    moves: {
      'in.1': { ...fader(-8), ...pan(-22), ...sends({ 'fx.1': -18, 'fx.2': -24 }), ...toBus('group.2') },
      'in.2': { ...fader(-20), ...pan(-35), ...toBus('group.2') },
      'in.3': { ...fader(-12), ...pan(-60), ...send('fx.1', -20), ...toBus('group.2') },
      'in.4': { ...fader(-12), ...pan(60), ...send('fx.1', -20), ...toBus('group.2') },
      'in.5': fader(-7.5),
      'in.6': fader(-11),
      'in.7': { ...fader(-10), ...pan(10), ...send('fx.1', -16), ...toBus('group.1') },
      'in.8': { ...fader(-13), ...toBus('group.1') },
      'in.9': { ...fader(-20), ...pan(38), ...toBus('group.1') },
      'in.10': { ...fader(-4), ...sends({ 'fx.2': -15, 'fx.3': -22 }), ...toBus('group.3') },
      'in.11': { ...fader(-15), ...pan(18), ...send('fx.2', -14), ...toBus('group.3') },
      'in.12': { ...fader(-6), ...pan(-14), ...send('fx.2', -16), ...toBus('group.3') },
      'in.13': { ...fader(-14), ...pan(-40), ...send('fx.4', -14), ...toBus('group.4') },
      'in.14': { ...fader(-15), ...pan(44), ...send('fx.4', -14), ...toBus('group.4') },
      'in.15': { ...fader(-32), ...pan(-100) },
      'in.16': { ...fader(-32), ...pan(100) },
      'group.1': { ...fader(0), ...comp(-12, 2, 30, 180, 1) },
      'group.3': { ...fader(0), ...comp(-14, 1.8, 20, 200, 1) },
    },
  },
  {
    name: 'Accordion wider',
    tags: ['width'],
    note: 'Opens the middle for Wren. Too much room on it?',
    ago: DAY + 5 * HOUR,
    moves: {
      'in.3': { ...pan(-88), ...send('fx.1', -14), 'eq/3/gain': 2.6 },
      'in.4': { ...pan(88), ...send('fx.1', -14), 'eq/3/gain': 2.6 },
      'in.1': pan(-14),
      'fx.1': { 'pan/width': 80, 'inserts/time': 0.9 },
    },
  },
  {
    name: 'Voice rides',
    milestone: 'automation written',
    note: 'Second verse up, last line of the bridge held back.',
    ago: DAY,
    moves: {
      'in.10': {
        ...ride([0, -4], [18.5, -4], [19.2, -2.6], [34, -2.6], [35, -4.4], [48, -3.2]),
        ...send('fx.3', -20),
      },
      'in.11': { 'mute/on': false, ...ride([0, -60], [33.8, -60], [34.4, -13], [52, -13]) },
      'in.12': ride([0, -6], [34, -6], [35.2, -4.8], [52, -4.8]),
      'in.7': {
        'automation/fader': [
          [0, -10],
          [34, -10],
          [34.6, -8.8],
        ],
      },
    },
  },
  {
    name: 'Fiddle forward',
    tags: ['bold', 'loud'],
    isAtHand: true,
    note: 'A bold try: the fiddle leads, drum driven, less hall. Loud. Sleep on it.',
    ago: 5 * HOUR,
    moves: {
      'in.1': {
        ...fader(-4.5),
        ...eq(
          ['low shelf', 150, -2, 0.7],
          ['bell', 420, -1.5, 1.2],
          ['bell', 3200, 3.4, 1],
          ['high shelf', 8000, 3, 0.7],
        ),
        ...send('fx.2', -30),
      },
      'in.2': fader(-15),
      'in.7': {
        ...fader(-8),
        'inserts/1/kind': 'drive',
        'inserts/1/on': true,
        'inserts/1/drive/amount': 34,
        'automation/inserts/1': [
          [0, 20],
          [34, 34],
          [48, 24],
        ],
      },
      'in.10': { ...fader(-5), 'eq/3/gain': 3.4 },
      'fx.2': fader(-13),
      'main.1': { 'inserts/1/kind': 'limiter', 'inserts/1/on': true, 'inserts/1/limiter/ceiling': -1.5 },
    },
  },
  {
    name: 'Autosaved while idle',
    kind: 'rested',
    ago: 4.5 * HOUR,
    moves: { 'in.1': fader(-3), 'in.7': fader(-7) },
  },
  {
    name: 'Fiddle kept, hall back',
    tags: ['bold'],
    note: 'Morning ears: the fiddle may stay in front, the hall may not go.',
    ago: 2 * HOUR,
    moves: {
      'in.1': { ...fader(-5.5), ...send('fx.2', -24), 'eq/3/gain': 2.2 },
      'in.7': { ...fader(-9), 'inserts/1/drive/amount': 18 },
      'fx.2': fader(-9.5),
      'in.10': fader(-4),
    },
  },
];

/** The instrumental, begun from "Voice rides". */
export const INSTRUMENTAL: readonly Told[] = [
  {
    name: 'Voices out',
    note: 'For the dance floor. Fiddle takes the tune.',
    ago: 20 * HOUR,
    moves: {
      'in.10': { 'mute/on': true },
      'in.11': { 'mute/on': true },
      'in.12': { 'mute/on': true },
      'in.1': fader(-6.5),
    },
  },
  {
    name: 'Brass answers the fiddle',
    ago: 4 * HOUR,
    moves: {
      'in.7': fader(-11),
      'in.13': { ...fader(-11), 'eq/3/gain': 0.6 },
      'in.14': fader(-12),
      'fx.2': fader(-7),
      'group.4': fader(1.5),
    },
  },
];

/** The edit for the harbour wireless, begun from "Static balance". */
export const BROADCAST: readonly Told[] = [
  {
    name: 'Short and even',
    note: 'Talked over at both ends, so nothing may jump.',
    ago: 26 * HOUR,
    moves: {
      'in.10': fader(-2.5),
      'in.15': { 'mute/on': true },
      'in.16': { 'mute/on': true },
      'group.3': comp(-18, 2.5, 12, 160, 2),
    },
  },
];

/** What the band asked for after "Fiddle kept, hall back": the first is answered by that scene. */
export const MIX_NOTES = [
  {
    text: 'The hall was lovely on the first one. Can it come back?',
    requestedBy: 'Tam',
    status: 'done',
    answered: true,
  },
  {
    text: 'Let the frame drum breathe before the last verse',
    songSeconds: 21,
    strip: 'in.7',
    requestedBy: 'Wren',
    status: 'open',
  },
  { text: 'An instrumental of this, for the dancers', requestedBy: 'The harbour club', status: 'open' },
] as const;
