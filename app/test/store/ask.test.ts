import type { Route } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';

import { ask } from '../../src/store/ask';

const { scenes, recall, sound } = ROUTES;

describe('a request by its route', () => {
  test('names what it is about in the address, whatever is in the name', () => {
    expect(ask(scenes.changeCount, { params: { id: 'a/b', other: 'c d?' } })).toEqual({
      url: '/scenes/a%2Fb/change-count/c%20d%3F',
      method: 'GET',
    });
  });

  test('takes along what is asked and what is sent, each where it belongs', () => {
    expect(ask(sound.render, { params: { id: 'x' }, query: { wait: 400 } })).toEqual({
      url: '/renders/x',
      method: 'GET',
      params: { wait: 400 },
    });
    expect(ask(recall.cancelRestore, { params: { id: 'x' }, body: { how: 'stop' } })).toEqual({
      url: '/restores/x/cancel',
      method: 'POST',
      body: { how: 'stop' },
    });
  });

  test('without a body has none, not an empty one', () => {
    expect(ask(scenes.binScene, { params: { id: 'x' } })).not.toHaveProperty('body');
  });
});

describe('the table of routes', () => {
  const all = Object.values(ROUTES).flatMap((wing) => Object.entries<Route>(wing));

  test('has no address twice: the second would never be reached', () => {
    const addresses = all.map(([, { method, path }]) => `${method} ${path.replaceAll(/:\w+/g, ':')}`);
    expect(addresses.filter((address, i) => addresses.indexOf(address) !== i)).toEqual([]);
  });

  test('has fixed addresses before those that would take them for a name', () => {
    const hidden = all.flatMap(([name, { method, path }], i) =>
      all
        .slice(0, i)
        .filter(
          ([, before]) =>
            before.method === method &&
            before.path.includes(':') &&
            new RegExp(`^${before.path.replaceAll('.', '\\.').replaceAll(/:\w+/g, '[^/]+')}$`).test(path),
        )
        .map(([other]) => `${name} is hidden by ${other}`),
    );
    expect(hidden).toEqual([]);
  });

  test('says of each what it does, as a sentence', () => {
    for (const [name, { does }] of all) expect([name, does]).toEqual([name, expect.stringMatching(/^[A-Z].*\.$/)]);
  });

  test('sends nothing with what only asks', () => {
    for (const [name, { method, shapes }] of all)
      if (method === 'get') expect([name, shapes.body, shapes.takes]).toEqual([name, undefined, undefined]);
  });
});
