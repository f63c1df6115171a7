import { linkSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import type { Profile } from '@old-echo/core/desk/profile';
import { type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { buildRenderGraph, type StemInput } from '@old-echo/core/sound/render-graph';
import { makeStems } from '@old-echo/demo/music/make-stems';
import type { StreamedMix } from '@old-echo/server/sound/render-stream';
import type { StemFile } from '@old-echo/server/sound/stem-file';

import { mixed } from './band-mix';

export const RATE = 48_000;
export const STRIPS = 100;
export const SECONDS = 360;
export const FRAMES = SECONDS * RATE;
const EFFECTS = ['room', 'plate', 'hall', 'echo', 'room', 'plate', 'hall', 'echo'];

/** What the session is, in words. */
export const SESSION = `${STRIPS} stems of ${SECONDS / 60} min, ${EFFECTS.length} effects`;

/** A session larger than any of the demo's, with its recordings in a folder of its own. */
export interface LongSession {
  readonly folder: string;
  readonly files: readonly string[];
  /** By their hashes. */
  readonly recordings: Readonly<Record<string, StemFile>>;
  /** A mix with some settings moved, and where it goes. */
  readonly mixOf: (moves: SettingsByAddress, name: string) => StreamedMix;
  readonly remove: () => void;
}

export function openLongSession(quay: Profile): LongSession {
  const folder = mkdtempSync(join(tmpdir(), 'old-echo-long-'));
  const files = longStems(folder);
  const profile = ofHundred(quay);
  const stems: Record<string, StemInput> = {};
  const recordings: Record<string, StemFile> = {};
  files.forEach((file, n) => {
    stems[`in.${n + 1}`] = { hash: `long ${n}`, frames: FRAMES, gain: 0 };
    recordings[`long ${n}`] = { file, channels: 1 };
  });
  const frames = FRAMES + 2 * RATE;
  const state = mixed(profile, STRIPS, EFFECTS);
  const mixOf = (moves: SettingsByAddress, name: string) => {
    const request = { output: 'main.1', solo: null, stems, law: 'constant power', rate: RATE, frames } as const;
    const file = join(folder, name);
    return { graph: buildRenderGraph(profile, withSettings(state, moves), request), file, part: `${file}.part` };
  };
  return { folder, files, recordings, mixOf, remove: () => rmSync(folder, { recursive: true }) };
}

/** Moves of every strip. */
export const EVERY_STRIP: SettingsByAddress = Object.fromEntries(
  Array.from({ length: STRIPS }, (_, n) => [`in.${n + 1}/eq/2/gain`, 1 + (n % 5)]),
);

/** A desk of a hundred inputs, for a session that is larger than any of the demo's desks. */
const ofHundred = (profile: Profile): Profile => ({
  ...profile,
  families: profile.families.map((family) =>
    family.id === 'in' ? { ...family, strips: Array.from({ length: STRIPS }, (_, i) => `in.${i + 1}`) } : family,
  ),
  strips: [
    ...Array.from({ length: STRIPS }, (_, i) => `in.${i + 1}`),
    ...profile.strips.filter((strip) => !strip.startsWith('in.')),
  ],
});

/** Recordings of six minutes: the demo's, over and over, at 24 bits; each under several names. */
function longStems(folder: string): string[] {
  const made = makeStems(folder);
  return Array.from({ length: STRIPS }, (_, n) => {
    const { hash } = made[n % made.length] ?? made[0] ?? { hash: '' };
    const first = join(folder, `long-${n % made.length}.wav`);
    if (n < made.length) {
      const [short = new Float32Array()] = readWav(readFileSync(join(folder, `${hash}.wav`))).channels;
      const long = new Float32Array(FRAMES);
      for (let at = 0; at < FRAMES; at += short.length) long.set(short.subarray(0, FRAMES - at), at);
      writeFileSync(first, writeWav({ rate: RATE, channels: [long] }, '24', false));
      return first;
    }
    const file = join(folder, `long-${n}.wav`);
    linkSync(first, file);
    return file;
  });
}
