import fc from 'fast-check';
import type { Schema } from 'yup';

import { problemShape } from '@old-echo/core/contracts/problem';
import type { Route } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';
import { faultRow } from '@old-echo/testing/fault-rows';
import { times } from '@old-echo/testing/runs';

import { Rig } from '../server-rig';

jest.setTimeout(1_200_000);

let rig: Rig;
/** Ids that there are: whatever takes one is to be reached behind its first look. */
let ids: string[];
/** The longest that the server did nothing else, in ms. */
let longest = 0;
let clock: NodeJS.Timeout;
beforeAll(async () => {
  rig = await Rig.open();
  const scene = await rig.scene('Harbour bells');
  ids = [rig.desk.id, rig.production.id, rig.production.versions[0]!.id, scene.id, 'quay-48', 'in.1'];
});
afterAll(async () => {
  clearInterval(clock);
  await rig.close();
});

/** What has broken servers before: names of what every object has, numbers at the ends, much of one thing. */
const junk = fc.oneof(
  fc.constantFrom<unknown>('', '__proto__', 'constructor', '\0', '%', '..', 'é'.repeat(300), ' ', '1e999', '\ud800'),
  fc.constantFrom<unknown>(0, -1, 2 ** 31, 2 ** 53, 1e308, 0.1),
  fc.constantFrom<unknown>(null, true, [], {}, [[]], { constructor: {} }, { toString: null }),
  fc.constantFrom<unknown>(
    JSON.parse('{"__proto__":{}}'),
    Array.from({ length: 3000 }, () => ({})),
  ),
  fc.string(),
  fc.integer(),
  fc.jsonValue({ maxDepth: 3 }),
);

/** The names that a shape knows, so that what stands in them is looked at. */
const fieldsOf = (shape: Schema | undefined): string[] => {
  const told = shape?.describe();
  return told && 'fields' in told ? Object.keys(told.fields as object) : [];
};

const bodyFor = (shape: Schema | undefined) => {
  const fields = fieldsOf(shape);
  const value = fc.oneof(junk, fc.constantFrom(...ids));
  const inside = fc.dictionary(fc.constantFrom(...fields, 'constructor', 'revision'), value, { maxKeys: 8 });
  return fc.oneof({ weight: 4, arbitrary: inside }, { weight: 1, arbitrary: junk });
};

const queryFor = (shape: Schema | undefined) =>
  fc
    .array(
      fc.tuple(
        fc.constantFrom(...fieldsOf(shape), 'constructor', 'a[b]', 'limit', 'limit[]'),
        fc.constantFrom('', '-1', '1e9', 'x', '%00', 'NaN', ...ids, 'y'.repeat(2000)),
      ),
      { maxLength: 4 },
    )
    .map((pairs) => pairs.map(([name, value]) => `${encodeURIComponent(name)}=${encodeURIComponent(value)}`).join('&'));

const address = (path: string) =>
  fc
    .array(fc.oneof(fc.constantFrom(...ids), fc.constantFrom('x', '%00', '__proto__', '%F0%9F', 'z'.repeat(500))), {
      minLength: 3,
      maxLength: 3,
    })
    .map((values) => {
      let i = 0;
      return path.replace(/:[a-z]+/gi, () => values[i++ % values.length] ?? '');
    });

const head = fc.constantFrom<Record<string, string>>(
  { 'content-type': 'application/json' },
  { 'content-type': 'application/json' },
  { 'content-type': 'application/json' },
  { 'content-type': 'application/json; charset=unheard-of' },
  { 'content-type': 'application/octet-stream' },
  { 'content-type': 'text/plain' },
  { 'content-type': 'application/json', 'content-encoding': 'gzip' },
  {},
);

const routes = Object.values(ROUTES).flatMap((wing) => Object.entries(wing) as [string, Route][]);

test('whatever is asked, of every address: an answer, and a sentence where it is refused', async () => {
  let last = performance.now();
  clock = setInterval(() => {
    const now = performance.now();
    longest = Math.max(longest, now - last);
    last = now;
  }, 5);
  let asked = 0;
  const tally: Record<number, number> = {};
  const failed: Record<string, string> = {};
  for (const [name, { method, path, shapes }] of routes) {
    const request = fc.record({ at: address(path), query: queryFor(shapes.query), body: bodyFor(shapes.body), head });
    await fc.assert(
      fc.asyncProperty(request, async ({ at, query, body, head: headers }) => {
        const sends = method !== 'get' && method !== 'delete';
        const answer = await fetch(`http://127.0.0.1:${rig.running.port}/api${at}?${query}`, {
          method: method.toUpperCase(),
          ...(sends ? { headers, body: JSON.stringify(body) } : {}),
        });
        const text = await answer.text();
        asked++;
        tally[answer.status] = (tally[answer.status] ?? 0) + 1;
        // A desk that is away is no fault of the question.
        const isRefusedWell =
          answer.status < 400 ||
          ((answer.status < 500 || answer.status === 503) &&
            /^application\/problem\+json/.test(answer.headers.get('content-type') ?? '') &&
            problemShape.isValidSync(JSON.parse(text)));
        if (!isRefusedWell && !(name in failed))
          failed[name] = `${answer.status} ${at}?${query} ${JSON.stringify(body)}`.slice(0, 300);
      }),
      { numRuns: times(8, 200) },
    );
  }
  expect(failed).toEqual({});
  const told = Object.entries(tally).map(([status, n]) => `${n} answered ${status}`);
  faultRow(
    'requests of broken shape',
    `${asked} at ${routes.length} addresses`,
    `${told.join(', ')}; a sentence with each refusal`,
  );
  expect((await rig.get('/desks')).status).toBe(200);
});

test('none of them kept the server from doing anything else', () => {
  // Fifty times as long as on a machine with nothing else to do: what is looked for took minutes.
  expect(longest).toBeLessThan(5000);
});
