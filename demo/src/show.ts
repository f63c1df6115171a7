import type { Value } from '@old-echo/core/desk/setting';

import { comp, eq, fader, type Keys, label, lowCut, mic, pan, send, sends, VOICES } from './sound';
import type { Moves, Told } from './tell';

const HOUR = 60;
const off = { 'mute/on': true };
const open = { 'mute/on': false };

/** What each musician wants in their own mix; the rest they hear from the stage. */
const monitors = (levels: Readonly<Record<number, number>>): Keys =>
  Object.fromEntries(
    Object.entries(levels).flatMap(([mix, level]): [string, Value][] => [
      [`sends/mix.${mix}/level`, level],
      [`sends/mix.${mix}/tap`, 'pre'],
    ]),
  );
const dca = (n: number) => ({ [`routing/dca.${n}`]: true });
const mutes = (n: number) => ({ [`routing/mutegroup.${n}`]: true });
const group = (n: number) => ({ [`routing/group.${n}`]: true, 'routing/main.1': false });

/** The desk as it is set up in Harbour Hall: named, patched, monitors and outputs ready, everything closed. */
export const RIG: Moves = {
  'in.1': {
    ...label('Fiddle', 'reed', 'clip-on, spare on 11'),
    ...VOICES.fiddle,
    ...mic(28, true),
    ...monitors({ 1: -6, 2: -14, 6: -12 }),
    ...dca(1),
    ...mutes(2),
    ...off,
  },
  'in.2': {
    ...label('Accordion L', 'kelp', 'treble side'),
    ...VOICES.accordion,
    ...mic(24, true),
    ...pan(-55),
    ...monitors({ 2: -5, 1: -12, 4: -12 }),
    ...dca(1),
    ...mutes(2),
    ...off,
  },
  'in.3': {
    ...label('Accordion R', 'kelp', 'bass side'),
    ...VOICES.accordion,
    ...mic(26, true),
    ...pan(55),
    ...monitors({ 2: -8, 3: -14 }),
    ...dca(1),
    ...mutes(2),
    ...off,
  },
  'in.4': {
    ...label('Upright bass', 'slate', 'pickup'),
    ...VOICES.bass,
    ...mic(12),
    ...monitors({ 3: -4, 1: -16, 5: -10 }),
    ...dca(1),
    ...mutes(2),
    ...off,
  },
  'in.5': {
    ...label('Frame drum', 'rust'),
    ...VOICES.drum,
    ...mic(34),
    ...group(1),
    ...monitors({ 3: -10, 4: -6 }),
    ...dca(1),
    ...mutes(2),
    ...off,
  },
  'in.6': {
    ...label('Shaker', 'rust'),
    ...VOICES.shaker,
    ...mic(38, true),
    ...group(1),
    ...pan(30),
    ...dca(1),
    ...mutes(2),
    ...off,
  },
  'in.7': {
    ...label('Wren vox', 'foam', 'in-ears'),
    ...VOICES.wren,
    ...mic(36),
    ...group(2),
    ...monitors({ 5: -3, 6: -8, 1: -14, 2: -14, 3: -14, 4: -14 }),
    ...dca(2),
    ...mutes(2),
    ...off,
  },
  'in.8': {
    ...label('Tam vox', 'foam'),
    ...VOICES.tam,
    ...mic(34),
    ...group(2),
    ...monitors({ 6: -4, 5: -9, 3: -16 }),
    ...dca(2),
    ...mutes(2),
    ...off,
  },
  'in.9': {
    ...label('Brass 1', 'brass', 'second half only'),
    ...VOICES.brass,
    ...mic(22, true),
    ...pan(-30),
    ...monitors({ 4: -12 }),
    ...dca(3),
    ...mutes(2),
    ...off,
  },
  'in.10': {
    ...label('Brass 2', 'brass', 'second half only'),
    ...VOICES.brass,
    ...mic(22, true),
    ...pan(34),
    ...monitors({ 4: -12 }),
    ...dca(3),
    ...mutes(2),
    ...off,
  },
  'in.11': { ...label('Fiddle spare', 'reed'), ...VOICES.fiddle, ...mic(20, true), ...off },
  'in.12': { ...label('Vox spare', 'foam'), ...VOICES.tam, ...mic(34), ...off },
  'in.45': {
    ...label('Walk-in L', 'night'),
    'source/socket': 'Playback 1',
    'source/link': true,
    ...pan(-100),
    ...off,
  },
  'in.46': { ...label('Walk-in R', 'night'), 'source/socket': 'Playback 2', ...pan(100), ...off },
  'in.47': {
    ...label('Hall mic L', 'night'),
    ...VOICES.ambience,
    ...mic(30, true),
    'source/link': true,
    ...monitors({ 5: -18 }),
    'routing/main.1': false,
    ...fader(-20),
  },
  'in.48': {
    ...label('Hall mic R', 'night'),
    ...VOICES.ambience,
    ...mic(30, true),
    ...monitors({ 5: -18 }),
    'routing/main.1': false,
    ...fader(-20),
  },
  'fx.1': {
    ...label('Hall', 'sand'),
    'inserts/kind': 'hall',
    'inserts/time': 1.9,
    'inserts/predelay': 30,
    ...fader(-8),
    ...eq(['low shelf', 220, -6, 0.7], ['bell', 500, -1, 1], ['bell', 2500, 0, 1], ['high shelf', 7000, -3, 0.7]),
    ...dca(4),
    ...mutes(1),
  },
  'fx.2': {
    ...label('Room', 'sand'),
    'inserts/kind': 'room',
    'inserts/time': 0.6,
    ...fader(-10),
    ...dca(4),
    ...mutes(1),
  },
  'fx.3': {
    ...label('Slap', 'sand'),
    'inserts/kind': 'echo',
    'inserts/time': 0.1,
    'inserts/feedback': 8,
    ...fader(-14),
    ...dca(4),
    ...mutes(1),
  },
  'fx.4': {
    ...label('Plate', 'sand'),
    'inserts/kind': 'plate',
    'inserts/time': 1.2,
    ...fader(-12),
    ...dca(4),
    ...mutes(1),
  },
  ...Object.fromEntries(
    ['Fiddle mix', 'Accordion mix', 'Bass mix', 'Drum mix', 'Wren ears', 'Tam ears'].map((name, i) => [
      `mix.${i + 1}`,
      {
        ...label(name, 'slate'),
        ...fader(-3),
        ...comp(-10, 6, 5, 120),
        ...eq(
          ['low shelf', 120, -2, 0.7],
          ['bell', 250, -2, 1.4],
          ['notch', 1250 + 180 * i, -6, 6],
          ['high shelf', 9000, 0, 0.7],
        ),
      },
    ]),
  ),
  'group.1': { ...label('Percussion', 'rust'), ...fader(0), ...comp(-12, 2.5, 25, 160, 1) },
  'group.2': { ...label('Voices', 'foam'), ...fader(0), ...comp(-14, 2, 15, 180, 1) },
  'dca.1': label('Band', 'kelp'),
  'dca.2': label('Voices', 'foam'),
  'dca.3': label('Brass', 'brass'),
  'dca.4': label('Effects', 'sand'),
  'mutegroup.1': label('Effects', 'sand'),
  'mutegroup.2': label('Stage', 'rust'),
  'matrix.1': { ...label('Front fill', 'slate'), ...fader(-6), 'routing/output': 'Out 19', 'inserts/delay': 8.5 },
  'matrix.2': { ...label('Balcony', 'slate'), ...fader(-4), 'routing/output': 'Out 20', 'inserts/delay': 46.2 },
  'matrix.3': { ...label('Foyer', 'slate'), ...fader(-18), 'routing/output': 'Out 21' },
  'main.1': {
    ...fader(-5),
    'routing/output': 'Out 17',
    ...sends({ 'matrix.1': -3, 'matrix.2': 0, 'matrix.3': -6 }),
    ...eq(
      ['low shelf', 63, -1.5, 0.7],
      ['bell', 160, -2.4, 2],
      ['bell', 2500, -1.2, 1.2],
      ['high shelf', 10000, 0.6, 0.7],
    ),
  },
  'main.2': { ...fader(-10), 'routing/output': 'Out 18', ...lowSub() },
};

function lowSub() {
  return eq(['low shelf', 50, 1, 0.7], ['bell', 90, 0, 1], ['bell', 400, -6, 0.7], ['high shelf', 2000, -12, 0.7]);
}

/** "Night Ferry" in Harbour Hall, in the order it is played. */
export const SHOW: readonly Told[] = [
  {
    name: 'Line check',
    ago: 9 * HOUR,
    note: 'Every line heard, gains set, nobody on stage.',
    moves: Object.fromEntries([1, 2, 3, 4, 5, 6, 7, 8, 9, 10].map((n) => [`in.${n}`, { ...open, ...fader(-20) }])),
  },
  {
    name: 'Soundcheck balance',
    protected: true,
    milestone: 'soundcheck done',
    ago: 7 * HOUR,
    note: 'The whole band in "Lanterns on the Quay". Hall is empty and bright; expect to give the voices 2 dB tonight.',
    moves: {
      'in.1': { ...fader(-8), ...sends({ 'fx.1': -20, 'fx.2': -18 }) },
      'in.2': { ...fader(-12), ...send('fx.2', -20) },
      'in.3': { ...fader(-12), ...send('fx.2', -20) },
      'in.4': fader(-6.5),
      'in.5': { ...fader(-10), ...send('fx.2', -16) },
      'in.6': { ...fader(-20), ...off },
      'in.7': { ...fader(-4), ...sends({ 'fx.1': -14, 'fx.3': -24 }) },
      'in.8': { ...fader(-6), ...send('fx.1', -16) },
      'in.9': { ...fader(-14), ...send('fx.4', -16) },
      'in.10': { ...fader(-14), ...send('fx.4', -16) },
    },
  },
  {
    name: 'Doors, walk-in music',
    isAtHand: true,
    ago: 4 * HOUR,
    note: 'Stage closed, playback open, foyer up.',
    moves: {
      ...Object.fromEntries([1, 2, 3, 4, 5, 6, 7, 8, 9, 10].map((n) => [`in.${n}`, off])),
      'in.45': { ...open, ...fader(-18) },
      'in.46': { ...open, ...fader(-18) },
      'matrix.3': fader(-10),
    },
  },
  {
    name: 'Night Ferry',
    tags: ['first half'],
    isAtHand: true,
    ago: 3 * HOUR,
    note: 'Starts from the drum alone.',
    moves: {
      ...Object.fromEntries([1, 2, 3, 4, 5, 7, 8].map((n) => [`in.${n}`, open])),
      'in.45': { ...off, ...fader(-90) },
      'in.46': { ...off, ...fader(-90) },
      'matrix.3': fader(-18),
      'in.5': { ...open, ...fader(-7.5) },
    },
  },
  {
    name: 'Saltmarsh reel',
    tags: ['first half'],
    ago: 170,
    note: 'Fiddle leads, shaker in.',
    moves: {
      'in.1': { ...fader(-5), ...send('fx.2', -15) },
      'in.5': fader(-10),
      'in.6': { ...open, ...fader(-18) },
      'in.7': { ...off },
      'in.8': fader(-9),
    },
  },
  {
    name: 'Low tide',
    tags: ['quiet', 'second half'],
    isAtHand: true,
    ago: 160,
    note: 'Wren and accordion only. Long hall; ride the DCA.',
    moves: {
      'in.1': { ...fader(-16), ...send('fx.2', -18) },
      'in.2': { ...fader(-9), 'eq/3/gain': -0.6 },
      'in.3': { ...fader(-9), 'eq/3/gain': -0.6 },
      'in.5': off,
      'in.6': off,
      'in.7': { ...open, ...fader(-2.5), ...sends({ 'fx.1': -9 }), 'compressor/threshold': -28 },
      'in.8': { ...fader(-12) },
      'fx.1': { 'inserts/time': 3.2, ...fader(-6) },
    },
  },
  {
    name: 'Harbour bells',
    ago: 150,
    note: 'Brass comes on stage right. Open them on the last line of verse two.',
    moves: {
      'in.1': fader(-8),
      'in.2': { ...fader(-12), 'eq/3/gain': 1.6 },
      'in.3': { ...fader(-12), 'eq/3/gain': 1.6 },
      'in.5': { ...open, ...fader(-9) },
      'in.7': { ...fader(-4), ...send('fx.1', -13), 'compressor/threshold': -24 },
      'in.8': fader(-6),
      'in.9': { ...open, ...fader(-9.5), ...mic(26, true), ...monitors({ 4: -8, 3: -12 }) },
      'in.10': { ...open, ...fader(-10), ...mic(26, true), ...monitors({ 4: -8 }) },
      'fx.1': { 'inserts/time': 1.9, ...fader(-8) },
    },
  },
  {
    name: 'Last lantern',
    ago: 140,
    note: 'Everyone. The audience sings along: keep the audience microphones out of the main.',
    moves: {
      'in.1': fader(-6.5),
      'in.4': fader(-5.5),
      'in.6': { ...open, ...fader(-17) },
      'in.7': fader(-3),
      'in.8': fader(-4.5),
      'in.9': fader(-8),
      'in.10': fader(-8.5),
      'in.12': { ...open, ...fader(-10), ...lowCut(120) },
      'fx.4': fader(-9),
      'main.1': fader(-4.5),
    },
  },
];

/** Where hands have moved since "Harbour bells": what the desk shows as drift at first. */
export const HANDS_SINCE: Moves = {
  'in.1': fader(-5.2),
  'in.4': { 'eq/2/gain': -4.6, 'compressor/threshold': -25 },
  'in.5': fader(-12.4),
  'in.7': { ...fader(-2.1), ...send('fx.1', -10.5) },
  'fx.1': { 'inserts/time': 2.4 },
};
