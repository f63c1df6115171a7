import fc from 'fast-check';

import { boathouse, quay } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { defaultState, type StripState } from '../../src/desk/state';
import { diffInsertChains, insertChain } from '../../src/signal/insert-chain';
import { filterFactors, liftOf, mostAdded, sectionsLifted } from '../../src/signal/processing-gain';

const flat = defaultState(boathouse)['in.1'] ?? {};
const strip = (settings: StripState): StripState => ({ ...flat, ...settings });
/** A compressor without a knee. */
const compressor = (settings: StripState): StripState =>
  strip({ 'compressor/on': true, 'compressor/knee': 0, 'compressor/makeup': 0, 'compressor/mix': 100, ...settings });
const insert = (place: number, kind: string, settings: StripState = {}): StripState => ({
  [`inserts/${place}/kind`]: kind,
  [`inserts/${place}/on`]: true,
  ...Object.fromEntries(Object.entries(settings).map(([name, value]) => [`inserts/${place}/${kind}/${name}`, value])),
});

describe('how much louder a change of processing can make a strip', () => {
  // A compressor of ratio R lets a level L over its threshold T through at T + (L − T) / R; what it held back at full scale comes back.
  test.each<[string, StripState, StripState, number]>([
    ['nothing changed', flat, strip({}), 0],
    [
      'a compressor at −20 dB, 4:1, that is switched off gives back 15 dB at full scale',
      compressor({ 'compressor/threshold': -20, 'compressor/ratio': 4 }),
      flat,
      15,
    ],
    [
      'make-up of 6 dB',
      compressor({ 'compressor/threshold': 0, 'compressor/ratio': 2 }),
      compressor({ 'compressor/threshold': 0, 'compressor/ratio': 2, 'compressor/makeup': 6 }),
      6,
    ],
    ['a limiter at −6 dB that is taken out', strip(insert(1, 'limiter', { ceiling: -6 })), flat, 6],
    [
      'the same limiter that is switched off',
      strip(insert(1, 'limiter', { ceiling: -6 })),
      strip({ ...insert(1, 'limiter', { ceiling: -6 }), 'inserts/1/on': false }),
      6,
    ],
    ['a limiter that comes in lets nothing more through', flat, strip(insert(1, 'limiter', { ceiling: -6 })), 0],
    // Repeats at half the level of the last: 1 + 1/2 + 1/4 + … = 2, which is 6.02 dB.
    [
      'an echo of half feedback and no dry sound comes in',
      flat,
      strip(insert(1, 'echo', { feedback: 50, mix: 100, time: 300 })),
      6.02,
    ],
    // 1 + 11 × 0.5 of the input, 16.26 dB harder.
    [
      'a drive that is driven half',
      strip(insert(1, 'drive', { amount: 0 })),
      strip(insert(1, 'drive', { amount: 50 })),
      16.26,
    ],
  ])('%s', (_, before, after, expected) => {
    expect(liftOf(before, after)).toBeCloseTo(expected, 1);
  });

  test('a processor that only moved in its chain lets nothing more through', () => {
    const [before, after] = [strip(insert(1, 'drive', { amount: 40 })), strip(insert(2, 'drive', { amount: 40 }))];
    expect(liftOf(before, { ...after, 'inserts/1/kind': 'empty' })).toBe(0);
  });

  test('one that moved and is driven harder as well does', () => {
    const [before, after] = [strip(insert(1, 'drive', { amount: 0 })), strip(insert(2, 'drive', { amount: 50 }))];
    expect(liftOf(before, { ...after, 'inserts/1/kind': 'empty' })).toBeCloseTo(16.26, 1);
    expect([...sectionsLifted(before, { ...after, 'inserts/1/kind': 'empty' })]).toContain('inserts');
  });

  test('there and back is never both quieter', () => {
    fc.assert(
      fc.property(anyState(boathouse, 60), anyState(boathouse, 60), (one, other) => {
        for (const name of ['in.1', 'in.2', 'group.1']) {
          const [a, b] = [one[name] ?? {}, other[name] ?? {}];
          expect(liftOf(a, b) + liftOf(b, a)).toBeGreaterThanOrEqual(-1e-9);
          expect(liftOf(a, a)).toBe(0);
        }
      }),
      { numRuns: runs(200) },
    );
  });
});

describe('which sections let more through', () => {
  test.each<[string, StripState, StripState, string[]]>([
    ['a boost', flat, strip({ 'eq/on': true, 'eq/2/gain': 6 }), ['eq', 'preamp', 'inserts']],
    ['a cut', flat, strip({ 'eq/on': true, 'eq/2/gain': -6 }), []],
    ['a cut that goes', strip({ 'eq/on': true, 'eq/2/gain': -6 }), flat, ['eq', 'preamp', 'inserts']],
    ['make-up', flat, compressor({ 'compressor/threshold': 0, 'compressor/makeup': 3 }), ['compressor']],
    ['a gate that opens', strip({ 'gate/on': true, 'gate/threshold': -30, 'gate/range': 40 }), flat, ['gate']],
    ['a gate that comes', flat, strip({ 'gate/on': true, 'gate/threshold': -30, 'gate/range': 40 }), []],
  ])('%s', (_, before, after, sections) => {
    expect([...sectionsLifted(before, after)]).toEqual(sections);
  });
});

describe('what filters make of a level', () => {
  test('none of them: nothing is said', () => {
    expect(filterFactors(flat, [100, 1000])).toBeUndefined();
    expect(filterFactors(strip({ 'eq/on': true }), [100, 1000])).toBeUndefined();
    expect(filterFactors(strip({ 'eq/on': false, 'eq/2/gain': 9 }), [100, 1000])).toBeUndefined();
  });

  test('a bell lifts its frequency by its gain, and leaves what is far away', () => {
    const eq = strip({ 'eq/on': true, 'eq/2/kind': 'bell', 'eq/2/freq': 1000, 'eq/2/gain': 6, 'eq/2/q': 2 });
    const [at, far] = filterFactors(eq, [1000, 30]) ?? [];
    expect(20 * Math.log10(at ?? 0)).toBeCloseTo(6, 1);
    expect(20 * Math.log10(far ?? 0)).toBeCloseTo(0, 1);
  });

  test('bands add up in dB', () => {
    const band = (n: number) => ({
      [`eq/${n}/kind`]: 'bell',
      [`eq/${n}/freq`]: 1000,
      [`eq/${n}/gain`]: 4,
      [`eq/${n}/q`]: 1,
    });
    const [both] = filterFactors(strip({ 'eq/on': true, ...band(2), ...band(3) }), [1000]) ?? [];
    expect(20 * Math.log10(both ?? 0)).toBeCloseTo(8, 1);
  });

  test('a notch takes no more than 18 dB from what is wider than a tone', () => {
    const notch = strip({ 'eq/on': true, 'eq/2/kind': 'notch', 'eq/2/freq': 1000, 'eq/2/q': 5 });
    const [at] = filterFactors(notch, [1000]) ?? [];
    expect(20 * Math.log10(at ?? 0)).toBeCloseTo(-18, 1);
  });
});

test('what dynamics and effects can add at most: make-up, and an echo at its loudest', () => {
  expect(mostAdded(flat)).toBe(0);
  expect(mostAdded(compressor({ 'compressor/threshold': -20, 'compressor/makeup': 9 }))).toBeCloseTo(9, 1);
  expect(mostAdded(strip(insert(1, 'echo', { feedback: 50, mix: 100 })))).toBeCloseTo(6.02, 1);
});

describe('a chain of inserts', () => {
  test('leaves out places that are empty, and knows each processor’s own settings', () => {
    const chain = insertChain(strip({ ...insert(2, 'limiter', { ceiling: -3 }), 'inserts/1/kind': 'empty' }));
    expect(chain).toHaveLength(1);
    expect(chain[0]).toMatchObject({ place: 2, kind: 'limiter', on: true, settings: { ceiling: -3 } });
  });

  test('two of a kind are told apart by their places before anything is said to have moved', () => {
    const before = insertChain(strip({ ...insert(1, 'drive', { amount: 10 }), ...insert(2, 'drive', { amount: 20 }) }));
    const after = insertChain(strip({ ...insert(1, 'drive', { amount: 10 }), ...insert(2, 'drive', { amount: 30 }) }));
    expect(diffInsertChains(before, after).map(({ how, a, b }) => [how, a, b])).toEqual([
      ['same', 1, 1],
      ['changed', 2, 2],
    ]);
  });

  test('what came, what went and what moved', () => {
    const before = insertChain(strip({ ...insert(1, 'drive'), ...insert(2, 'limiter') }));
    const after = insertChain(strip({ ...insert(1, 'limiter'), ...insert(2, 'echo') }));
    expect(diffInsertChains(before, after).map(({ kind, how }) => `${kind} ${how}`)).toEqual([
      'drive removed',
      'limiter moved',
      'echo added',
    ]);
  });

  test('a desk whose inserts are one device has no chain', () => {
    expect(insertChain(defaultState(quay)['in.1'] ?? {})).toEqual([]);
  });
});
