import type { NewOutboard } from '@old-echo/core/contracts/outboard';
import type { Parts } from '@old-echo/core/contracts/part';

import { eq, pan } from './sound';
import type { Moves } from './tell';

/** Who plays what on the live desk. */
export const SHOW_PARTS: Parts = {
  'in.1': 'Fiddle',
  'in.2': 'Accordion treble',
  'in.3': 'Accordion bass',
  'in.4': 'Upright bass',
  'in.5': 'Frame drum',
  'in.6': 'Shaker',
  'in.7': 'Voice Wren',
  'in.8': 'Voice Tam',
  'in.9': 'Brass 1',
  'in.10': 'Brass 2',
  'fx.1': 'Voice echo',
  'fx.2': 'Hall',
};

/** The same players in the song, which has a microphone more here and there. */
export const SONG_PARTS: Parts = {
  'in.1': 'Fiddle',
  'in.2': 'Fiddle room',
  'in.3': 'Accordion treble',
  'in.4': 'Accordion bass',
  'in.5': 'Upright bass',
  'in.6': 'Upright bass mic',
  'in.7': 'Frame drum',
  'in.8': 'Frame drum low',
  'in.9': 'Shaker',
  'in.10': 'Voice Wren',
  'in.11': 'Voice Wren double',
  'in.12': 'Voice Tam',
  'in.13': 'Brass 1',
  'in.14': 'Brass 2',
};

/** How the show was set in the open, where nothing rings and everything is wider than the hall allows. */
export const FISH_MARKET: Moves = {
  'in.1': {
    ...pan(-20),
    ...eq(['low shelf', 120, 0, 0.7], ['bell', 400, 1, 1], ['bell', 2800, -1, 1], ['high shelf', 9000, 2, 0.7]),
  },
  'in.2': pan(-80),
  'in.3': pan(80),
  'in.9': pan(-45),
  'in.10': pan(45),
  'fx.2': { 'inserts/time': 2.9, 'inserts/predelay': 40 },
};

/** What the song runs through that no desk stores, read off its front. */
export const OUTBOARD: readonly (NewOutboard & { readonly picture?: string })[] = [
  {
    name: 'Saltmarsh pair, on the main',
    controls: [
      { name: 'Threshold', value: '−4' },
      { name: 'Ratio', value: '2 : 1' },
      { name: 'Attack', value: '30 ms' },
      { name: 'Release', value: '0.3 s' },
      { name: 'Make-up', value: '+1.5 dB' },
    ],
    note: 'Never more than 2 dB down. Both sides linked by the switch at the back.',
    picture: 'saltmarsh-pair.png',
  },
  {
    name: 'Bell-buoy preamp, Wren',
    controls: [
      { name: 'Gain', value: '40' },
      { name: 'Pad', value: 'off' },
      { name: 'Low cut', value: '80 Hz' },
      { name: 'Impedance', value: 'high' },
    ],
    note: 'Warm for ten minutes first.',
  },
];
