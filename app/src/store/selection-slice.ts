import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import type { Following } from '@old-echo/core/desk/batch-edit';

import { followed } from './live-slice';

interface Selection {
  readonly strips: readonly string[];
  /** The strip that was selected or deselected last. */
  readonly last: string | null;
  /** How the others follow when a control of one of them is moved. */
  readonly following: Following;
}

const none: Selection = { strips: [], last: null, following: 'step' };

/** Strips picked out on the desk's list, to do something with them together. */
export const selectionSlice = createSlice({
  name: 'selection',
  initialState: none,
  reducers: {
    toggled: (selection, { payload }: PayloadAction<string>) => ({
      ...selection,
      strips: selection.strips.includes(payload)
        ? selection.strips.filter((strip) => strip !== payload)
        : [...selection.strips, payload],
      last: payload,
    }),
    /** All of the strips that are shown, from the one that was selected last up to this one. */
    selectedUpTo: (selection, { payload }: PayloadAction<{ strip: string; shown: readonly string[] }>) => {
      const { strip, shown } = payload;
      const ends = [selection.last ?? strip, strip].map((end) => shown.indexOf(end)).filter((at) => at >= 0);
      const more = shown.slice(Math.min(...ends), Math.max(...ends) + 1);
      return { ...selection, strips: [...new Set([...selection.strips, ...more])], last: strip };
    },
    chosen: (selection, { payload }: PayloadAction<readonly string[]>) => ({ ...selection, strips: payload }),
    followingChosen: (selection, { payload }: PayloadAction<Following>) => ({ ...selection, following: payload }),
    cleared: () => none,
  },
  // Strips of one desk are none of another's, although they are numbered alike.
  extraReducers: (when) => when.addCase(followed, () => none),
});

export const { toggled, selectedUpTo, chosen, followingChosen, cleared } = selectionSlice.actions;
