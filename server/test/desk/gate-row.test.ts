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

test('hands that come while a question is on its way ask once, and of what is there after they came', async () => {
  const one = session();
  await gateRow(one, () => Promise.resolve(ROW));
  let asked = 0;
  let lock: GateRow['show_lock'] = 0;
  const load = async () => {
    asked++;
    const row: GateRow = { ...ROW, show_lock: lock };
    await new Promise((resolve) => setTimeout(resolve, 20));
    return row;
  };
  const first = gateRow(one, load);
  lock = 1;
  const rest = Array.from({ length: 50 }, () => gateRow(one, load));
  expect((await first).show_lock).toBe(0);
  expect((await Promise.all(rest)).every(({ show_lock }) => show_lock === 1)).toBe(true);
  expect(asked).toBe(2);
});

test('while nobody answers, fifty hands wait as long as one', async () => {
  const one = session();
  await gateRow(one, () => Promise.resolve(ROW));
  const order: number[] = [];
  const began = performance.now();
  await Promise.all(Array.from({ length: 50 }, (_, i) => gateRow(one, silent).then(() => order.push(i))));
  // One after the other they would take fifteen seconds.
  expect(performance.now() - began).toBeLessThan(10_000);
  expect(order).toEqual(Array.from({ length: 50 }, (_, i) => i));
});

test('answers come in the order of the questions, whichever the database gives first', async () => {
  const one = session();
  const order: number[] = [];
  const after = (ms: number) => () => new Promise<GateRow>((resolve) => setTimeout(() => resolve(ROW), ms));
  await Promise.all([60, 1, 20].map(async (ms, i) => gateRow(one, after(ms)).then(() => order.push(i))));
  expect(order).toEqual([0, 1, 2]);
});
