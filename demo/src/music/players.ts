import { biquad } from '@old-echo/core/signal/biquad';
import { seededRandom } from '@old-echo/core/signal/wav-samples';
import { processInPlace } from '@old-echo/core/sound/block-processor';
import { createDelay } from '@old-echo/core/sound/effects';
import { filter } from '@old-echo/core/sound/filter-step';

import {
  ACCORDION,
  BASS,
  BEAT,
  BRASS,
  DRUM,
  FIDDLE,
  type Note,
  SECONDS,
  SHAKER,
  TAM,
  WREN,
  WREN_DOUBLE,
} from './notes';

export const RATE = 48_000;
const FRAMES = Math.round(SECONDS * RATE);

/** How one player sounds: the wave at a phase (0 … 1), how notes begin and end, and what is done to the whole. */
interface Player {
  readonly wave: (phase: number, age: number) => number;
  /** Seconds. */
  readonly attack: number;
  readonly release: number;
  /** How fast a held note falls, in seconds; none for bowed and blown ones. */
  readonly decay?: number;
  /** Vibrato: Hz and depth. */
  readonly wobble?: readonly [hertz: number, depth: number];
  readonly level: number;
  readonly colour?: (samples: Float32Array) => void;
}

const saw = (phase: number): number => 2 * phase - 1;
const sum = (phase: number, ...parts: readonly number[]): number =>
  parts.reduce((total, part, i) => total + part * Math.sin(2 * Math.PI * phase * (i + 1)), 0);
const bands =
  (...of: readonly (readonly [kind: 'bell' | 'low pass' | 'low cut', freq: number, gain: number, q: number])[]) =>
  (samples: Float32Array): void =>
    filter(
      of.map(([kind, freq, gain, q]) => biquad({ kind, freq, gain, q }, RATE)),
      [samples],
    );

/** Plays notes: each a wave under its own envelope, all summed. */
function play(notes: readonly Note[], player: Player): Float32Array {
  const { wave, attack, release, decay, wobble, level, colour } = player;
  const samples = new Float32Array(FRAMES);
  for (const [beat, beats, key, force] of notes) {
    const hertz = 440 * 2 ** ((key - 69) / 12);
    const [from, held] = [Math.round(beat * BEAT * RATE), beats * BEAT];
    const frames = Math.min(FRAMES - from, Math.round((held + release) * RATE));
    let phase = 0;
    for (let i = 0; i < frames; i++) {
      const age = i / RATE;
      const bend = wobble ? 1 + wobble[1] * Math.sin(2 * Math.PI * wobble[0] * age) * Math.min(1, age * 3) : 1;
      phase = (phase + (hertz * bend) / RATE) % 1;
      const rise = Math.min(1, age / attack);
      const fall = age > held ? Math.max(0, 1 - (age - held) / release) : 1;
      const fade = decay ? Math.exp(-age / decay) : 1;
      samples[from + i] = (samples[from + i] ?? 0) + wave(phase, age) * rise * fall * fade * force * level;
    }
  }
  colour?.(samples);
  return samples;
}

/** Strokes of noise, for skins and seeds. */
function strike(notes: readonly Note[], seed: number, decay: (key: number) => number, level: number): Float32Array {
  const random = seededRandom(seed);
  const samples = new Float32Array(FRAMES);
  for (const [beat, beats, key, force] of notes) {
    const from = Math.round(beat * BEAT * RATE);
    const frames = Math.min(FRAMES - from, Math.round((beats * BEAT + 0.2) * RATE));
    for (let i = 0; i < frames; i++) {
      const by = Math.exp(-i / RATE / decay(key)) * force * level;
      const age = i / RATE;
      const skin = key < 60 ? Math.sin(2 * Math.PI * (key * 2) * age * (1 + 0.6 * Math.exp(-age * 40))) : 0;
      samples[from + i] = (samples[from + i] ?? 0) + (skin + (random() - 0.5) * (key < 60 ? 0.4 : 1)) * by;
    }
  }
  return samples;
}

/** A player heard by another microphone: later, duller and softer. */
function farther(near: Float32Array, seconds: number, freq: number, by: number): Float32Array {
  const samples = near.map((x) => x * by);
  processInPlace([samples], createDelay(Math.round(seconds * RATE), true));
  bands(['low pass', freq, 0, 0.7])(samples);
  return samples;
}

/** Water and wind on the quay. */
function harbour(seed: number): Float32Array {
  const random = seededRandom(seed);
  const samples = new Float32Array(FRAMES);
  for (let i = 0; i < FRAMES; i++)
    samples[i] = (random() - 0.5) * 0.5 * (0.6 + 0.4 * Math.sin((2 * Math.PI * i) / RATE / (5 + seed)));
  bands(['low pass', 900, 0, 0.7], ['low cut', 120, 0, 0.7])(samples);
  return samples;
}

const reeds = (phase: number): number => sum(phase, 0.5, 0.35, 0.3, 0.2, 0.18, 0.1);
const voice = (level: number, ...formants: readonly number[]): Player => ({
  wave: saw,
  attack: 0.05,
  release: 0.12,
  wobble: [5.4, 0.008],
  level,
  colour: (samples) => {
    bands(['low pass', 3400, 0, 0.7])(samples);
    bands(...formants.map((freq) => ['bell', freq, 12, 5] as const))(samples);
  },
});

/** Every strip of the song that has a player, as recorded: one channel each. The same on every machine, every time. */
export function playAll(): Readonly<Record<string, Float32Array>> {
  const fiddle = play(FIDDLE, {
    wave: saw,
    attack: 0.04,
    release: 0.08,
    wobble: [5.8, 0.006],
    level: 0.16,
    colour: bands(['bell', 500, 4, 1.5], ['bell', 2700, 6, 1.2], ['low pass', 7000, 0, 0.7]),
  });
  const bass = play(BASS, {
    wave: (phase, age) => sum(phase, 0.8, 0.4 * Math.exp(-age * 3), 0.2 * Math.exp(-age * 6)),
    attack: 0.008,
    release: 0.08,
    decay: 0.9,
    level: 0.35,
  });
  const drum = strike(DRUM, 21, (key) => (key < 45 ? 0.16 : 0.07), 0.5);
  const accordion = (upper: boolean) =>
    play(ACCORDION(upper), {
      wave: reeds,
      attack: 0.03,
      release: 0.1,
      wobble: [upper ? 4.1 : 3.7, 0.002],
      level: 0.14,
    });
  const brass = (third: boolean) =>
    play(BRASS(third), {
      wave: (phase, age) =>
        sum(phase, 0.4, 0.35, 0.3 * Math.min(1, age * 8), 0.25 * Math.min(1, age * 6), 0.2 * Math.min(1, age * 5)),
      attack: 0.05,
      release: 0.1,
      level: 0.2,
    });
  const shaker = strike(SHAKER, 22, () => 0.03, 0.3);
  bands(['low cut', 3000, 0, 0.7])(shaker);
  const wren = play(WREN, voice(0.12, 820, 1250, 2900));
  return {
    'in.1': fiddle,
    'in.2': farther(fiddle, 0.011, 6000, 0.5),
    'in.3': accordion(false),
    'in.4': accordion(true),
    'in.5': bass,
    // Wired the other way round, as the song's strip says.
    'in.6': farther(bass, 0.002, 2500, -0.7),
    'in.7': drum,
    'in.8': farther(drum, 0.003, 400, 0.9),
    'in.9': shaker,
    'in.10': wren,
    'in.11': farther(play(WREN_DOUBLE, voice(0.1, 780, 1300, 2700)), 0.018, 9000, 0.9),
    'in.12': play(TAM, voice(0.13, 620, 1050, 2500)),
    'in.13': brass(false),
    'in.14': brass(true),
    'in.15': harbour(3),
    'in.16': harbour(4),
  };
}
