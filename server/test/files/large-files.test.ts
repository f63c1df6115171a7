import type { LibraryFile } from '@old-echo/core/formats/file-shapes';
import { plural } from '@old-echo/core/phrases/format-value';
import { heldUpBy, MOST_HELD_MS } from '@old-echo/testing/held-up';

import { Rig } from '../server-rig';
import { upload } from './file-steps';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

test('a library of thousands of presets is read while everything else goes on', async () => {
  const small = (await rig.get<LibraryFile>('/exports/presets')).body;
  expect(small.presets.length).toBeGreaterThan(0);
  const presets = Array.from({ length: 4000 }, (_, i) => ({
    ...small.presets[i % small.presets.length],
    name: `P ${i}`,
  }));
  const bytes = Buffer.from(JSON.stringify({ ...small, presets }));
  let opened!: Awaited<ReturnType<typeof upload>>;
  const held = await heldUpBy(async () => (opened = await upload(rig, bytes)));
  expect(opened.body.what).toBe(`${plural(presets.length, 'preset')} of a library.`);
  console.log(`${(bytes.length / 1e6).toFixed(1)} MB of presets held everything else up for ${held.toFixed(0)} ms`);
  expect(held).toBeLessThan(MOST_HELD_MS);
});

test.each([
  [
    'nine million empty objects',
    () => `{"format":"old-echo/library","version":1,"profiles":[],"presets":[${'{},'.repeat(9_000_000)}{}]}`,
  ],
  ['brackets without an end', () => '['.repeat(25_000_000)],
  ['one long text', () => JSON.stringify('\u0000'.repeat(4_000_000))],
])('%s are refused with a sentence, while everything else goes on', async (_, make) => {
  const bytes = Buffer.from(make());
  let refused!: Awaited<ReturnType<typeof upload>>;
  const held = await heldUpBy(async () => (refused = await upload(rig, bytes)));
  expect([refused.status, refused.body.title]).toEqual([422, expect.stringMatching(/^(The file|It|Not an Old Echo)/)]);
  expect(held).toBeLessThan(MOST_HELD_MS);
});
