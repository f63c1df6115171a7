import { fireEvent, render, screen } from '@testing-library/react';
import X from 'lucide-react-native/icons/x';
import type { ReactElement } from 'react';
import { PaperProvider } from 'react-native-paper';

import { Action, Chip, HoldButton } from '../../src/ui/buttons';
import { IconAction, MenuRow } from '../../src/ui/menu';
import { dayTheme } from '../../src/ui/theme';
import { SayWhyNot, type WhyNot } from '../../src/ui/why-not';

const WHY = 'The show is locked.';

const KINDS: readonly (readonly [kind: string, of: (why: WhyNot, act: () => void) => ReactElement])[] = [
  ['a button', (why, act) => <Action title="Do it" disabled={why} onPress={act} />],
  ['a picture', (why, act) => <IconAction of={X} name="Do it" disabled={why} onPress={act} />],
  ['a chip', (why, act) => <Chip title="Do it" toggle chosen={false} disabled={why} onPress={act} />],
  ['a button to hold', (why, act) => <HoldButton title="Do it" disabled={why} onDone={act} />],
];

const touched = (control: ReactElement) => {
  const say = jest.fn();
  const { container } = render(
    <SayWhyNot value={say}>
      <PaperProvider theme={dayTheme}>{control}</PaperProvider>
    </SayWhyNot>,
  );
  const button = screen.queryByRole('button') ?? screen.getByRole('checkbox');
  // What lies on top is what is touched.
  fireEvent.click([...container.querySelectorAll('div[aria-hidden=true]')].at(-1) ?? button);
  return { say, button };
};

describe.each(KINDS)('%s that cannot be used', (_, control) => {
  test('says why when it is touched, and does nothing', () => {
    const act = jest.fn();
    const { say, button } = touched(control(WHY, act));
    expect(button.getAttribute('aria-disabled')).toBe('true');
    expect(say.mock.calls).toEqual([[WHY]]);
    expect(act).not.toHaveBeenCalled();
  });

  test('says nothing once it can be used', () => {
    const { say, button } = touched(control(false, jest.fn()));
    expect(button.getAttribute('aria-disabled')).not.toBe('true');
    expect(say).not.toHaveBeenCalled();
  });
});

test('in a menu the reason stands in the place of what it does', () => {
  touched(<MenuRow title="Do it" under="Moves it to the bin" disabled={WHY} onPress={jest.fn()} />);
  expect(screen.queryByText('The show is locked')).not.toBeNull();
  expect(screen.queryByText('Moves it to the bin')).toBeNull();
});
