import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import { followed } from './live-slice';

const none: readonly string[] = [];

/** Strips picked out on the desk's list, to do something with them together. */
export const selectionSlice = createSlice({
  name: 'selection',
  initialState: none,
  reducers: {
    toggled: (strips, { payload }: PayloadAction<string>) =>
      strips.includes(payload) ? strips.filter((strip) => strip !== payload) : [...strips, payload],
    chosen: (_, { payload }: PayloadAction<readonly string[]>) => payload,
    cleared: () => none,
  },
  // Strips of one desk are none of another's, although they are numbered alike.
  extraReducers: (when) => when.addCase(followed, () => none),
});

export const { toggled, chosen, cleared } = selectionSlice.actions;
