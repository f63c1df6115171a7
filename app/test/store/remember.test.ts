import { draftDone, drafted, DRAFTS_KEY, draftSlice } from '../../src/store/draft-slice';
import { HELD_SCOPES_KEY, heldScopeSlice, scopeHeld } from '../../src/store/held-scope-slice';
import { PREFERENCES_KEY, preferencesSlice, showedInUseOnly, wentToDesk } from '../../src/store/preferences-slice';
import { store } from '../../src/store/store';

const stored = (storage: Storage, key: string) => JSON.parse(storage.getItem(key) ?? 'null') as unknown;

test('what was typed and what is held is there when the page is opened anew, in this tab', () => {
  store.dispatch(drafted({ form: 'capture/quay', initial: { name: '' }, change: { name: 'Verse' } }));
  store.dispatch(scopeHeld({ deskId: 'quay', scope: [{ strips: ['in.1'], sections: ['sends'], include: true }] }));
  expect(draftSlice.getInitialState()).toEqual({ 'capture/quay': { name: 'Verse' } });
  expect(heldScopeSlice.getInitialState()).toEqual(store.getState().heldScopes);
  expect(localStorage.getItem(DRAFTS_KEY) ?? localStorage.getItem(HELD_SCOPES_KEY)).toBeNull();
  store.dispatch(draftDone('capture/quay'));
  expect(stored(sessionStorage, DRAFTS_KEY)).toEqual({});
});

test('a new tab begins where the last one was, and how it looks is of the browser; where one is, of the tab', () => {
  store.dispatch(wentToDesk('quay'));
  store.dispatch(showedInUseOnly(true));
  // Another tab went elsewhere.
  localStorage.setItem(PREFERENCES_KEY, JSON.stringify({ deskId: 'skiff', inUseOnly: false }));
  expect(preferencesSlice.getInitialState()).toMatchObject({ deskId: 'quay', inUseOnly: false });
  sessionStorage.removeItem(PREFERENCES_KEY);
  expect(preferencesSlice.getInitialState()).toMatchObject({ deskId: 'skiff', appearance: 'auto', who: '' });
});

test('what is spoiled in the browser counts as nothing', () => {
  sessionStorage.clear();
  for (const [storage, key] of [
    [sessionStorage, DRAFTS_KEY],
    [sessionStorage, HELD_SCOPES_KEY],
    [localStorage, PREFERENCES_KEY],
  ] as const) {
    storage.setItem(key, '{');
    expect(draftSlice.getInitialState()).toEqual({});
    expect(heldScopeSlice.getInitialState()).toEqual({});
    storage.removeItem(key);
  }
  sessionStorage.setItem(HELD_SCOPES_KEY, '{"quay":[{"strips":7}]}');
  expect(heldScopeSlice.getInitialState()).toEqual({});
});
