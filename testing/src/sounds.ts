import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import type { PcmAudio } from '@old-echo/core/signal/sound';
import { readWav, writeWav } from '@old-echo/core/signal/wav';

/** Runs work with a folder of its own, which is gone afterwards. */
export function inFolder<T>(work: (folder: string) => T): T {
  const folder = mkdtempSync(join(tmpdir(), 'old-echo-sound-'));
  try {
    return work(folder);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** Runs a program from Debian's packages and returns all that it said. */
export function run(program: string, ...args: string[]): string {
  const { status, stdout, stderr } = spawnSync(program, args, { encoding: 'utf8' });
  if (status !== 0) throw new Error(`${program}: ${stderr}`);
  return stdout + stderr;
}

/** What SoX makes of a sound with some effects. */
export const throughSox = (sound: PcmAudio, ...effects: string[]): PcmAudio =>
  inFolder((folder) => {
    const [from, to] = [join(folder, 'from.wav'), join(folder, 'to.wav')];
    writeFileSync(from, writeWav(sound, 'float', false));
    run('sox', '-D', from, '-e', 'floating-point', '-b', '32', to, ...effects);
    return readWav(readFileSync(to));
  });

/** What FFmpeg's `ebur128` says of a sound: LUFS, LU, dBTP. */
export const throughEbur128 = (sound: PcmAudio): { integrated: number; range: number; truePeak: number } =>
  inFolder((folder) => {
    const file = join(folder, 'sound.wav');
    writeFileSync(file, writeWav(sound, 'float', false));
    const said = run('ffmpeg', '-hide_banner', '-nostats', '-i', file, '-af', 'ebur128=peak=true', '-f', 'null', '-');
    const summary = said.slice(said.lastIndexOf('Summary:'));
    const number = (name: RegExp) => Number(name.exec(summary)?.[1]);
    return {
      integrated: number(/I:\s+(-?[\d.]+) LUFS/),
      range: number(/LRA:\s+(-?[\d.]+) LU/),
      truePeak: number(/Peak:\s+(-?[\d.]+) dBFS/),
    };
  });

/** A sine of `seconds`, in dB of full scale, on some of `channels`. */
export function sine(
  hertz: number,
  level: number,
  seconds: number,
  { rate = 48_000, channels = 2, phase = 0, on = undefined as readonly number[] | undefined } = {},
): PcmAudio {
  const amplitude = 10 ** (level / 20);
  const samples = new Float32Array(Math.round(seconds * rate));
  for (let i = 0; i < samples.length; i++) samples[i] = amplitude * Math.sin((2 * Math.PI * hertz * i) / rate + phase);
  const silent = new Float32Array(samples.length);
  return { rate, channels: Array.from({ length: channels }, (_, c) => (!on || on.includes(c) ? samples : silent)) };
}

/** Sounds one after the other. */
export const inARow = (...sounds: PcmAudio[]): PcmAudio => ({
  rate: sounds[0]!.rate,
  channels: sounds[0]!.channels.map((_, c) => {
    const joined = new Float32Array(sounds.reduce((n, s) => n + s.channels[c]!.length, 0));
    let at = 0;
    for (const sound of sounds) {
      joined.set(sound.channels[c]!, at);
      at += sound.channels[c]!.length;
    }
    return joined;
  }),
});
