import { readdirSync } from 'node:fs';
import { join, relative } from 'node:path';

import { screen } from '@testing-library/react';
import type { ComponentType } from 'react';

import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson } from '@old-echo/testing/profiles';

import { type Answers, FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, show } from '../show';

const ID = '01ARZ3NDEKTSV4RRFFQ69G5FAV';

jest.setTimeout(60_000);
const WHOLE = {
  desk: DESK.id,
  ...Object.fromEntries(
    ['scene', 'restore', 'production', 'strip', 'stagedSettings', 'preset', 'conversion', 'file', 'token'].map(
      (name) => [name, ID],
    ),
  ),
  strip: 'in.1',
  model: 'quay-48',
  family: 'in',
  id: ID,
};
beforeEach(() => {
  router.params = WHOLE;
});

const PAGES = join(__dirname, '..', '..', 'app');
/** Every address of the app, as the folder of its routes has them. */
const addresses = readdirSync(PAGES, { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('.tsx') && !file.endsWith('_layout.tsx'))
  .map((file) => relative('', file))
  .sort();
const pageAt = (file: string): ComponentType =>
  // eslint-disable-next-line @typescript-eslint/no-require-imports -- a page by its file
  (require(join(PAGES, file)) as { default: ComponentType }).default;

const names = Object.values(ROUTES).flatMap((wing) => Object.keys(wing));
const answering = (answer: unknown): Answers => Object.fromEntries(names.map((name) => [name, answer]));

/** What leads on to another address without asking anything, or says itself that it is no page. */
const ASKS_NOTHING = ['+not-found.tsx', '_sitemap.tsx', 'capture.tsx', 'enter.tsx'];

describe.each(addresses.filter((file) => !ASKS_NOTHING.includes(file)))('%s, opened fresh', (file) => {
  test.each<[string, unknown, RegExp]>([
    ['where nothing is there any more', new Fault('not-found', 'It is gone.', 'Choose another.'), /It is gone/],
    ['where the server does not answer', undefined, /Can’t reach the server/],
  ])('%s', async (_, answer, message) => {
    new FakeServer(answering(answer));
    const Page = pageAt(file);
    show(<Page />);
    expect((await screen.findAllByText(message)).length).toBeGreaterThan(0);
    expect(screen.getAllByRole('button').length).toBeGreaterThan(0);
    expect(screen.queryByRole('status')).toBeNull();
  });

  test('without what may follow its question mark it asks for nothing that has no name', async () => {
    const inPath = [...file.matchAll(/\[(\w+)\]/g)].map(([, name = '']) => name);
    router.params = Object.fromEntries(inPath.map((name) => [name, WHOLE[name as keyof typeof WHOLE]]));
    const gone = new Fault('not-found', 'It is gone.', 'Choose another.');
    const server = new FakeServer({
      ...answering(gone),
      desks: [DESK],
      productions: [],
      profile: profileJson('quay-48'),
    });
    const Page = pageAt(file);
    show(<Page />);
    await screen.findAllByText(/./);
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(server.strays).toEqual([]);
  });
});
