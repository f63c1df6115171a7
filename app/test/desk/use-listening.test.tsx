import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';

import type { NewListening } from '@old-echo/core/contracts/listening';
import type { LoggedMessage } from '@old-echo/core/desk/logged-message';
import { loggedMessage } from '@old-echo/testing/logged-message';

import { useListening } from '../../src/desk/use-listening';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';

const PLACE: NewListening = { host: '127.0.0.1', port: 9000, transport: 'udp', say: [], every: 2000 };
const MOVED = loggedMessage('from the desk', '/whole/tone/2', { packet: 1, types: 'ff', args: [1, 0] });

test('a look that had begun before a move is no answer to one that began after it', async () => {
  let hasMoved = false;
  const begun: ((answer: unknown) => void)[] = [];
  const server = new FakeServer({
    startListening: { id: 'L' },
    endListening: {},
    // What is on the way back is what was so when it was asked.
    listening: () => {
      const answer = { last: hasMoved ? 1 : 0, messages: hasMoved ? [MOVED] : [] };
      return new Promise((resolve) => begun.push(() => resolve(answer)));
    },
  });
  const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
  const { result, unmount } = renderHook(() => useListening(PLACE), { wrapper });
  await waitFor(() => expect(result.current.id).toBe('L'));
  await waitFor(() => expect(begun).toHaveLength(1), { timeout: 3000 });
  hasMoved = true;
  let heard: readonly LoggedMessage[] = [];
  const looked = result.current.look().then((all) => (heard = all));
  // The first is answered after the second could have begun.
  await new Promise((resolve) => setTimeout(resolve, 400));
  begun[0]?.({});
  await waitFor(() => expect(begun).toHaveLength(2));
  await act(async () => {
    begun[1]?.({});
    await looked;
  });
  expect(heard.map(({ address }) => address)).toEqual(['/whole/tone/2']);
  expect(server.sentTo('listening')).toHaveLength(2);
  unmount();
});
