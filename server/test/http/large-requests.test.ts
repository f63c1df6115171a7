import type { Schema } from 'yup';

import type { Route } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';
import { heldUpBy, MOST_HELD_MS } from '@old-echo/testing/held-up';

import { Rig } from '../server-rig';

jest.setTimeout(600_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const fieldsOf = (shape: Schema): string[] => {
  const told = shape.describe();
  return 'fields' in told ? Object.keys(told.fields as object) : [];
};

/** Just under what a request may hold, in bytes and in values. */
const [LARGEST, MOST] = [1_000_000, 49_000];

/** As much of one thing as a field can have where so many fields share a request. */
const FILLINGS: Readonly<Record<string, (fields: number) => unknown>> = {
  objects: (fields) => Array.from({ length: MOST / 2 / fields }, () => ({})),
  numbers: (fields) => Array.from({ length: MOST / fields }, (_, i) => i),
  addresses: (fields) => Array.from({ length: MOST / fields }, (_, i) => `in.${i}/fader/level`),
  'named values': (fields) =>
    Object.fromEntries(Array.from({ length: LARGEST / 48 / fields }, (_, i) => [`in.${i}/fader`, rig.desk.id])),
  text: (fields) => 'x'.repeat(LARGEST / fields),
};

const writing = Object.values(ROUTES)
  .flatMap((wing) => Object.entries(wing) as [string, Route][])
  .filter(([, { shapes }]) => shapes.body !== undefined);

const send = async (method: string, path: string, body: string): Promise<number> => {
  const headers = { 'content-type': 'application/json' };
  const answer = await fetch(`http://127.0.0.1:${rig.running.port}/api${path}`, { method, headers, body });
  await answer.text();
  return answer.status;
};

test.each(Object.entries(FILLINGS))(
  'requests full of %s hold nothing else up, whatever they ask for',
  async (_, fill) => {
    const slow: Record<string, number> = {};
    for (const [name, { method, path, shapes }] of writing) {
      const fields = fieldsOf(shapes.body!);
      const body = JSON.stringify(Object.fromEntries(fields.map((field) => [field, fill(fields.length)])));
      const at = path.replace(':id', path.startsWith('/desks') ? rig.desk.id : rig.production.id);
      const held = await heldUpBy(async () => {
        const status = await send(method.toUpperCase(), at, body);
        expect([413, 500]).not.toContain(status);
      });
      if (held > MOST_HELD_MS) slow[name] = Math.round(held);
    }
    expect(slow).toEqual({});
  },
);

test('more values than that are refused before anything is made of them', async () => {
  const body = `{"settings":[${'{},'.repeat(600_000)}{}]}`;
  const held = await heldUpBy(async () => {
    expect(await send('POST', `/desks/${rig.desk.id}/settings`, body)).toBe(422);
  });
  expect(held).toBeLessThan(MOST_HELD_MS);
});
