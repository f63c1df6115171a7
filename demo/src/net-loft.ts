import { fader, type Keys, pan, send } from './sound';
import type { Moves, Told } from './tell';

const DAY = 24 * 60;

/** A name as it stands on the tape under the fader. */
const tape = (name: string): Keys => ({ 'label/name': name });
const gain = (decibels: number, more: Keys = {}): Keys => ({ 'preamp/gain': decibels, ...more });
const LOW_CUT: Keys = { 'preamp/lowcut/on': true };
const PHANTOM: Keys = { 'preamp/phantom': true };
const tone = (low: number, mid: number, high: number): Keys => ({
  'eq/on': true,
  'eq/low/gain': low,
  'eq/1/gain': mid,
  'eq/high/gain': high,
});

/** The old desk in the net loft as the band was set up on it: named, gains set, nothing up yet. */
export const SET_UP: Moves = {
  'in.1': { ...tape('Fiddle'), ...gain(34, { ...PHANTOM, ...LOW_CUT }) },
  'in.2': { ...tape('Fiddle room'), ...gain(41, PHANTOM) },
  'in.3': { ...tape('Accordion L'), ...gain(28), ...pan(-60) },
  'in.4': { ...tape('Accordion R'), ...gain(28), ...pan(60) },
  'in.5': { ...tape('Upright bass DI'), ...gain(12) },
  'in.6': { ...tape('Upright bass mic'), ...gain(31, { 'preamp/polarity': true }) },
  'in.7': { ...tape('Frame drum'), ...gain(18, { 'preamp/pad': true }) },
  'in.8': { ...tape('Shaker'), ...gain(38, { ...PHANTOM, ...LOW_CUT }), ...pan(30) },
  'in.9': { ...tape('Wren vox'), ...gain(36, { ...PHANTOM, ...LOW_CUT }) },
  'in.10': { ...tape('Tam vox'), ...gain(35, LOW_CUT) },
  'in.11': { ...tape('Brass 1'), ...gain(16), ...pan(-30) },
  'in.12': { ...tape('Brass 2'), ...gain(16), ...pan(30) },
  'in.13': { ...tape('Loft L'), ...gain(44, PHANTOM), ...pan(-100) },
  'in.14': { ...tape('Loft R'), ...gain(44, PHANTOM), ...pan(100) },
  'in.23': tape('Tape L'),
  'in.24': tape('Tape R'),
  'main.1': fader(0),
};

/** "Low water", recorded and mixed there: what stood on the desk each time. */
export const LOW_WATER: readonly Told[] = [
  {
    name: 'Tracking',
    note: 'All in one room, two takes.',
    ago: 9 * DAY,
    moves: {
      'in.1': { ...fader(-6), ...send('mix.1', -8) },
      'in.3': fader(-9),
      'in.4': fader(-9),
      'in.5': fader(-7.5),
      'in.6': fader(-12),
      'in.7': fader(-10),
      'in.9': { ...fader(-4), ...send('mix.2', -6) },
      'in.13': fader(-20),
      'in.14': fader(-20),
    },
  },
  {
    name: 'Overdubs',
    note: 'Brass and shaker on top; the room closed.',
    ago: 8 * DAY,
    moves: {
      'in.8': fader(-18),
      'in.11': { ...fader(-8), ...tone(0, 2, 1) },
      'in.12': { ...fader(-8), ...tone(0, 2, 1) },
      'in.13': { 'mute/on': true },
      'in.14': { 'mute/on': true },
      'rack.3': { 'compressor/on': true, 'compressor/threshold': -8, 'compressor/makeup': 3 },
    },
  },
  {
    name: 'Mix by hand',
    milestone: 'mixed',
    note: 'Printed from here.',
    ago: 6 * DAY,
    moves: {
      'in.1': { ...fader(-8), ...tone(-2, -1, 2) },
      'in.2': fader(-22),
      'in.5': { ...fader(-6), ...tone(2, -3, 0) },
      'in.9': { ...fader(-3), ...tone(-3, 2, 3) },
      'in.10': { ...fader(-9), ...tone(-3, 1, 2) },
      'in.13': { 'mute/on': false, ...fader(-26) },
      'in.14': { 'mute/on': false, ...fader(-26) },
      'rack.1': { 'compressor/on': true, 'compressor/threshold': -4, 'compressor/release': 600 },
      'rack.2': { 'compressor/on': true, 'compressor/threshold': -4, 'compressor/release': 600 },
    },
  },
];
