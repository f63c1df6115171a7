import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

import { PlainError } from './plain-error.mjs';

/** Programs we need from Debian, and the packages that bring them. */
const PROGRAMS = {
  mariadb: { package: 'mariadb-server', files: ['/usr/sbin/mariadbd', '/usr/bin/mariadb-install-db'] },
  chromium: { package: 'chromium', files: ['/usr/bin/chromium'] },
  firefox: { package: 'firefox-esr', files: ['/usr/bin/firefox-esr'] },
  // A loudspeaker where there is none; Firefox plays nothing without.
  pulseaudio: { package: 'pulseaudio', files: ['/usr/bin/pulseaudio'] },
  ffmpeg: { package: 'ffmpeg', files: ['/usr/bin/ffmpeg'] },
  flac: { package: 'flac', files: ['/usr/bin/flac'] },
  sox: { package: 'sox', files: ['/usr/bin/sox'] },
  // An OSC of other people's, to hold ours against.
  liblo: { package: 'liblo-tools', files: ['/usr/bin/oscsend', '/usr/bin/oscdump'] },
  unzip: { package: 'unzip', files: ['/usr/bin/unzip'] },
};

const isThere = (name) => PROGRAMS[name].files.every((file) => existsSync(file));

/** Installs what is missing with apt where that is possible, and says what to type where it is not. */
export function needDebian(names) {
  const missing = names.filter((name) => !isThere(name)).map((name) => PROGRAMS[name].package);
  if (missing.length === 0) return;
  const command = `apt-get install --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get'))
    throw new PlainError(
      `Old Echo needs ${missing.join(' and ')}. Install it as root and start again:\n  sudo ${command}`,
    );
  console.log(`Installing ${missing.join(', ')} from Debian …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) => spawnSync('apt-get', ['-q', '-y', ...args], { env, encoding: 'utf8' });
  const update = apt('update');
  const install = apt('install', '--no-install-recommends', ...missing);
  if (install.status !== 0)
    throw new PlainError(
      `Debian's packages could not be installed:\n${install.stderr || update.stderr}\nTry it by hand: ${command}`,
    );
}
