import { fireEvent, screen } from '@testing-library/react';

import { specOf } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import { quay } from '@old-echo/testing/profiles';

import { AppText } from '../../src/ui/app-text';
import { TypedValue } from '../../src/ui/typed-value';
import { show } from '../show';

const moved = jest.fn<void, [value: Value, done: boolean]>();

/** Opens the sheet in which a setting is typed. */
function typing(address: string, value: Value) {
  moved.mockClear();
  show(
    <TypedValue spec={specOf(quay, address)!} value={value} name="Fiddle" onMove={moved}>
      <AppText>shown</AppText>
    </TypedValue>,
  );
  fireEvent.click(screen.getByRole('button', { name: /^Fiddle: .*, type it$/ }));
  return screen.getByTestId<HTMLInputElement>('typed-value');
}
const enter = (field: HTMLElement, text: string) => {
  fireEvent.change(field, { target: { value: text } });
  fireEvent.click(screen.getByRole('button', { name: 'Set' }));
};
const isOpen = () => screen.queryByRole('dialog') !== null;

test('it begins with what stands there, with its range beside it', () => {
  expect(typing('in.1/fader/level', -6).value).toBe('−6.0 dB');
  expect(screen.getByText('−∞ to 10.0 dB')).toBeTruthy();
});

test.each<[string, Value, string, Value]>([
  ['in.1/fader/level', -6, '-12.5', -12.5],
  ['in.1/eq/2/freq', 400, '2k4', 2400],
  ['in.1/label/name', 'Fiddle', 'Whistle', 'Whistle'],
])('%s: what is typed is set, as one move that is done', (address, value, text, to) => {
  enter(typing(address, value), text);
  expect(moved.mock.calls).toEqual([[to, true]]);
  expect(isOpen()).toBe(false);
});

test('what cannot be is said, and nothing is sent; it can be put right', () => {
  const field = typing('in.1/fader/level', -6);
  enter(field, '14');
  expect(screen.getByText('From −∞ to 10.0 dB.')).toBeTruthy();
  expect(moved.mock.calls).toEqual([]);
  enter(field, '4');
  expect(moved.mock.calls).toEqual([[4, true]]);
});

test('the same again, and a cancel, send nothing', () => {
  enter(typing('in.1/fader/level', -6), '-6');
  expect(isOpen()).toBe(false);
  fireEvent.click(screen.getByRole('button', { name: /type it$/ }));
  fireEvent.change(screen.getByTestId('typed-value'), { target: { value: '3' } });
  fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  expect([isOpen(), moved.mock.calls]).toEqual([false, []]);
});

test('a value that cannot be moved now only shows', () => {
  show(
    <TypedValue spec={specOf(quay, 'in.1/fader/level')!} value={-6} name="Fiddle" onMove={undefined}>
      <AppText>shown</AppText>
    </TypedValue>,
  );
  expect(screen.queryByRole('button')).toBeNull();
});
