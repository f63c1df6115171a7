import {
  filtered,
  foldToggled,
  isNarrowed,
  lookedAt,
  mixesSlice,
  searchToggled,
} from '../../src/store/scene-list-slice';

const { reducer } = mixesSlice;
const on = (...actions: Parameters<typeof reducer>[1][]) =>
  actions.reduce(reducer, reducer(undefined, { type: 'begin' }));

describe('which scenes are looked at', () => {
  test('a filter stays with its song or show, and is not taken to another', () => {
    const here = on(lookedAt('one'), filtered({ search: 'horns' }), foldToggled('5'), lookedAt('one'));
    expect([here.filter, here.unfolded]).toEqual([{ search: 'horns' }, ['5']]);
    const there = reducer(here, lookedAt('two'));
    expect([there.filter, there.unfolded, there.searching]).toEqual([{}, [], false]);
  });

  test('each part of a filter is set by itself', () => {
    expect(on(filtered({ search: 'horns' }), filtered({ tag: 'dry' }), filtered({ search: undefined })).filter).toEqual(
      {
        search: undefined,
        tag: 'dry',
      },
    );
  });

  test('closing the search drops what was searched for, and keeps the version', () => {
    const open = on(searchToggled(), filtered({ search: 'horns', versionId: 'v' }));
    expect(open.searching).toBe(true);
    expect(reducer(open, searchToggled())).toMatchObject({ searching: false, filter: { versionId: 'v' } });
  });

  test('a fold opens and closes by itself', () => {
    expect(on(foldToggled('5'), foldToggled('9'), foldToggled('5')).unfolded).toEqual(['9']);
  });

  test.each([
    ['nothing', {}, false],
    ['the version alone', { versionId: 'v' }, false],
    ['blanks', { search: '  ' }, false],
    ['a word', { search: 'x' }, true],
    ['a tag', { tag: 'x' }, true],
    ['milestones only', { milestone: true }, true],
    ['a strip', { strip: 'in.1' }, true],
    ['a day', { from: '2026-11-25T00:00:00Z' }, true],
  ])('%s narrows the list: %s', (_, filter, narrows) => expect(isNarrowed(filter)).toBe(narrows));
});
