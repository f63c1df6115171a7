import fc from 'fast-check';

import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { SettingsByAddress } from '@old-echo/core/desk/state';

import { gatherMoves } from '../../src/store/gather-moves';

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

const moved = (settings: SettingsByAddress): LiveMessage => ({ type: 'settings-changed', settings });
const SCENES: LiveMessage = { type: 'scenes-changed', productionId: 'song' };

function heard(): { told: LiveMessage[]; gathered: ReturnType<typeof gatherMoves> } {
  const told: LiveMessage[] = [];
  return { told, gathered: gatherMoves((message) => told.push(message)) };
}

test('the first move after a pause is drawn at once; those that follow closely are drawn together', () => {
  const { told, gathered } = heard();
  gathered.hear(moved({ a: 1 }));
  expect(told).toEqual([moved({ a: 1 })]);
  gathered.hear(moved({ a: 2 }));
  gathered.hear(moved({ b: 3 }));
  gathered.hear(moved({ a: 4 }));
  expect(told).toHaveLength(1);
  jest.advanceTimersByTime(40);
  expect(told.slice(1)).toEqual([moved({ a: 4, b: 3 })]);
  jest.advanceTimersByTime(200);
  gathered.hear(moved({ a: 5 }));
  expect(told.slice(2)).toEqual([moved({ a: 5 })]);
});

test('what is no move comes after the moves that were told before it', () => {
  const { told, gathered } = heard();
  for (const message of [moved({ a: 1 }), moved({ a: 2 }), SCENES]) gathered.hear(message);
  expect(told).toEqual([moved({ a: 1 }), moved({ a: 2 }), SCENES]);
});

test('where the channel ends nothing gathered is lost; where another desk is followed nothing of this one comes any more', () => {
  const [ended, left] = [heard(), heard()];
  for (const { gathered } of [ended, left]) {
    gathered.hear(moved({ a: 1 }));
    gathered.hear(moved({ a: 2 }));
  }
  ended.gathered.flush();
  left.gathered.drop();
  jest.advanceTimersByTime(200);
  expect([ended.told.length, left.told.length]).toEqual([2, 1]);
});

test('whatever comes when, the page ends where the desk does, and draws at most once in 33 ms', () => {
  const anyMove = fc.record({
    at: fc.integer({ min: 0, max: 40 }),
    key: fc.constantFrom('a', 'b'),
    value: fc.integer(),
  });
  fc.assert(
    fc.property(fc.array(anyMove, { maxLength: 40 }), (moves) => {
      const { told, gathered } = heard();
      const desk: Record<string, number> = {};
      let passed = 0;
      for (const { at, key, value } of moves) {
        jest.advanceTimersByTime(at);
        passed += at;
        desk[key] = value;
        gathered.hear(moved({ [key]: value }));
      }
      jest.advanceTimersByTime(100);
      const page = told.reduce<SettingsByAddress>(
        (all, one) => (one.type === 'settings-changed' ? { ...all, ...one.settings } : all),
        {},
      );
      expect(page).toEqual(desk);
      expect(told.length).toBeLessThanOrEqual(Math.floor(passed / 33) + 2);
    }),
  );
});
