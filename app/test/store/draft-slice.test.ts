import { draftDone, drafted, draftSlice, NO_DRAFT } from '../../src/store/draft-slice';
import { followed } from '../../src/store/live-slice';
import { chosen, selectionSlice, toggled } from '../../src/store/selection-slice';

test('a capture that was begun and left is there again, on its own desk, until it is made', () => {
  const reduce = draftSlice.reducer;
  const typed = reduce(undefined, drafted({ deskId: 'quay', draft: { name: 'Verse', note: 'Softer' } }));
  const more = reduce(typed, drafted({ deskId: 'quay', draft: { tags: 'verse' } }));
  expect(more['quay']).toEqual({ ...NO_DRAFT, name: 'Verse', note: 'Softer', tags: 'verse' });
  const two = reduce(more, drafted({ deskId: 'skiff', draft: { note: 'Other' } }));
  expect(reduce(two, draftDone('quay'))).toEqual({ skiff: { ...NO_DRAFT, note: 'Other' } });
});

test('strips stay selected until another desk is followed', () => {
  const reduce = selectionSlice.reducer;
  const selected = [chosen(['in.1']), toggled('in.4')].reduce(reduce, undefined);
  expect(selected).toEqual(['in.1', 'in.4']);
  expect(reduce(selected, toggled('in.1'))).toEqual(['in.4']);
  expect(reduce(selected, followed('another'))).toEqual([]);
});
