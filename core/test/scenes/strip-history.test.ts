import fc from 'fast-check';

import { quay } from '@old-echo/testing/profiles';

import { defaultState, withSettings } from '../../src/desk/state';
import { type Autosave, expiredAutosaves } from '../../src/scenes/autosave-retention';
import { changedKeys, settingHistory, traceStrip } from '../../src/scenes/strip-history';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
const NOON = Date.UTC(2026, 4, 20, 12, 0);

const kept = (...ages: number[]): Autosave[] => ages.map((age) => ({ id: `${age}`, madeAt: new Date(NOON - age) }));
const staying = (list: Autosave[], now = NOON): Autosave[] => {
  const going = new Set(expiredAutosaves(list, new Date(now)));
  return list.filter(({ id }) => !going.has(id));
};
const ages = (list: Autosave[]) => list.map(({ madeAt }) => NOON - madeAt.getTime());

describe('what is kept by itself is thinned out', () => {
  test('all of the last hour stay', () => {
    const list = kept(...Array.from({ length: 60 }, (_, i) => i * MINUTE));
    expect(staying(list)).toEqual(list);
  });

  test('then the newest of each hour, for a day', () => {
    expect(ages(staying(kept(61 * MINUTE, 90 * MINUTE, 119 * MINUTE, 121 * MINUTE, 5 * HOUR + MINUTE)))).toEqual([
      61 * MINUTE,
      121 * MINUTE,
      5 * HOUR + MINUTE,
    ]);
  });

  test('then the newest of each day, for a month, and nothing after that', () => {
    // It is noon: a day ago and half a day before it are two days of the calendar.
    const list = kept(1 * DAY + HOUR, 1 * DAY + 2 * HOUR, 1 * DAY + 13 * HOUR, 29 * DAY, 31 * DAY, 400 * DAY);
    expect(ages(staying(list))).toEqual([1 * DAY + HOUR, 1 * DAY + 13 * HOUR, 29 * DAY]);
  });

  test('exactly an hour, a day and a month old still count as younger', () => {
    const hour = kept(HOUR - MINUTE, HOUR);
    expect(staying(hour)).toEqual(hour);
    // Of the same day, an hour apart: up to a day each hour has one, after it they share one.
    expect(ages(staying(kept(DAY, DAY - HOUR)))).toEqual([DAY, DAY - HOUR]);
    expect(ages(staying(kept(30 * DAY, 30 * DAY + 1)))).toEqual([30 * DAY]);
  });

  test('of two of the same moment the one that was made later stays', () => {
    const madeAt = new Date(NOON - 3 * HOUR);
    const two = [
      { id: '01B', madeAt },
      { id: '01C', madeAt },
      { id: '01A', madeAt },
    ];
    expect(staying(two).map(({ id }) => id)).toEqual(['01C']);
    expect(staying([...two].reverse()).map(({ id }) => id)).toEqual(['01C']);
  });

  test('a year of keeping every five minutes comes to about a hundred', () => {
    let list: Autosave[] = [];
    for (let at = NOON - 365 * DAY; at <= NOON; at += 5 * MINUTE) {
      list.push({ id: `${at}`, madeAt: new Date(at) });
      if (list.length > 400) list = staying(list, at);
    }
    list = staying(list);
    expect(list.length).toBeGreaterThan(60);
    expect(list.length).toBeLessThan(100);
  });

  test('it makes no difference how often it is done', () => {
    const times = fc.uniqueArray(fc.integer({ min: 0, max: 45 * 24 * 60 }), { minLength: 1, maxLength: 80 });
    fc.assert(
      fc.property(times, fc.array(fc.integer({ min: 0, max: 45 * 24 * 60 }), { maxLength: 10 }), (made, thinned) => {
        const scenes = made.map((m) => ({ id: String(m), madeAt: new Date(NOON - m * MINUTE) }));
        let often: Autosave[] = [];
        let left = [...scenes].sort((a, b) => a.madeAt.getTime() - b.madeAt.getTime());
        for (const at of [...thinned.map((m) => NOON - m * MINUTE), NOON].sort((a, b) => a - b)) {
          often.push(...left.filter(({ madeAt }) => madeAt.getTime() <= at));
          left = left.filter(({ madeAt }) => madeAt.getTime() > at);
          often = staying(often, at);
        }
        expect(often.map(({ id }) => id).sort()).toEqual(
          staying(scenes)
            .map(({ id }) => id)
            .sort(),
        );
      }),
    );
  });
});

describe('a strip’s past', () => {
  const start = defaultState(quay);
  const moves = [
    {},
    { 'fader/level': -5 },
    { 'fader/level': -5 },
    { 'eq/2/gain': 3 },
    { 'fader/level': -9, 'eq/2/gain': 0 },
  ];
  let state = start;
  const states = moves.map((keys) => {
    state = withSettings(state, Object.fromEntries(Object.entries(keys).map(([key, v]) => [`in.4/${key}`, v])));
    return state['in.4']!;
  });
  const scenes = moves.map((_, i) => ({ id: `s${i}`, number: i + 1, name: `Scene ${i}`, madeAt: '' }));
  const past = traceStrip(quay, 'in.4', scenes, states);

  test('tells the moments at which it moved, and only those', () => {
    expect(past.moments.map(({ number, moved }) => [number, moved])).toEqual([
      [2, { 'fader/level': -5 }],
      [4, { 'eq/2/gain': 3 }],
      [5, { 'fader/level': -9, 'eq/2/gain': 0 }],
    ]);
    expect(changedKeys(quay, past)).toEqual([
      { key: 'eq/2/gain', times: 2 },
      { key: 'fader/level', times: 2 },
    ]);
  });

  test('a setting begins where it had stood before it first moved', () => {
    const level = start['in.4']!['fader/level'];
    expect(settingHistory(past, 'fader/level').map(({ number, value }) => [number, value])).toEqual([
      [1, level],
      [2, -5],
      [5, -9],
    ]);
    expect(settingHistory(past, 'pan/position')).toEqual([]);
  });

  test('of no scenes at all is empty', () => {
    expect(traceStrip(quay, 'in.4', [], [])).toEqual({
      strip: 'in.4',
      scenes: 0,
      first: null,
      last: null,
      start: {},
      moments: [],
    });
  });
});
