import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { RestoreView } from '@old-echo/core/contracts/restore';
import { type State, withSettings } from '@old-echo/core/desk/state';

interface LiveState {
  /** The desk that is being followed. */
  readonly deskId: string | null;
  /** Whether the server is heard. */
  readonly heard: boolean;
  readonly desk: DeskView | null;
  /** Everything on the desk, as last heard. */
  readonly state: State | null;
  /** The restore that is at work or ended last. */
  readonly restore: RestoreView | null;
}

const nothing: LiveState = { deskId: null, heard: false, desk: null, state: null, restore: null };

/** What comes over the live channel. Strips that did not move keep their identity, so only the others are drawn anew. */
export const liveSlice = createSlice({
  name: 'live',
  initialState: nothing,
  reducers: {
    followed: (_, { payload }: PayloadAction<string>): LiveState => ({ ...nothing, deskId: payload }),
    lost: (live): LiveState => ({ ...live, heard: false }),
    told: (live, { payload }: PayloadAction<LiveMessage>): LiveState => {
      switch (payload.type) {
        case 'desk':
          return { ...live, heard: true, desk: payload.desk };
        case 'full-state':
          return { ...live, state: payload.state };
        case 'settings-changed':
          return { ...live, state: live.state && withSettings(live.state, payload.settings) };
        case 'restore':
          return { ...live, restore: payload.restore };
        case 'scenes-changed':
        case 'productions-changed':
          return live;
      }
    },
  },
});

export const { followed, lost, told } = liveSlice.actions;
