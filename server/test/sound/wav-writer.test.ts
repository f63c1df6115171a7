import fs, { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import { readWav } from '@old-echo/core/signal/wav';
import { WavWriter } from '@old-echo/server/sound/wav-writer';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'old-echo-writer-'));
});
afterEach(() => {
  jest.restoreAllMocks();
  rmSync(folder, { recursive: true });
});

const file = () => join(folder, 'mix.wav');
const open = () =>
  new WavWriter({
    file: file(),
    part: `${file()}.part`,
    rate: 48_000,
    channels: 1,
    frames: 3,
    depth: '24',
    dither: false,
  });
const samples = [Float32Array.of(0.5, -0.25, 0)];

/** The disk is full from the nth write on. */
function fullAfter(writes: number): void {
  const { writeSync } = fs;
  let left = writes;
  jest.spyOn(fs, 'writeSync').mockImplementation((...args: Parameters<typeof writeSync>) => {
    if (left-- <= 0) throw Object.assign(new Error('no space left on device'), { code: 'ENOSPC' });
    return writeSync(...args);
  });
}

test('what was written has its name only once it is whole', () => {
  const writer = open();
  writer.add(samples);
  expect(existsSync(file())).toBe(false);
  writer.end();
  expect(readWav(new Uint8Array(readFileSync(file()))).channels).toEqual(samples);
  expect(readdirSync(folder)).toEqual(['mix.wav']);
});

test.each([
  ['at its head', 0],
  ['at its samples', 1],
  ['at its last byte', 2],
])('with the disk full %s nothing of it is left, and why is told', (_, writes) => {
  fullAfter(writes);
  let writer: WavWriter | undefined;
  const write = () => {
    writer = open();
    writer.add(samples);
    writer.end();
  };
  expect(write).toThrow('no space left');
  writer?.discard();
  expect(readdirSync(folder)).toEqual([]);
});

test('one that has its name keeps it where another has to be given up', () => {
  const writer = open();
  writer.add(samples);
  writer.end();
  writer.discard();
  expect(readdirSync(folder)).toEqual(['mix.wav']);
});
