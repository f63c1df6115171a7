import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

import type { Problem } from '@old-echo/core/contracts/problem';

import document from '../../../docs/api/openapi.json';
import { assertAsDocumented } from '../answer-shapes';
import { Rig } from '../server-rig';

jest.setTimeout(120_000);

test('the document is valid OpenAPI 3.1 (a validator’s judgement), and as the routes are', () => {
  expect(document.openapi).toMatch(/^3\.1\./);
  const root = join(__dirname, '..', '..', '..');
  const check = spawnSync(process.execPath, [join(root, 'scripts', 'openapi.mjs'), '--check'], { encoding: 'utf8' });
  expect([check.status, check.stderr]).toEqual([0, expect.not.stringContaining('is not as the routes are')]);
});

test('every operation has a name of its own, and names its parameters', () => {
  const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.values(methods as Record<string, { operationId: string; parameters: { name: string; in: string }[] }>).map(
      (operation) => ({ path, ...operation }),
    ),
  );
  expect(new Set(operations.map(({ operationId }) => operationId)).size).toBe(operations.length);
  for (const { path, parameters } of operations)
    expect(parameters.filter((one) => one.in === 'path').map(({ name }) => `{${name}}`)).toEqual(
      path.match(/\{\w+\}/g) ?? [],
    );
});

describe('what is compared with the document', () => {
  test.each([
    ['an answer with a field too many', 'GET', '/restores/x/journal', 200, { changes: [], guarded: [], more: 1 }],
    ['one with a field too few', 'GET', '/versions/x/unique-name?name=y', 200, { name: 'y' }],
    ['a status that is not documented', 'POST', '/productions', 200, { id: 'x' }],
    ['an address that is not documented', 'GET', '/nowhere', 200, {}],
  ])('%s is found', (_, method, path, status, body) => {
    expect(() => assertAsDocumented(method, path, status, body)).toThrow(path.split('?')[0]);
  });

  test('and what is as it should be passes', () => {
    expect(() => assertAsDocumented('POST', '/productions', 201, { id: 'x' })).not.toThrow();
  });
});

describe('on a server', () => {
  let rig: Rig;
  beforeAll(async () => {
    rig = await Rig.open();
  });
  afterAll(() => rig.close());

  const raw = (path: string) => fetch(`http://127.0.0.1:${rig.running.port}/api${path}`);

  test('is a page that tells every address, and a document', async () => {
    const page = await (await raw('/docs')).text();
    for (const path of Object.keys(document.paths)) expect(page).toContain(path.replaceAll(/\{(\w+)\}/g, ':$1'));
    expect(await (await raw('/docs/openapi.json')).json()).toEqual(document);
  });

  test('an address that there is not leads there', async () => {
    const answer = await raw('/no-such-thing');
    expect([answer.status, ((await answer.json()) as Problem).detail]).toEqual([
      404,
      'Every address of the API is listed at /api/docs.',
    ]);
  });
});
