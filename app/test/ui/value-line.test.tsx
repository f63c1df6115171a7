import { fireEvent, render, screen } from '@testing-library/react';
import { PaperProvider } from 'react-native-paper';

import type { NumberSpec } from '@old-echo/core/desk/setting';

import { dayTheme } from '../../src/ui/theme';
import { ValueSlider } from '../../src/ui/value-slider';

const level: NumberSpec = { kind: 'level', unit: 'dB', min: -90, max: 10, step: 0.1, default: -90 };

function show(value: number, onMove?: (value: number, done: boolean) => void) {
  render(
    <PaperProvider theme={dayTheme}>
      <ValueSlider spec={level} value={value} name="Fiddle fader" onMove={onMove} focusable />
    </PaperProvider>,
  );
  return screen.getByRole('slider', { name: 'Fiddle fader' });
}

test.each([
  ['ArrowRight', false, -5.5, -5],
  ['ArrowLeft', false, -5.5, -6],
  ['ArrowRight', true, -5.5, -5.4],
  ['PageUp', false, -5.5, -0.5],
  ['ArrowUp', false, 10, 10],
  ['ArrowRight', false, -90, -59.5],
])('%s (shift %s) moves a fader from %f to %f dB', (key, shiftKey, from, to) => {
  const moved = jest.fn();
  fireEvent.keyDown(show(from, moved), { key, shiftKey });
  expect(moved).toHaveBeenCalledWith(to, true);
});

test('a line that only shows is not reached by the keyboard, and is read in trade units', () => {
  const line = show(-90);
  expect(line.getAttribute('tabindex')).toBe('-1');
  expect(line.getAttribute('aria-valuetext')).toBe('\u2212∞');
});
