import { countConfirmed, describeConfirmation } from '../../src/phrases/describe-confirmation';

test.each([
  ['all of it was read back', { changes: 31, report: { confirmed: 31 } }, 'All confirmed', '31 settings confirmed'],
  [
    'some cannot be asked for',
    { changes: 31, report: { confirmed: 28, unasked: ['a', 'b', 'c'] } },
    '28 of 31 confirmed, 3 sent',
    '28 settings confirmed, 3 sent',
  ],
  [
    'none can',
    { changes: 1, report: { confirmed: 0, unasked: ['a'] } },
    '0 of 1 confirmed, 1 sent',
    '0 settings confirmed, 1 sent',
  ],
  [
    'all was set by hand',
    { changes: 2, report: { confirmed: 0, byHand: ['a', 'b'] } },
    'All set by hand',
    '0 settings confirmed, 2 set by hand',
  ],
  [
    'some was sent, and some set by hand',
    { changes: 9, report: { confirmed: 6, unasked: ['a'], byHand: ['b', 'c'] } },
    '6 of 9 confirmed, 1 sent, 2 set by hand',
    '6 settings confirmed, 1 sent, 2 set by hand',
  ],
  ['it was not reported', { changes: 2, report: null }, 'All confirmed', '2 settings confirmed'],
])('where %s', (_, restore, told, counted) => {
  expect([describeConfirmation(restore), countConfirmed(restore)]).toEqual([told, counted]);
});
