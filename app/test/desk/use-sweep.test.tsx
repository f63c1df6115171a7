import { act, renderHook } from '@testing-library/react';

import { useSweep } from '../../src/desk/use-sweep';
import { chosen } from '../../src/store/selection-slice';
import { store } from '../../src/store/store';
import { InApp } from '../show';

const STRIPS = ['in.1', 'in.2', 'in.3', 'in.4', 'in.5'];
const selected = () => store.getState().selection.strips;

const swept = (before: readonly string[], from: string, ...reached: readonly number[]) => {
  store.dispatch(chosen(before));
  const { result } = renderHook(() => useSweep(STRIPS), { wrapper: InApp });
  act(() => {
    result.current.begin(from);
    for (const rows of reached) result.current.reach(rows);
  });
  return selected();
};

test.each([
  ['down', 2, ['in.5', 'in.2', 'in.3', 'in.4']],
  ['up', -1, ['in.5', 'in.1', 'in.2']],
  ['past the last row', 40, ['in.5', 'in.2', 'in.3', 'in.4']],
  ['past the first row', -40, ['in.5', 'in.1', 'in.2']],
])('going over rows selects them, beside what was selected before: %s', (_, rows, all) =>
  expect(swept(['in.5'], 'in.2', rows)).toEqual(all),
);

test('going back deselects what was only reached on the way, and nothing that was selected before', () => {
  expect(swept(['in.3'], 'in.1', 4, 3, 1)).toEqual(['in.3', 'in.1', 'in.2']);
});
