import { toJson } from '../../src/database/json-column';
import { type GateRow, gateRow } from '../../src/desk/gate-row';

const ROW: GateRow = { name: 'Boathouse', show_lock: 0, mode: 'live', safes: toJson([]), thresholds: toJson({}) };
/** Only its identity counts here. */
const session = () => ({});
const silent = () => new Promise<GateRow>(() => undefined);

test('what the database says counts, at once', async () => {
  const one = session();
  await gateRow(one, () => Promise.resolve(ROW));
  expect(await gateRow(one, () => Promise.resolve({ ...ROW, show_lock: 1 }))).toMatchObject({ show_lock: 1 });
});

test.each([
  ['does not answer', silent],
  ['answers with an error', () => Promise.reject(new Error('gone'))],
])('where it %s, what was known last counts', async (_, load) => {
  const one = session();
  await gateRow(one, () => Promise.resolve({ ...ROW, show_lock: 1 }));
  expect(await gateRow(one, load)).toMatchObject({ show_lock: 1 });
});

test('where nothing was known yet, nothing passes', async () => {
  await expect(gateRow(session(), () => Promise.reject(new Error('gone')))).rejects.toThrow('gone');
});

test('answers come in the order of the questions, whichever the database gives first', async () => {
  const one = session();
  const order: number[] = [];
  const after = (ms: number) => () => new Promise<GateRow>((resolve) => setTimeout(() => resolve(ROW), ms));
  await Promise.all([60, 1, 20].map(async (ms, i) => gateRow(one, after(ms)).then(() => order.push(i))));
  expect(order).toEqual([0, 1, 2]);
});
