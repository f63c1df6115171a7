import { renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';

import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';

import { givenBack, toApiFault } from '../../src/store/api';
import { ask } from '../../src/store/ask';
import { dismissed } from '../../src/store/notice-slice';
import { store } from '../../src/store/store';
import { useRunAndNotify } from '../../src/store/use-run-and-notify';

const run = () =>
  renderHook(() => useRunAndNotify(), {
    wrapper: ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>,
  }).result.current;
const notice = () => store.getState().notice;
const undo = ask(ROUTES.scenes.unbinScene, { params: { id: 'x' } });
const refused = { code: 'protected' as const, message: '14 Reel is protected.', advice: 'Unprotect it first.' };

beforeEach(() => void store.dispatch(dismissed()));

describe('something that was asked of the server', () => {
  test('is said once it is done, with the way to take it back', async () => {
    expect(
      await run()(Promise.resolve({ data: { name: 'Reel' } }), ({ name }) => `${name} is in the bin.`, undo),
    ).toEqual({
      name: 'Reel',
    });
    expect(notice()).toMatchObject({ text: 'Reel is in the bin.', undo });
  });

  test('is said with what to do where it was refused, and there is nothing to take back', async () => {
    expect(await run()(Promise.resolve({ error: refused }), () => 'Done.', undo)).toBeUndefined();
    expect(notice()).toMatchObject({ text: '14 Reel is protected. Unprotect it first.' });
    expect(notice().undo).toBeUndefined();
  });

  test('that never came back is said as well', async () => {
    await run()(Promise.resolve({ error: new TypeError('Failed to fetch') }), () => 'Done.');
    expect(notice().text).toBe('Can’t reach the server. Check that it is running, and look before you send it again.');
  });

  test('of which there is nothing to say leaves the notice that is there', async () => {
    await run()(Promise.resolve({ data: {} }), () => 'First.');
    await run()(Promise.resolve({ data: {} }), () => '');
    expect(notice().text).toBe('First.');
  });

  test('is taken back by what it answered, where that is what is needed', async () => {
    await run()(Promise.resolve({ data: { removal: 'r' } }), () => 'Removed.', givenBack);
    expect(notice().undo).toEqual({ url: '/removals/r/back', method: 'POST' });
  });

  test('said twice is two notices: the second is seen although it reads the same', async () => {
    await run()(Promise.resolve({ data: {} }), () => 'Moved.');
    const { count } = notice();
    await run()(Promise.resolve({ data: {} }), () => 'Moved.');
    expect(notice().count).toBe(count + 1);
  });
});

test.each([
  ['a refusal keeps its words', refused, refused.message],
  ['anything else is a server that cannot be reached', 'gone', 'Can’t reach the server.'],
  ['also nothing at all', undefined, 'Can’t reach the server.'],
])('%s', (_, error, message) => expect(toApiFault(error).message).toBe(message));
