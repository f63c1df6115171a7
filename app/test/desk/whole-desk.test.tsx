import { act, fireEvent, screen } from '@testing-library/react';

import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { quay } from '@old-echo/testing/profiles';

import { GlanceCell } from '../../src/desk/glance-cell';
import { useOpenStrip } from '../../src/desk/use-open-strip';
import { switched } from '../../src/store/last-switch-slice';
import { chosen } from '../../src/store/selection-slice';
import { store } from '../../src/store/store';
import { router } from '../router';
import { DESK, follow, show } from '../show';

const was = withSettings(defaultState(quay), { 'in.1/label/name': 'Fiddle', 'in.1/fader/level': -8 });
const now = withSettings(was, { 'in.1/fader/level': -5.5, 'in.1/mute/on': true });

function Cells() {
  const open = useOpenStrip(DESK.id, ['in.1', 'in.2', 'in.3']);
  return ['in.1', 'in.2', 'in.3'].map((strip) => (
    <GlanceCell
      key={strip}
      profile={quay}
      strip={strip}
      was={was[strip]}
      safe={strip === 'in.2' ? 'all' : 'none'}
      height={36}
      digits
      onOpen={open}
    />
  ));
}

beforeEach(() => {
  follow(DESK, now);
  router.navigate.mockClear();
  show(<Cells />);
});
const cell = (strip: string) => screen.getByTestId(`glance-${strip}`);
const said = (strip: string) => cell(strip).getAttribute('aria-label');

test('a strip says its name, level, mute, safe and drift', () => {
  expect(said('in.1')).toBe('Fiddle, −5.5 dB, muted, 2 settings drifted');
  expect(said('in.2')).toBe('Input 2, −∞ dB, safe');
});

test('after a switch it shows what that changed, whatever it has drifted', () => {
  const before = { 'in.3': { ...now['in.3'], 'fader/level': -20 } };
  act(() => void store.dispatch(switched({ restoreId: 'r', line: '', before })));
  expect(said('in.3')).toBe('Input 3, −∞ dB, 1 setting changed');
});

test('a touch opens it; once one is selected touches select, Shift all between', () => {
  fireEvent.click(cell('in.1'));
  expect(router.navigate).toHaveBeenCalledWith(`/desk/${DESK.id}/strip/in.1`);
  store.dispatch(chosen(['in.1']));
  fireEvent.click(cell('in.2'));
  expect(store.getState().selection.strips).toEqual(['in.1', 'in.2']);
  store.dispatch(chosen([]));
  fireEvent.click(cell('in.1'), { ctrlKey: true });
  fireEvent.click(cell('in.3'), { shiftKey: true });
  expect(store.getState().selection.strips).toEqual(['in.1', 'in.2', 'in.3']);
  expect(router.navigate).toHaveBeenCalledTimes(1);
});
