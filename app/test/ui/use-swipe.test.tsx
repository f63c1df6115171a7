import { fireEvent, screen } from '@testing-library/react';
import { View } from 'react-native';

import { useSwipe } from '../../src/ui/use-swipe';
import { show } from '../show';

const swiped: string[] = [];
function Pad() {
  const swipe = useSwipe(
    () => swiped.push('left'),
    () => swiped.push('right'),
  );
  return <View testID="pad" {...swipe} />;
}

const at = (x: number, y: number) => [{ identifier: 0, pageX: x, pageY: y, clientX: x, clientY: y }];
/** A finger that goes this far, with as many others as there are. */
function finger(x: number, y: number, others: object[] = []): string[] {
  swiped.length = 0;
  const pad = screen.getByTestId('pad');
  fireEvent.touchStart(pad, { changedTouches: [...at(200, 200), ...others] });
  fireEvent.touchEnd(pad, { changedTouches: at(200 + x, 200 + y) });
  return [...swiped];
}

beforeEach(() => void show(<Pad />));

test.each([
  [-80, 0, ['left']],
  [80, 20, ['right']],
  [0, 0, []],
  [50, 0, []],
  [80, 60, []],
  [0, -200, []],
])('a finger that goes %i to the side and %i down', (x, y, expected) => expect(finger(x, y)).toEqual(expected));

test('two fingers, and one that the browser took for a scroll, are no swipe', () => {
  expect(finger(-80, 0, at(100, 100))).toEqual([]);
  swiped.length = 0;
  const pad = screen.getByTestId('pad');
  fireEvent.touchStart(pad, { changedTouches: at(200, 200) });
  fireEvent.touchCancel(pad, { changedTouches: at(100, 200) });
  fireEvent.touchEnd(pad, { changedTouches: at(100, 200) });
  expect(swiped).toEqual([]);
});
