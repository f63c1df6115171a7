import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type Appearance = 'auto' | 'day' | 'night';

interface Preferences {
  readonly deskId: string | null;
  readonly productionId: string | null;
  readonly appearance: Appearance;
  /** What the person at this screen is called in the log of restores; empty until they say. */
  readonly who: string;
}

const KEY = 'old-echo.place';
const EMPTY: Preferences = { deskId: null, productionId: null, appearance: 'auto', who: '' };

/**
 * What this browser remembers between visits. Where one is belongs to the tab; a new tab begins where the last one was.
 * Private windows may refuse to; then nothing is remembered.
 */
function loadPreferences(): Preferences {
  try {
    const read = (storage: Storage) => JSON.parse(storage.getItem(KEY) ?? '{}') as Partial<Preferences>;
    const [browser, tab] = [read(localStorage), read(sessionStorage)];
    const { deskId = browser.deskId, productionId = browser.productionId } = tab;
    return { ...EMPTY, ...browser, deskId: deskId ?? null, productionId: productionId ?? null };
  } catch {
    return EMPTY;
  }
}

function savePreferences(place: Preferences): Preferences {
  try {
    const { deskId, productionId } = place;
    sessionStorage.setItem(KEY, JSON.stringify({ deskId, productionId }));
    localStorage.setItem(KEY, JSON.stringify(place));
  } catch {
    // Remembering is a comfort; the page works without.
  }
  return place;
}

/** Where one is in the app, and how it looks. */
export const preferencesSlice = createSlice({
  name: 'place',
  initialState: loadPreferences,
  reducers: {
    wentToDesk: (place, { payload }: PayloadAction<string>) => savePreferences({ ...place, deskId: payload }),
    wentToProduction: (place, { payload }: PayloadAction<{ id: string; deskId: string }>) =>
      savePreferences({ ...place, productionId: payload.id, deskId: payload.deskId }),
    calledOneself: (place, { payload }: PayloadAction<string>) => savePreferences({ ...place, who: payload }),
    changedAppearance: (place, { payload }: PayloadAction<Appearance>) =>
      savePreferences({ ...place, appearance: payload }),
  },
});

export const { wentToDesk, wentToProduction, calledOneself, changedAppearance } = preferencesSlice.actions;
