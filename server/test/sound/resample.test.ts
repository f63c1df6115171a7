import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import { factorToDb } from '@old-echo/core/signal/sound';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { WorkerPool } from '@old-echo/server/sound/worker-pool';
import { run, sine } from '@old-echo/testing/sounds';

jest.setTimeout(120_000);

const RATE = 48_000;
/** dBFS, and seconds. */
const [LEVEL, SECONDS] = [-6, 1];
/** What is left out at either end, in samples: there a filter rings. */
const EDGE = 4800;

let folder: string;
let pool: WorkerPool;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'old-echo-resample-'));
  pool = new WorkerPool(undefined, 1);
});
afterAll(async () => {
  await pool.close();
  rmSync(folder, { recursive: true });
});

/** A sine recorded at another rate, at ours: by our resampler, and by SoX's best. */
async function resampled(hertz: number, rate: number): Promise<{ ours: Float32Array; sox: Float32Array }> {
  const [from, file, sox] = [`${hertz}-${rate}.wav`, 'ours.wav', 'sox.wav'].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ];
  writeFileSync(from, writeWav(sine(hertz, LEVEL, SECONDS, { rate, channels: 1 }), 'float', false));
  await pool.run({ do: 'resample', from, rate: RATE, file, part: `${file}.part` });
  run('sox', from, '-e', 'floating-point', '-b', '32', sox, 'rate', '-v', String(RATE));
  const left = (path: string) => readWav(new Uint8Array(readFileSync(path))).channels[0]!;
  return { ours: left(file), sox: left(sox) };
}

/** How loud the sine is in a sound, in dB of what it was, and all else, in dBFS: by least squares. */
function heard(sound: Float32Array, hertz: number): { gain: number; rest: number } {
  const part = sound.subarray(EDGE, sound.length - EDGE);
  const step = (2 * Math.PI * hertz) / RATE;
  let [ss, cc, sc, xs, xc] = [0, 0, 0, 0, 0];
  part.forEach((x, i) => {
    const [s, c] = [Math.sin(step * i), Math.cos(step * i)];
    ss += s * s;
    cc += c * c;
    sc += s * c;
    xs += x * s;
    xc += x * c;
  });
  const det = ss * cc - sc * sc;
  const [a, b] = [(xs * cc - xc * sc) / det, (xc * ss - xs * sc) / det];
  let rest = 0;
  part.forEach((x, i) => (rest += (x - a * Math.sin(step * i) - b * Math.cos(step * i)) ** 2));
  return { gain: factorToDb(Math.hypot(a, b)) - LEVEL, rest: 10 * Math.log10(rest / part.length) };
}

test.each([44_100, 88_200, 96_000, 192_000])(
  'from %i Hz what is heard stays within 0.01 dB, as with SoX, and nothing is added above −100 dBFS',
  async (rate) => {
    for (const hertz of [50, 997, 5000, 12_000, 18_000, 20_000]) {
      const { ours, sox } = await resampled(hertz, rate);
      const [one, other] = [heard(ours, hertz), heard(sox, hertz)];
      expect(Math.abs(one.gain)).toBeLessThan(0.01);
      expect(Math.abs(one.gain - other.gain)).toBeLessThan(0.01);
      expect(one.rest).toBeLessThan(-100);
    }
  },
);

test.each([
  [27_000, 88_200],
  [30_000, 96_000],
  [47_000, 96_000],
  [70_000, 192_000],
])('a tone of %i Hz recorded at %i Hz leaves no image', async (hertz, rate) => {
  const { ours } = await resampled(hertz, rate);
  const part = ours.subarray(EDGE, ours.length - EDGE);
  expect(10 * Math.log10(part.reduce((sum, x) => sum + x * x, 1e-30) / part.length)).toBeLessThan(-100);
});

test('what is resampled is in step with what was recorded', async () => {
  // A sine's phase tells a shift: of 1 kHz a sample is 7.5 degrees.
  const { ours } = await resampled(1000, 44_100);
  const at = (n: number) => 10 ** (LEVEL / 20) * Math.sin((2 * Math.PI * 1000 * n) / RATE);
  let furthest = 0;
  for (let n = EDGE; n < ours.length - EDGE; n++) furthest = Math.max(furthest, Math.abs(ours[n]! - at(n)));
  expect(furthest).toBeLessThan(1e-3);
});
