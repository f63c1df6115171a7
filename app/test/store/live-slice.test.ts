import { followed, liveSlice, lost, told } from '../../src/store/live-slice';

const reduce = liveSlice.reducer;
const state = { 'in.1': { 'fader/level': -5 }, 'in.2': { 'fader/level': -6 } };

test('a move changes its own strip and leaves every other strip the same object', () => {
  const before = reduce(reduce(undefined, followed('desk')), told({ type: 'full-state', state }));
  const after = reduce(before, told({ type: 'settings-changed', settings: { 'in.2/fader/level': -7 } }));
  expect(after.state?.['in.2']).toEqual({ 'fader/level': -7 });
  expect(after.state?.['in.1']).toBe(before.state?.['in.1']);
});

test('what was heard stays on screen when the server is lost, but is marked as such', () => {
  const before = reduce(reduce(undefined, followed('desk')), told({ type: 'full-state', state }));
  expect(reduce(before, lost())).toMatchObject({ heard: false, state });
});

test('another desk begins with nothing', () => {
  const before = reduce(reduce(undefined, followed('one')), told({ type: 'full-state', state }));
  expect(reduce(before, followed('two'))).toMatchObject({ deskId: 'two', state: null, desk: null });
});
