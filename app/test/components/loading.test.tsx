import { act, fireEvent, screen, waitFor } from '@testing-library/react';

import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { Loading } from '../../src/components/loading';
import { usePresetsQuery } from '../../src/store/library-api';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, show } from '../show';

jest.setTimeout(60_000);

/** A page that shows presets, once they are there. */
function Page() {
  const { data } = usePresetsQuery();
  return data ? `${data.length} presets` : <Loading what="Loading the library" />;
}

let server: FakeServer;
const page = (answers: Record<string, unknown>) => {
  router.params = {};
  router.navigate.mockClear();
  server = new FakeServer({ desks: [DESK], profile: profileJson('quay-48'), ...answers });
  return show(<Page />);
};
const asked = () => server.sentTo('presets').length;

test('nothing is said in the first moment, and then what is loading', async () => {
  page({ presets: () => new Promise(() => undefined) });
  expect(screen.getByRole('status').textContent).toBe('');
  await waitFor(() => expect(screen.getByRole('status').textContent).toBe('Loading the library …'));
});

test('what cannot be had says why, and is asked for again with a touch', async () => {
  page({ presets: new Fault('refused-input', 'That cannot be had.', 'Ask for less.') });
  expect(await screen.findByText('That cannot be had.')).toBeTruthy();
  expect(screen.getByText('Ask for less.')).toBeTruthy();
  server.change({ presets: [] });
  fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(await screen.findByText('0 presets')).toBeTruthy();
});

test('a server that is silent is asked again by itself until it answers', async () => {
  jest.useFakeTimers({ advanceTimers: true });
  try {
    page({});
    await screen.findByText('Can’t reach the server.');
    const before = asked();
    await act(() => jest.advanceTimersByTimeAsync(5100));
    await waitFor(() => expect(asked()).toBe(before + 1));
    server.change({ presets: [] });
    await act(() => jest.advanceTimersByTimeAsync(5100));
    expect(await screen.findByText('0 presets')).toBeTruthy();
    await act(() => jest.advanceTimersByTimeAsync(20_000));
    expect(asked()).toBe(before + 2);
  } finally {
    jest.useRealTimers();
  }
});

test('a refusal is not asked again by itself: the answer would be the same', async () => {
  jest.useFakeTimers({ advanceTimers: true });
  try {
    page({ presets: new Fault('not-found', 'It is gone.', 'Choose another.') });
    await screen.findByText('It is gone.');
    const before = asked();
    await act(() => jest.advanceTimersByTimeAsync(20_000));
    expect(asked()).toBe(before);
  } finally {
    jest.useRealTimers();
  }
});

test('what went wrong on a page that is left says nothing on the next', async () => {
  const { unmount } = page({ presets: new Fault('not-found', 'It is gone.', 'Choose another.') });
  await screen.findByText('It is gone.');
  unmount();
  show(<Loading what="Loading the desk" />);
  await waitFor(() => expect(screen.getByRole('status').textContent).toBe('Loading the desk …'));
  expect(screen.queryByText('It is gone.')).toBeNull();
});

test('an address of a desk that is gone says so, and leads to one that is there', async () => {
  page({ presets: [] }).unmount();
  follow(DESK, defaultState(quay));
  router.params = { desk: '01GONE00000000000000000000' };
  show(<Loading what="Reading the desk" />);
  expect(await screen.findByText('This desk no longer exists.')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'To the desk' }));
  expect(router.navigate).toHaveBeenCalledWith('/desk');
});
