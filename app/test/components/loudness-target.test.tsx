import { fireEvent, screen } from '@testing-library/react';

import type { Loudness } from '@old-echo/core/sound/loudness';

import { LoudnessTargetCard } from '../../src/components/audition/loudness-target-card';
import { choseTarget } from '../../src/store/preferences-slice';
import { store } from '../../src/store/store';
import { show } from '../show';

const measured = (integrated: number | null, truePeak: number | null) =>
  ({ integrated, truePeak }) as unknown as Loudness;
const words = () => screen.getByTestId('loudness-target').textContent;
const choose = (name: string) => fireEvent.click(screen.getByRole('tab', { name }));

beforeEach(() => {
  store.dispatch(choseTarget({ kind: 'none', integrated: '-14', truePeak: '-1' }));
});

test('nothing is said until a target is chosen; it stays chosen for the next comparison', () => {
  const { unmount } = show(<LoudnessTargetCard a={measured(-23, -3)} b={measured(-19.8, -0.4)} />);
  expect(words()).not.toContain('LUFS');
  choose('EBU R 128');
  expect(words()).toContain('A is within 0.5 LU of −23 LUFS, and its peak fits.');
  expect(words()).toContain('B is 3.2 LU over −23 LUFS, and its peak is 0.6 dB over −1 dBTP.');
  unmount();
  show(<LoudnessTargetCard a={measured(null, null)} b={measured(-30, -2)} />);
  expect(words()).toContain('A is silent.');
  expect(words()).toContain(
    'B is 7.0 LU under −23 LUFS, and its peak fits. Turned to the target, its peak would be 6.0 dB over.',
  );
});

test('numbers of one’s own are typed with a comma or a minus of any kind; what is none is said', () => {
  show(<LoudnessTargetCard a={measured(-16.5, -2)} b={measured(-16.5, -1.4)} />);
  choose('Other');
  fireEvent.change(screen.getByTestId('target-loudness'), { target: { value: '−16,5' } });
  fireEvent.change(screen.getByTestId('target-peak'), { target: { value: '-1.5' } });
  expect(words()).toContain('A is within 0.5 LU of −16.5 LUFS, and its peak fits.');
  expect(words()).toContain('B is within 0.5 LU of −16.5 LUFS, and its peak is 0.1 dB over −1.5 dBTP.');
  for (const typed of ['', 'loud', '12', '-99', '-1.5.2']) {
    fireEvent.change(screen.getByTestId('target-loudness'), { target: { value: typed } });
    expect(words()).toContain('Both are numbers from −60 to 0.');
    expect(words()).not.toContain('A is');
  }
});
