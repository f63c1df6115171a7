import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';

import { Fault } from '@old-echo/core/fault/fault';

import { faultLine, toApiFault } from '../../src/store/api';
import { useAddVenueMutation, useVenuesQuery } from '../../src/store/library-api';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { PRODUCTION } from '../show';

const wrapper = ({ children }: { readonly children: ReactNode }) => <Provider store={store}>{children}</Provider>;
/** Each from a button of its own. */
async function add(name: string): Promise<unknown> {
  const { result } = renderHook(() => useAddVenueMutation(), { wrapper });
  let added: Promise<unknown> = Promise.resolve();
  act(() => void (added = result.current[0]({ production: PRODUCTION.id, name }).unwrap()));
  return added;
}

describe('a change that is asked for twice', () => {
  test('before the first was answered is made once, and both get its answer', async () => {
    const server = new FakeServer({ addVenue: { id: 'one' } });
    expect(await Promise.all([add('Harbour hall'), add('Harbour hall')])).toEqual([{ id: 'one' }, { id: 'one' }]);
    expect(server.sentTo('addVenue')).toHaveLength(1);
  });

  test('after it was answered is made again: a person may want two', async () => {
    const server = new FakeServer({ addVenue: { id: 'one' } });
    await add('Harbour hall');
    await add('Harbour hall');
    expect(server.sentTo('addVenue')).toHaveLength(2);
  });

  test('of which the first failed can be asked for again', async () => {
    const server = new FakeServer({ addVenue: new Fault('conflict', 'There is one.', 'Choose another name.') });
    const both = await Promise.allSettled([add('Harbour hall'), add('Harbour hall')]);
    expect(both.map(({ status }) => status)).toEqual(['rejected', 'rejected']);
    server.change({ addVenue: { id: 'one' } });
    expect(await add('Harbour hall')).toEqual({ id: 'one' });
    expect(server.sentTo('addVenue')).toHaveLength(2);
  });

  test('with another in between is made again: what came last stands', async () => {
    const server = new FakeServer({ addVenue: { id: 'one' } });
    await Promise.all([add('Harbour hall'), add('Quay tent'), add('Harbour hall')]);
    expect(server.sentTo('addVenue')).toEqual(['Harbour hall', 'Quay tent', 'Harbour hall'].map((name) => ({ name })));
  });

  test('with something else in it is another change', async () => {
    const server = new FakeServer({ addVenue: { id: 'one' } });
    await Promise.all([add('Harbour hall'), add('Quay tent')]);
    expect(server.sentTo('addVenue')).toEqual([{ name: 'Harbour hall' }, { name: 'Quay tent' }]);
  });
});

describe('while the server is busy', () => {
  const busy = () => new Fault('try-later', 'Old Echo is busy.', 'Try again shortly.');
  const venues = () => {
    const { result } = renderHook(() => useVenuesQuery(PRODUCTION.id), { wrapper });
    return result;
  };

  test('what is read is asked for again, until it is there', async () => {
    let asked = 0;
    new FakeServer({ venues: () => (++asked < 3 ? busy() : []) });
    const read = venues();
    await waitFor(() => expect(read.current.data).toEqual([]), { timeout: 10_000 });
    expect(asked).toBe(3);
  });

  test('what cannot be read for another reason is asked for once', async () => {
    const server = new FakeServer({ venues: new Fault('not-found', 'There is no such song.', 'Look for it.') });
    const read = venues();
    await waitFor(() => expect(read.current.isError).toBe(true));
    expect(server.sentTo('venues')).toHaveLength(1);
  });

  test('a change is not sent again by itself', async () => {
    const server = new FakeServer({ addVenue: busy });
    await expect(add('Harbour hall')).rejects.toMatchObject({ code: 'try-later' });
    expect(server.sentTo('addVenue')).toHaveLength(1);
  });
});

describe('what went wrong', () => {
  test('is said with what to do', () => {
    expect(faultLine({ code: 'conflict', message: 'There is one.', advice: 'Choose another.' })).toBe(
      'There is one. Choose another.',
    );
  });

  test.each([[undefined], [new TypeError('Failed to fetch')], [{ status: 500 }]])(
    'is said in general words where it is nothing of ours: %p',
    (error) => {
      expect(toApiFault(error).code).toBe('unavailable');
    },
  );
});
