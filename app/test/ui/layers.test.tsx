import { act, render } from '@testing-library/react';
import { useState } from 'react';

import { useLayer } from '../../src/ui/use-layer';

/** The pages that a router would have been told of, as it hears them: after the layers. */
const heard: (string | undefined)[] = [];
const toPage = (id: string) => window.history.pushState({ id }, '', `/${id}`);
const go = async (steps: number) => {
  await act(async () => {
    window.history.go(steps);
    // One step may lead to another: each of these lets one more of them happen, however busy the machine is.
    for (let i = 0; i < 8; i++) await new Promise((done) => setTimeout(done, 8));
  });
};
const set = new Map<string, (is: boolean) => void>();
const open = new Set<string>();

function Sheet({ name }: { readonly name: string }) {
  const [is, setIs] = useState(false);
  set.set(name, setIs);
  if (is) open.add(name);
  else open.delete(name);
  useLayer(is, () => setIs(false));
  return null;
}
const turn = (name: string, is: boolean) => act(() => set.get(name)!(is));

beforeAll(() => window.addEventListener('popstate', () => heard.push((window.history.state as { id?: string }).id)));
beforeEach(() => {
  toPage('start');
  toPage('one');
  heard.length = 0;
});

test('Back closes what is open, the uppermost first, and tells the router nothing', async () => {
  render(<Sheet name="menu" />);
  render(<Sheet name="list" />);
  turn('menu', true);
  turn('list', true);
  await go(-1);
  expect([[...open], window.location.pathname]).toEqual([['menu'], '/one']);
  await go(-1);
  expect([[...open], window.location.pathname]).toEqual([[], '/one']);
  expect(heard).toEqual([]);
  await go(-1);
  expect([window.location.pathname, heard]).toEqual(['/start', ['start']]);
});

test.each([1, 2, 3])('a sheet opened and closed %d times costs no Back', async (times) => {
  render(<Sheet name="menu" />);
  for (let i = 0; i < times; i++) {
    turn('menu', true);
    turn('menu', false);
  }
  await go(-1);
  expect([window.location.pathname, heard]).toEqual(['/start', ['start']]);
  await go(1);
  expect([window.location.pathname, heard]).toEqual(['/one', ['start', 'one']]);
});

test('a choice that leads on is one Back away from where it was made, and that page one from the one before', async () => {
  render(<Sheet name="menu" />);
  turn('menu', true);
  turn('menu', false);
  toPage('two');
  await go(-1);
  expect(window.location.pathname).toBe('/one');
  // The router tells the page anew, as it does.
  window.history.replaceState({ id: 'one' }, '', '/one');
  await go(-1);
  expect(window.location.pathname).toBe('/start');
  expect(heard).toEqual(['one', 'start']);
});

test('going to another page at once closes what lies over this one', async () => {
  toPage('two');
  render(<Sheet name="menu" />);
  turn('menu', true);
  await go(-2);
  expect([[...open], window.location.pathname, heard]).toEqual([[], '/one', ['one']]);
  await go(1);
  expect(window.location.pathname).toBe('/two');
});
