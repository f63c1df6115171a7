import { deskAmong, foundDesks, preferencesSlice, wentToProduction } from '../../src/store/preferences-slice';

const ids = ['quay', 'boathouse', 'skiff'];

test.each([
  ['the one that the address names', 'skiff', 'boathouse', 'skiff'],
  ['without one in the address, the one that one is on', undefined, 'boathouse', 'boathouse'],
  ['with one in the address that is gone, the one that one is on', 'gone', 'boathouse', 'boathouse'],
  ['the first, where one was on none', undefined, null, 'quay'],
  ['the first, where the one that one was on is gone', undefined, 'gone', 'quay'],
])('%s', (_, named, followed, to) => expect(deskAmong({ ids, named }, followed)).toBe(to));

test('without any desk one is on none', () => expect(deskAmong({ ids: [] }, 'gone')).toBeNull());

test('a page that goes to the desk of its song in the moment in which the desks become known stays there', () => {
  const { reducer } = preferencesSlice;
  const before = { ...preferencesSlice.getInitialState(), deskId: null };
  const found = foundDesks({ ids });
  const went = wentToProduction({ id: 'song', deskId: 'boathouse' });
  for (const order of [
    [found, went],
    [went, found],
  ])
    expect(order.reduce(reducer, before)).toMatchObject({ deskId: 'boathouse', productionId: 'song' });
});
