import { fireEvent, render, screen } from '@testing-library/react';
import { Pressable, View } from 'react-native';

import { focusedId, focusFirst, focusNext, useFocusTarget } from '../../src/ui/focus-registry';
import { useRowNavigation } from '../../src/ui/use-shortcuts';

// The simulated browser has no page that scrolls.
window.HTMLElement.prototype.scrollIntoView = () => undefined;

function Row({ id }: { readonly id: string }) {
  return (
    <Pressable role="button" aria-label={id} ref={useFocusTarget('strip', id)}>
      {null}
    </Pressable>
  );
}

/** A check that is inside what is registered. */
function Check() {
  return (
    <View ref={useFocusTarget('caution to check')}>
      <Pressable role="button" aria-label="I have checked">
        {null}
      </Pressable>
    </View>
  );
}

function List({ ids, on = true }: { readonly ids: readonly string[]; readonly on?: boolean }) {
  useRowNavigation('strip', on);
  return (
    <>
      {ids.map((id) => (
        <Row key={id} id={id} />
      ))}
    </>
  );
}
const press = (key: string) => fireEvent.keyDown(document.body, { key });
const focused = () => document.activeElement?.getAttribute('aria-label') ?? '';

test('the arrows walk the rows in the order in which they stand, and stay on the last', () => {
  render(<List ids={['in.1', 'in.2', 'in.3']} />);
  const walked = ['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowUp'].map((key) => {
    press(key);
    return focused();
  });
  expect(walked).toEqual(['in.1', 'in.2', 'in.3', 'in.3', 'in.2']);
});

test('a row that comes in between is walked where it stands, and one that is gone is not', () => {
  const { rerender } = render(<List ids={['in.1', 'in.3']} />);
  rerender(<List ids={['in.1', 'in.2', 'in.3']} />);
  press('ArrowDown');
  press('ArrowDown');
  expect(focused()).toBe('in.2');
  rerender(<List ids={['in.1', 'in.3']} />);
  focusFirst('strip');
  press('ArrowDown');
  expect(focused()).toBe('in.3');
});

test('a list that is not at hand leaves the arrows alone', () => {
  render(<List ids={['in.1']} on={false} />);
  press('ArrowDown');
  expect(focused()).toBe('');
});

test('which one is focused is known by its id', () => {
  render(<List ids={['in.1', 'in.2']} />);
  expect(focusedId('strip')).toBeUndefined();
  focusNext('strip', 1);
  focusNext('strip', 1);
  expect(focusedId('strip')).toBe('in.2');
});

test('a control inside what a key leads to takes the focus', () => {
  render(<Check />);
  focusFirst('caution to check');
  expect(focused()).toBe('I have checked');
  expect(focusedId('caution to check')).toBe('');
});

test('a key that leads to what is not there does nothing', () => {
  render(<List ids={['in.1']} />);
  screen.getByRole('button', { name: 'in.1' }).focus();
  focusFirst('library search');
  focusNext('preset', 1);
  expect(focused()).toBe('in.1');
  expect(focusedId('preset')).toBeUndefined();
});
