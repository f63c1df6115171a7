import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import { run } from '@old-echo/testing/sounds';

jest.setTimeout(120_000);

const ROOT = join(__dirname, '..', '..');

test('the demo plays the same every time: every player is heard, and none is too loud (SoX)', () => {
  const folder = mkdtempSync(join(tmpdir(), 'old-echo-demo-'));
  const make = (name: string) => {
    const out = join(folder, name);
    run(process.execPath, join(ROOT, 'demo', 'dist', 'make.mjs'), '--out', out);
    return join(out, 'sound', 'stems');
  };
  try {
    const [once, again] = [make('once'), make('again')];
    const names = readdirSync(once).sort();
    // Stems are named by their content.
    expect(readdirSync(again).sort()).toEqual(names);
    expect(names).toHaveLength(16);
    for (const name of names) {
      const said = run('sox', join(once, name), '-n', 'stat');
      const amplitude = Number(/Maximum amplitude:\s+([\d.]+)/.exec(said)?.[1]);
      expect(amplitude).toBeGreaterThan(0.03);
      expect(amplitude).toBeLessThan(0.95);
      expect(said).toMatch(/Length \(seconds\):\s+30\.0/);
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
});
