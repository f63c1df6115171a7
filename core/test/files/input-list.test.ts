import { quay } from '@old-echo/testing/profiles';

import { defaultState, withSettings } from '../../src/desk/state';
import { inputList, parseInputList } from '../../src/files/input-list';

describe('strip lists', () => {
  test('a list out and in again changes nothing; what was written into it does', () => {
    const state = withSettings(defaultState(quay), { 'in.1/label/name': 'Fiddle', 'in.1/preamp/phantom': true });
    const rows = inputList(quay, state, { 'in.1': 'fiddle' }).map((row) => ({ ...row }));
    expect(parseInputList(quay, state, rows)).toEqual({ settings: {}, parts: { 'in.1': 'fiddle' }, wrong: [] });
    const edited = rows.map((row) => (row.strip === 'in.2' ? { ...row, name: 'Viola', phantom: 'yes' } : row));
    expect(parseInputList(quay, state, edited).settings).toEqual({
      'in.2/label/name': 'Viola',
      'in.2/preamp/phantom': true,
    });
  });

  test('what cannot be taken is told with its line', () => {
    const { wrong, settings } = parseInputList(quay, defaultState(quay), [
      { strip: 'in.99', name: 'X' },
      { strip: 'in.1', source: 'Moon 7', phantom: 'maybe' },
    ]);
    expect(settings).toEqual({});
    expect(wrong.map((why) => why.slice(0, 7))).toEqual(['Line 2:', 'Line 3:', 'Line 3:']);
  });
});
