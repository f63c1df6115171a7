import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import type { State } from '@old-echo/core/desk/state';

import { followed } from './live-slice';

interface LastSwitch {
  /** The restore that switched, or null where none did while this page was open. */
  readonly restoreId: string | null;
  /** What one would have heard change. */
  readonly line: string;
  /** The strips that it moved as they were before, for as long as they show it. */
  readonly before: State;
}

const none: LastSwitch = { restoreId: null, line: '', before: {} };

/** What the last restore of the followed desk changed, told and shown for a moment. */
export const lastSwitchSlice = createSlice({
  name: 'lastSwitch',
  initialState: none,
  reducers: {
    switched: (_, { payload }: PayloadAction<LastSwitch>) => payload,
    echoOver: (last) => ({ ...last, before: {} }),
  },
  extraReducers: (when) => when.addCase(followed, () => none),
});

export const { switched, echoOver } = lastSwitchSlice.actions;
