import { spawnSync } from 'node:child_process';

import type { Profile } from '@old-echo/core/desk/profile';
import { defaultState, type SettingsByAddress, type State, withSettings } from '@old-echo/core/desk/state';

/** Strips with low cut, four bands and a compressor each, a gate on every third, all in every effect. */
export function mixed(profile: Profile, strips: number, kinds = ['room', 'plate', 'hall', 'echo']): State {
  const settings: Record<string, SettingsByAddress[string]> = { 'main.1/fader/level': 0 };
  for (let n = 1; n <= strips; n++) {
    const set = (key: string, value: SettingsByAddress[string]) => (settings[`in.${n}/${key}`] = value);
    set('fader/level', -12 - (n % 7));
    set('routing/main.1', true);
    set('pan/position', ((n * 37) % 160) - 80);
    set('preamp/lowcut/on', true);
    set('eq/on', true);
    for (let band = 1; band <= 4; band++) {
      set(`eq/${band}/on`, true);
      // No two strips are set alike.
      set(`eq/${band}/gain`, (band % 2 === 0 ? 2.5 : -3) + n / 10);
    }
    set('compressor/on', true);
    set('compressor/threshold', -24);
    set('compressor/ratio', 3);
    set('gate/on', n % 3 === 0);
    for (let fx = 1; fx <= kinds.length; fx++) set(`sends/fx.${fx}/level`, -18 - ((n + fx) % 5));
  }
  kinds.forEach((kind, i) => {
    settings[`fx.${i + 1}/inserts/kind`] = kind;
    settings[`fx.${i + 1}/fader/level`] = -6;
    settings[`fx.${i + 1}/routing/main.1`] = true;
  });
  settings['main.1/eq/on'] = true;
  settings['main.1/compressor/on'] = true;
  return withSettings(defaultState(profile), settings);
}

/** The same chain of low cut, bands and compressor on the same files in FFmpeg, summed; without rooms, sends and gates. */
export function ffmpegMix(files: readonly string[]): void {
  const bands = [100, 500, 2500, 8000].map((freq, i) => `equalizer=f=${freq}:t=q:w=1:g=${i % 2 === 0 ? -3 : 2.5}`);
  const chain = ['highpass=f=80', ...bands, 'acompressor=threshold=0.063:ratio=3', 'pan=stereo|c0=0.7*c0|c1=0.7*c0'];
  const strips = files.map((_, i) => `[${i}]${chain.join(',')}[s${i}]`);
  const sum = `${files.map((_, i) => `[s${i}]`).join('')}amix=inputs=${files.length}:normalize=0`;
  run('ffmpeg', [
    '-nostdin',
    ...files.flatMap((file) => ['-i', file]),
    ...['-filter_complex', `${strips.join(';')};${sum}`, '-f', 'null', '-'],
  ]);
}

export function run(program: string, args: readonly string[]): void {
  const { status, stderr } = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 64 * 1024 * 1024 });
  if (status !== 0) throw new Error(`${program}: ${stderr.slice(-500)}`);
}
