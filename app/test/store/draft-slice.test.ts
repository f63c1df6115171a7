import { draftDone, drafted, draftSlice } from '../../src/store/draft-slice';
import { followed } from '../../src/store/live-slice';
import { chosen, selectedUpTo, selectionSlice, toggled } from '../../src/store/selection-slice';

test('what was typed into a form is there again, in that form alone, until it is sent', () => {
  const reduce = draftSlice.reducer;
  const initial = { name: null, note: '', tags: '' };
  const typed = reduce(
    undefined,
    drafted({ form: 'capture/quay', initial, change: { name: 'Verse', note: 'Softer' } }),
  );
  const more = reduce(typed, drafted({ form: 'capture/quay', initial, change: { tags: 'verse' } }));
  expect(more['capture/quay']).toEqual({ name: 'Verse', note: 'Softer', tags: 'verse' });
  const two = reduce(more, drafted({ form: 'capture/skiff', initial, change: { note: 'Other' } }));
  expect(reduce(two, draftDone('capture/quay'))).toEqual({ 'capture/skiff': { ...initial, note: 'Other' } });
});

test('with Shift all from the strip selected last up to another are selected, in either direction, of those that are shown', () => {
  const reduce = selectionSlice.reducer;
  const shown = ['in.1', 'in.2', 'in.3', 'in.4', 'in.5'];
  const upTo = (strip: string) => selectedUpTo({ strip, shown });
  const one = reduce(reduce(undefined, toggled('in.2')), upTo('in.4'));
  expect(one.strips).toEqual(['in.2', 'in.3', 'in.4']);
  expect(reduce(one, upTo('in.3')).strips).toEqual(['in.2', 'in.3', 'in.4']);
  expect(reduce(reduce(undefined, toggled('in.5')), upTo('in.4')).strips).toEqual(['in.5', 'in.4']);
  // What was selected last is not among them, or nothing was: just the one.
  expect(reduce(reduce(undefined, toggled('fx.1')), upTo('in.3')).strips).toEqual(['fx.1', 'in.3']);
  expect(reduce(undefined, upTo('in.3')).strips).toEqual(['in.3']);
});

test('strips stay selected until another desk is followed', () => {
  const reduce = selectionSlice.reducer;
  const selected = reduce(reduce(undefined, chosen(['in.1'])), toggled('in.4'));
  expect(selected.strips).toEqual(['in.1', 'in.4']);
  expect(reduce(selected, toggled('in.1')).strips).toEqual(['in.4']);
  expect(reduce(selected, followed('another')).strips).toEqual([]);
});
