import { fireEvent, screen } from '@testing-library/react';

import { OthersHere } from '../../src/desk/others-here';
import { DESK, fallSilent, follow, show, tell } from '../show';

test('who else is here is told by name, device and what they look at; nobody is nothing', () => {
  follow(DESK, {});
  const { container } = show(<OthersHere />);
  expect(container.textContent).toBe('');
  tell({
    type: 'people',
    others: [
      { person: 'Rosa Tidewell', device: 'Phone at front of house', at: '/mixes/1/scene/2' },
      { person: '', device: '', at: '/nothing-known' },
    ],
  });
  fireEvent.click(screen.getByRole('button', { name: '2 others here' }));
  expect(screen.getByText('Phone at front of house, looks at mixes')).toBeTruthy();
  expect(screen.getByText('Somebody at the machine itself')).toBeTruthy();
  expect(screen.getByText('looks at another page')).toBeTruthy();
  // Without the server nobody knows.
  fallSilent();
  expect(screen.queryByRole('button', { name: '2 others here' })).toBeNull();
});
