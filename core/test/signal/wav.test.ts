import { readFileSync, truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import fc from 'fast-check';

import { inFolder, run, sine } from '@old-echo/testing/sounds';

import { Fault } from '../../src/fault/fault';
import { readWav, writeWav } from '../../src/signal/wav';
import { DEPTHS, parseWavHeader, wavHeader } from '../../src/signal/wav-header';
import { sampleEncoder, seededRandom } from '../../src/signal/wav-samples';
import { thirdOctaveLevels } from '../../src/sound/spectrum';

const random = seededRandom(7);
/** Noise whose samples are whole steps of 16 bits, so that every depth holds them exactly. */
const steps = {
  rate: 48_000,
  channels: [0, 1].map(() => Float32Array.from({ length: 999 }, () => Math.round((random() - 0.5) * 60_000) / 32_768)),
};

test.each(DEPTHS)('%s: what SoX and FFmpeg read of ours, and we of theirs, is the same sample for sample', (depth) => {
  inFolder((folder) => {
    const [ours, sox, ffmpeg] = ['ours', 'sox', 'ffmpeg'].map((name) => join(folder, `${name}.wav`)) as [
      string,
      string,
      string,
    ];
    writeFileSync(ours, writeWav(steps, depth, false));
    run('sox', '-D', ours, sox);
    const codec = { '16': 'pcm_s16le', '24': 'pcm_s24le', float: 'pcm_f32le' }[depth];
    run('ffmpeg', '-hide_banner', '-loglevel', 'error', '-i', ours, '-c:a', codec, ffmpeg);
    for (const file of [ours, sox, ffmpeg]) expect(readWav(readFileSync(file))).toEqual(steps);
  });
});

test('dither turns the steps of a very quiet tone into noise', () => {
  const quiet = sine(997, -96, 4, { channels: 1 });
  const [plain, dithered] = [false, true].map((dither) => thirdOctaveLevels(readWav(writeWav(quiet, '16', dither))));
  // The third harmonic, 2,991 Hz, is in the band of 3.16 kHz: distortion without dither, noise at most with it.
  const others = (levels: number[]) => levels[22]! - Math.max(levels[21]!, levels[23]!);
  expect(others(plain!)).toBeGreaterThan(10);
  expect(others(dithered!)).toBeLessThan(3);
});

test('what does not fit is held at full scale, and the same sound always gives the same bytes', () => {
  const loud = { rate: 44_100, channels: [Float32Array.of(2, -2, 0.5)] };
  expect([...readWav(writeWav(loud, '16', true)).channels[0]!].slice(0, 2)).toEqual([32_767 / 32_768, -1]);
  expect(writeWav(loud, '24', true)).toEqual(writeWav(loud, '24', true));
});

const good = writeWav(steps, '16', false);
const changed = (at: number, ...bytes: number[]) => {
  const copy = Uint8Array.from(good);
  copy.set(bytes, at);
  return copy;
};

test.each([
  ['no WAV', Buffer.from('# A text'), 'Not a WAV file.'],
  ['empty', new Uint8Array(), 'Not a WAV file.'],
  ['cut off', good.subarray(0, 2000), `The WAV file is cut off: ${good.length - 2000} bytes of it are missing.`],
  ['only its head', good.subarray(0, 36), 'The WAV file has no samples in it.'],
  ['no samples', changed(40, 0, 0, 0, 0).subarray(0, 44), 'The WAV file has no samples in it.'],
  ['8 bits', changed(34, 8), 'Unsupported sample format (1, 8 bits).'],
  ['compressed', changed(20, 85), 'Unsupported sample format (85, 16 bits).'],
  ['8 kHz', changed(24, 0x40, 0x1f), 'Its sample rate is 8000 Hz.'],
  ['200 kHz', changed(24, 0x40, 0x0d, 0x03), 'Its sample rate is 200000 Hz.'],
  ['12 channels', changed(22, 12), 'It has 12 channels.'],
])('%s: a sentence says what is wrong', (_, bytes, why) => {
  expect(() => readWav(bytes)).toThrow(why);
});

test('any garbled head ends in a sentence or a sound, never in anything else', () => {
  const at = seededRandom(11);
  for (let i = 0; i < 500; i++) {
    const bytes = changed(Math.floor(at() * 44), Math.floor(at() * 256), Math.floor(at() * 256));
    try {
      readWav(bytes);
    } catch (error) {
      expect((error as { code?: string }).code).toBe('refused-input');
    }
  }
});

test('what a huge file holds is read from its first bytes', () => {
  const head = Uint8Array.from(good.subarray(0, 44));
  new DataView(head.buffer).setUint32(40, 2_000_000_000, true);
  expect(parseWavHeader(head, 2_000_000_044)).toEqual({
    rate: 48_000,
    channels: 2,
    depth: '16',
    frames: 500_000_000,
    timeReference: null,
    at: 44,
    end: 2_000_000_044,
  });
});

// Multimedia Programming Interface and Data Specifications 1.0 (RIFF): byte rate and block align; chunks are padded to even lengths.
test.each(DEPTHS)('%s: the header says how many bytes a second and a frame are', (depth) => {
  const view = new DataView(Uint8Array.from(writeWav(steps, depth, false)).buffer);
  const [bits, channels] = [{ '16': 16, '24': 24, float: 32 }[depth], steps.channels.length];
  expect([view.getUint32(28, true), view.getUint16(32, true), view.getUint16(34, true)]).toEqual([
    (48_000 * channels * bits) / 8,
    (channels * bits) / 8,
    bits,
  ]);
});

test('a data chunk of an odd length is padded, and the padding is no sample', () => {
  const odd = { rate: 48_000, channels: [Float32Array.of(0.25, -0.5, 0.125)] };
  const bytes = writeWav(odd, '24', false);
  expect(bytes.length % 2).toBe(0);
  expect(readWav(bytes)).toEqual(odd);
});

test.each([44_100, 48_000, 88_200, 96_000, 176_400, 192_000])('%d Hz is read', (rate) => {
  const sound = { rate, channels: [Float32Array.of(0.5)] };
  expect(readWav(writeWav(sound, 'float', false))).toEqual(sound);
});

test('samples that are no numbers are not taken for sound', () => {
  const broken = writeWav({ rate: 48_000, channels: [Float32Array.of(0.5, NaN, 0.5)] }, 'float', false);
  expect(() => readWav(broken)).toThrow('The WAV file has samples that are not numbers.');
});

// Lipshitz, Wannamaker and Vanderkooy, Quantization and Dither (1992): two uniform sources, a variance of 2/12 of a step squared.
test('the dither is triangular: the error it makes has three times the power of plain rounding', () => {
  const silence = { rate: 48_000, channels: [new Float32Array(48_000)] };
  const stored = readWav(writeWav(silence, '16', true)).channels[0]!;
  // Of silence, rounding the sum of two uniform values gives −1, 0 and 1 with an eighth, three quarters and an eighth.
  const step = 2 ** -15;
  const power = stored.reduce((sum, sample) => sum + (sample / step) ** 2, 0) / stored.length;
  expect(power).toBeGreaterThan(0.23);
  expect(power).toBeLessThan(0.27);
});

test('32 bits, and more than 4 GB as FFmpeg writes it (EBU Tech 3306), are read as what they are', () => {
  inFolder((folder) => {
    const [ours, theirs] = [join(folder, 'ours.wav'), join(folder, 'theirs.wav')];
    writeFileSync(ours, writeWav(steps, '24', false));
    run('ffmpeg', '-hide_banner', '-loglevel', 'error', '-i', ours, '-c:a', 'pcm_s32le', '-rf64', 'always', theirs);
    const bytes = readFileSync(theirs);
    expect(bytes.toString('latin1', 0, 4)).toBe('RF64');
    expect(readWav(bytes)).toEqual(steps);
    // ITU-R BS.2088 has the same layout under another name.
    bytes.write('BW64', 'latin1');
    expect(readWav(bytes)).toEqual(steps);
    expect(() => readWav(bytes.subarray(0, 2000))).toThrow('cut off');
  });
});

test('what is longer than 4 GB is written as RF64, with the lengths that FFmpeg reads', () => {
  const frames = 3 * 2 ** 30;
  const head = wavHeader({ rate: 96_000, channels: 2, depth: 'float', frames });
  expect(parseWavHeader(head, head.length + frames * 8)).toEqual({
    rate: 96_000,
    channels: 2,
    depth: 'float',
    frames,
    timeReference: null,
    at: head.length,
    end: head.length + frames * 8,
  });
  inFolder((folder) => {
    const file = join(folder, 'long.wav');
    writeFileSync(file, head);
    // A hole takes no room on the disk.
    truncateSync(file, head.length + frames * 8);
    const said = run('ffprobe', '-v', 'error', '-show_entries', 'stream=duration_ts,sample_rate,channels', file);
    expect(said).toContain(`duration_ts=${frames}`);
  });
});

// Multimedia Data Standards Update (1994): whatever is not PCM has the longer description and says how many samples it has.
test('floats say how many samples there are, and SoX finds nothing to warn of', () => {
  const bytes = Buffer.from(writeWav(steps, 'float', false));
  const fact = bytes.indexOf('fact');
  expect([bytes.readUInt32LE(16), bytes.readUInt32LE(fact + 4), bytes.readUInt32LE(fact + 8)]).toEqual([18, 4, 999]);
  inFolder((folder) => {
    const file = join(folder, 'float.wav');
    writeFileSync(file, bytes);
    expect(run('sox', file, '-n', 'stat')).not.toMatch(/WARN/);
  });
});

test.each(DEPTHS)('%s: written in pieces, wherever they begin, the bytes are those of the whole', (depth) => {
  const whole = sampleEncoder(depth, true)(steps.channels);
  const pieces = [0, 1, 100, 998].map((from, n, all) => {
    const piece = steps.channels.map((channel) => channel.subarray(from, all[n + 1]));
    return sampleEncoder(depth, true, 2 * from)(piece);
  });
  expect(Buffer.concat(pieces).equals(whole)).toBe(true);
});

// EBU Tech 3285, version 2: places in the chunk, and what stands for a value that is not defined.
test('Broadcast Wave: FFmpeg’s time reference is read, and loudness is written where the standard has it', () => {
  inFolder((folder) => {
    const [ours, theirs] = [join(folder, 'ours.wav'), join(folder, 'theirs.wav')];
    writeFileSync(ours, writeWav(steps, '24', false));
    const late = ['-write_bext', '1', '-metadata', 'time_reference=172800000'];
    run('ffmpeg', '-hide_banner', '-loglevel', 'error', '-i', ours, '-c:a', 'pcm_s24le', ...late, theirs);
    const bytes = readFileSync(theirs);
    // An hour at 48 kHz.
    expect(parseWavHeader(bytes, bytes.length).timeReference).toBe(172_800_000);
    expect(readWav(bytes)).toEqual(steps);

    const said = { integrated: -23.016, range: 5.5, truePeak: -1.004, momentaryMax: null, shortTermMax: -20 };
    const head = Buffer.from(wavHeader({ rate: 48_000, channels: 2, depth: '24', frames: 999 }, { loudness: said }));
    const bext = head.indexOf('bext');
    expect([head.readUInt32LE(bext + 4), head.readUInt16LE(bext + 8 + 346)]).toEqual([602, 2]);
    const values = [0, 1, 2, 3, 4].map((n) => head.readInt16LE(bext + 8 + 412 + 2 * n));
    expect(values).toEqual([-2302, 550, -100, 0x7fff, -2000]);
    writeFileSync(ours, Buffer.concat([head, sampleEncoder('24', false)(steps.channels)]));
    expect(readWav(readFileSync(ours))).toEqual(steps);
    expect(run('ffprobe', '-v', 'error', '-show_entries', 'format_tags=encoded_by', ours)).toContain('Old Echo');
  });
});

test('a time reference is written as FFmpeg reads it; one that nobody can count says nothing', () => {
  const format = { rate: 48_000, channels: 1, depth: '24', frames: 9 } as const;
  const whole = (timeReference: number) => Buffer.concat([wavHeader(format, { timeReference }), new Uint8Array(28)]);
  // 23 hours at 192 kHz: more than 32 bits hold.
  const late = 15_897_600_000;
  inFolder((folder) => {
    const file = join(folder, 'late.wav');
    writeFileSync(file, whole(late));
    expect(run('ffprobe', '-v', 'error', '-show_entries', 'format_tags=time_reference', file)).toContain(`${late}`);
  });
  const bytes = whole(late);
  expect(parseWavHeader(bytes, bytes.length).timeReference).toBe(late);
  const at = bytes.indexOf('bext') + 8 + 338;
  bytes.fill(0xff, at, at + 8);
  expect(parseWavHeader(bytes, bytes.length).timeReference).toBeNull();
});

test('a header with anything in it is read within its file, or refused with a sentence', () => {
  const head = wavHeader({ rate: 48_000, channels: 2, depth: 'float', frames: 999 }, { timeReference: 48_000 });
  const size = head.length + 8 * 999;
  const changes = fc.array(fc.tuple(fc.nat(head.length - 1), fc.constantFrom(0, 1, 0x20, 0x7f, 0x80, 0xff)), {
    maxLength: 8,
  });
  fc.assert(
    fc.property(changes, fc.integer({ min: 0, max: head.length }), (bytes, length) => {
      const changed = head.slice(0, length);
      for (const [at, byte] of bytes) if (at < length) changed[at] = byte;
      try {
        const { frames, at, end, timeReference } = parseWavHeader(changed, size);
        expect(frames).toBeGreaterThan(0);
        expect([at <= end, end <= size, timeReference === null || Number.isSafeInteger(timeReference)]).toEqual([
          true,
          true,
          true,
        ]);
      } catch (error) {
        if (!(error instanceof Fault)) throw error;
        expect(error.message).toMatch(/^[A-Z].*\.$/);
      }
    }),
    { numRuns: 2000 },
  );
});
