import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import { readMemory } from './browser-memory';

export type Appearance = 'auto' | 'day' | 'night';

export type TargetKind = 'none' | 'EBU R 128' | 'own';

/** How loud mixes are to be, with numbers of one's own as they were typed. */
export interface TargetChoice {
  readonly kind: TargetKind;
  readonly integrated: string;
  readonly truePeak: string;
}

export interface Preferences {
  readonly deskId: string | null;
  readonly productionId: string | null;
  readonly appearance: Appearance;
  /** What the person at this screen is called in the log of restores; empty until they say. */
  readonly who: string;
  /** Whether strips that nobody uses are left out where the desk is shown. */
  readonly inUseOnly: boolean;
  readonly loudnessTarget: TargetChoice;
}

export const PREFERENCES_KEY = 'old-echo.place';
const EMPTY: Preferences = {
  deskId: null,
  productionId: null,
  appearance: 'auto',
  who: '',
  inUseOnly: false,
  // As many who publish music ask for (common practice).
  loudnessTarget: { kind: 'none', integrated: '-14', truePeak: '-1' },
};

/** What this browser remembers between visits; where one is, as this tab had it last. */
function loadPreferences(): Preferences {
  const [browser, tab] = (['browser', 'tab'] as const).map((of) => readMemory(of, PREFERENCES_KEY)) as [
    Partial<Preferences> | undefined,
    Partial<Preferences> | undefined,
  ];
  const place = { ...EMPTY, ...browser };
  return { ...place, deskId: tab?.deskId ?? place.deskId, productionId: tab?.productionId ?? place.productionId };
}

interface FoundDesks {
  readonly ids: readonly string[];
  /** The one that the address names. */
  readonly named?: string | undefined;
}

/** The desk to be on: the one that the address names, else the one that one is on; where there is none of that name, the first. */
export const deskAmong = ({ ids, named }: FoundDesks, followed: string | null): string | null =>
  [named, followed].find((id) => id != null && ids.includes(id)) ?? ids[0] ?? null;

/** Where one is in the app, and how it looks. */
export const preferencesSlice = createSlice({
  name: 'place',
  initialState: loadPreferences,
  reducers: {
    /** The desks there are became known: whoever went to one of them meanwhile stays there, and nobody on one that is gone. */
    foundDesks: (place, { payload: { ids, named } }: PayloadAction<FoundDesks>) => ({
      ...place,
      deskId: deskAmong({ ids, named }, place.deskId),
    }),
    wentToDesk: (place, { payload }: PayloadAction<string>) => ({ ...place, deskId: payload }),
    wentToProduction: (place, { payload }: PayloadAction<{ id: string; deskId: string }>) => ({
      ...place,
      productionId: payload.id,
      deskId: payload.deskId,
    }),
    calledOneself: (place, { payload }: PayloadAction<string>) => ({ ...place, who: payload }),
    showedInUseOnly: (place, { payload }: PayloadAction<boolean>) => ({ ...place, inUseOnly: payload }),
    choseTarget: (place, { payload }: PayloadAction<Partial<TargetChoice>>) => ({
      ...place,
      loudnessTarget: { ...place.loudnessTarget, ...payload },
    }),
    changedAppearance: (place, { payload }: PayloadAction<Appearance>) => ({ ...place, appearance: payload }),
  },
});

export const {
  foundDesks,
  wentToDesk,
  wentToProduction,
  calledOneself,
  showedInUseOnly,
  choseTarget,
  changedAppearance,
} = preferencesSlice.actions;
