import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage, Present } from '@old-echo/core/contracts/live';
import type { RestoreView } from '@old-echo/core/contracts/restore';
import { type State, withSettings } from '@old-echo/core/desk/state';

import type { LastSeen } from './last-seen';

interface LiveState {
  /** The desk that is being followed. */
  readonly deskId: string | null;
  /** Whether the server is heard. */
  readonly heard: boolean;
  /** Whether it was found not to answer, rather than not yet asked. */
  readonly isLost: boolean;
  readonly desk: DeskView | null;
  /** Everything on the desk, as last heard. */
  readonly state: State | null;
  /** The restore that is at work or ended last. */
  readonly restore: RestoreView | null;
  /** Who else is here, on other devices. */
  readonly others: readonly Present[];
}

const nothing: LiveState = {
  ...{ deskId: null, heard: false, isLost: false, desk: null, state: null, restore: null, others: [] },
};

/** What comes over the live channel. Strips that did not move keep their identity, so only the others are drawn anew. */
export const liveSlice = createSlice({
  name: 'live',
  initialState: nothing,
  reducers: {
    followed: (_, { payload }: PayloadAction<string>): LiveState => ({ ...nothing, deskId: payload }),
    lost: (live): LiveState => ({ ...live, heard: false, isLost: true, others: [] }),
    /** What this browser saw before takes the place of nothing, and of nothing else. */
    seenBefore: (live, { payload: { desk, state } }: PayloadAction<LastSeen>): LiveState =>
      live.deskId === desk.id && live.desk === null ? { ...live, desk, state } : live,
    told: (live, { payload }: PayloadAction<LiveMessage>): LiveState => {
      switch (payload.type) {
        case 'desk':
          return { ...live, heard: true, isLost: false, desk: payload.desk };
        case 'full-state':
          return { ...live, state: payload.state };
        case 'settings-changed':
          return { ...live, state: live.state && withSettings(live.state, payload.settings) };
        case 'restore':
          return { ...live, restore: payload.restore };
        case 'people':
          return { ...live, others: payload.others };
        case 'scenes-changed':
        case 'productions-changed':
        case 'models-changed':
          return live;
      }
    },
  },
});

export const { followed, lost, seenBefore, told } = liveSlice.actions;
