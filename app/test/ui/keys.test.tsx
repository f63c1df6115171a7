import { fireEvent, render } from '@testing-library/react';
import type { ReactNode } from 'react';

import { useShortcuts } from '../../src/ui/use-shortcuts';

function With({ keys, children }: { readonly keys: Record<string, () => void>; readonly children?: ReactNode }) {
  useShortcuts(keys);
  return <>{children}</>;
}

const press = (key: string) => fireEvent.keyDown(document.body, { key });

test('a key belongs to what lies inside or was opened later; what is closed gives it back', () => {
  const [shell, screen, sheet] = [jest.fn(), jest.fn(), jest.fn()];
  const tree = (open: boolean) => (
    <With keys={{ b: shell, m: shell }}>
      <With keys={{ b: screen, n: screen }} />
      {open ? <With keys={{ b: sheet }} /> : null}
    </With>
  );
  const { rerender, unmount } = render(tree(false));
  press('b');
  press('m');
  expect([shell, screen, sheet].map((each) => each.mock.calls.length)).toEqual([1, 1, 0]);
  rerender(tree(true));
  press('b');
  expect([shell, screen, sheet].map((each) => each.mock.calls.length)).toEqual([1, 1, 1]);
  rerender(tree(false));
  press('b');
  expect(screen).toHaveBeenCalledTimes(2);
  unmount();
  press('b');
  expect(screen).toHaveBeenCalledTimes(2);
});

test('a text field keeps its keys', () => {
  const act = jest.fn();
  const { container } = render(
    <With keys={{ b: act }}>
      <input />
    </With>,
  );
  fireEvent.keyDown(container.querySelector('input')!, { key: 'b' });
  expect(act).not.toHaveBeenCalled();
});
