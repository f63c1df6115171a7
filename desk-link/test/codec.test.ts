import fc from 'fast-check';

import { specOf } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import { PROFILES } from '@old-echo/testing/profiles';
import { anyValue } from '@old-echo/testing/random-state';

import { decode, encodeBundles, encodeMessage, float, int, LARGEST_PACKET, text } from '../src/codec';
import { compilePattern, matches } from '../src/pattern';
import { PushSequencer } from '../src/push-order';
import { fromArguments, toArguments } from '../src/values';

const hex = (bytes: Uint8Array) => Buffer.from(bytes).toString('hex');
const bytes = (parts: string) => parts.replace(/\s/g, '');

// OSC 1.0 specification (M. Wright, 2002), "Examples": both byte for byte.
describe('the worked examples of the OSC 1.0 specification', () => {
  test('/oscillator/4/frequency with 440.0', () => {
    expect(hex(encodeMessage({ address: '/oscillator/4/frequency', args: [float(440)] }))).toBe(
      bytes('2f6f7363 696c6c61 746f722f 342f6672 65717565 6e637900 2c660000 43dc0000'),
    );
  });

  test('/foo with 1000, −1, "hello", 1.234 and 5.678', () => {
    const message = { address: '/foo', args: [int(1000), int(-1), text('hello'), float(1.234), float(5.678)] };
    const wire = bytes('2f666f6f 00000000 2c696973 66660000 000003e8 ffffffff 68656c6c 6f000000 3f9df3b6 40b5b22d');
    expect(hex(encodeMessage(message))).toBe(wire);
    expect(decode(Buffer.from(wire, 'hex'))?.[0]?.args.map((a) => a.value)).toEqual([
      1000,
      -1,
      'hello',
      Math.fround(1.234),
      Math.fround(5.678),
    ]);
  });
});

describe('bundles', () => {
  test('many messages travel in packets that fit an Ethernet frame, each opened by its head', () => {
    const messages = Array.from({ length: 300 }, (_, i) => ({ address: `/in.${i}/fader/level`, args: [float(-i)] }));
    let heads = 0;
    const packets = encodeBundles(messages, () => ({ address: '/link/push', args: [int(++heads)] }));
    expect(Math.max(...packets.map((p) => p.length))).toBeLessThanOrEqual(LARGEST_PACKET);
    const decoded = packets.map((packet) => decode(packet) ?? []);
    expect(decoded.map(([head]) => head?.args[0]?.value)).toEqual(packets.map((_, i) => i + 1));
    expect(decoded.flatMap((list) => list.slice(1))).toEqual(messages);
  });

  test('nothing to send is no packet', () => expect(encodeBundles([])).toEqual([]));

  test('bytes that are not OSC are known as such, whatever they are', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (noise) => {
        const messages = decode(noise);
        if (messages) for (const message of messages) expect(message.address.startsWith('/')).toBe(true);
      }),
      { numRuns: 500 },
    );
  });
});

// OSC 1.0 specification, "OSC Message Dispatching and Pattern Matching".
describe('address patterns', () => {
  test.each([
    ['/in.1/*/*', 'in.1/fader/level', true],
    ['/in.1/*/*', 'in.1/eq/2/gain', false],
    ['/in.?/fader/level', 'in.7/fader/level', true],
    ['/in.?/fader/level', 'in.12/fader/level', false],
    ['/in.[1-3]/fader/level', 'in.2/fader/level', true],
    ['/in.[!1-3]/fader/level', 'in.2/fader/level', false],
    ['/{in,fx}.1/fader/level', 'fx.1/fader/level', true],
    ['/{in,fx}.1/fader/level', 'mix.1/fader/level', false],
    ['/in.1/fader/level', 'inx1/fader/level', false],
    ['/in.*1/f*r/*', 'in.11/fader/level', true],
    ['/*{1,12}/fader/level', 'in.12/fader/level', true],
    ['/in.[^]/x', 'in.^/x', true],
  ])('%s against %s: %s', (pattern, address, expected) => {
    const compiled = compilePattern(pattern);
    expect(compiled && matches(compiled, address.split('/'))).toBe(expected);
  });

  // Compared piece by piece by the plainest reading of the specification: try every way.
  test('whatever the pattern, it matches what trying every way finds', () => {
    const piece = fc.constantFrom('a', 'b', '.', '?', '*', '[ab]', '[!a]', '[a-b]', '{a,ab}', '{b,}');
    const every = (pieces: readonly string[], text: string): boolean => {
      const [first, ...rest] = pieces;
      if (first === undefined) return text === '';
      const one = text.charAt(0);
      if (first === '*')
        return Array.from({ length: text.length + 1 }, (_, i) => i).some((i) => every(rest, text.slice(i)));
      if (first.startsWith('{'))
        return first
          .slice(1, -1)
          .split(',')
          .some((word) => text.startsWith(word) && every(rest, text.slice(word.length)));
      const fits =
        first === '?' || (first === '[!a]' ? one !== 'a' : first.startsWith('[') ? 'ab'.includes(one) : first === one);
      return one !== '' && fits && every(rest, text.slice(1));
    };
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 6 }), fc.stringMatching(/^[ab.]{0,6}$/), (pieces, text) => {
        expect(matches(compilePattern(`/${pieces.join('')}`)!, [text])).toBe(every(pieces, text));
      }),
      { numRuns: 300 },
    );
  });

  // A backtracking matcher needs 30 s for fourteen of them.
  test.each([30, 120])('%d stars are no more work than as many letters', (stars) => {
    const compiled = compilePattern(`/in.1/${'*'.repeat(stars)}x`)!;
    expect(matches(compiled, ['in.1', 'compressor-threshold'])).toBe(false);
    expect(matches(compiled, ['in.1', 'compressor-x'])).toBe(true);
  });

  test('what is longer than any address is none', () => {
    expect(compilePattern(`/${'*'.repeat(200)}`)).toBeUndefined();
  });

  test.each(['/in.[1/fader', '/in.{a/fader', '/in.]/x', '/in.[z-a]/x'])('%s is not a pattern', (pattern) =>
    expect(compilePattern(pattern)).toBeUndefined(),
  );
});

describe('values', () => {
  test.each(PROFILES)('every value of %s crosses the wire unchanged', (_, profile) => {
    for (const family of profile.families)
      for (const [key, spec] of Object.entries(family.settings))
        fc.assert(
          fc.property(anyValue(spec), (value: Value) => {
            const packet = encodeMessage({ address: `/${family.strips[0]}/${key}`, args: toArguments(value) });
            const [message] = decode(packet) ?? [];
            expect(fromArguments(specOf(profile, message?.address.slice(1) ?? '')!, message?.args ?? [])).toEqual({
              ok: true,
              value,
            });
          }),
          { numRuns: 2 },
        );
  });
});

describe('pushes', () => {
  test('an older value that arrives late does not undo a newer one', () => {
    const order = new PushSequencer();
    expect(order.take({ a: 2 }, 5)).toEqual({ a: 2 });
    expect(order.take({ a: 1, b: 1 }, 4)).toEqual({ b: 1 });
  });

  test('numbers that are missing are known until they arrive', () => {
    const order = new PushSequencer();
    order.restart(10);
    for (const n of [11, 14, 17]) order.arrived(n);
    expect(order.gaps()).toEqual([
      [12, 13],
      [15, 16],
    ]);
    order.arrived(13);
    order.reached(18);
    expect(order.gaps()).toEqual([
      [12, 12],
      [15, 16],
      [18, 18],
    ]);
    order.forget(16);
    expect(order.gaps()).toEqual([[18, 18]]);
  });
});
