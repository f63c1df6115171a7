import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import type { UndoRequest } from './api';

interface Notice {
  readonly text: string;
  readonly undo?: UndoRequest | undefined;
}

const nothing: Notice & { count: number } = { text: '', count: 0 };

/** A short word at the foot of the screen about what was just done, or was not; with a way to take it back. */
export const noticeSlice = createSlice({
  name: 'notice',
  initialState: nothing,
  reducers: {
    noticed: {
      prepare: (text: string, undo?: UndoRequest) => ({ payload: { text, undo } }),
      reducer: (notice, { payload }: PayloadAction<Notice>) => ({ ...payload, count: notice.count + 1 }),
    },
    dismissed: (notice) => ({ text: '', count: notice.count }),
  },
});

export const { noticed, dismissed } = noticeSlice.actions;
