import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** A short word at the foot of the screen about what was just done, or was not. */
export const noticeSlice = createSlice({
  name: 'notice',
  initialState: { text: '', count: 0 },
  reducers: {
    noticed: (notice, { payload }: PayloadAction<string>) => ({ text: payload, count: notice.count + 1 }),
    dismissed: (notice) => ({ ...notice, text: '' }),
  },
});

export const { noticed, dismissed } = noticeSlice.actions;
