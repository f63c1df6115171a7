import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import type { SettingsByAddress } from '@old-echo/core/desk/state';

/** A move by hand that waits to be held for: it can hurt. */
export interface HeldMove {
  readonly desk: string;
  readonly settings: SettingsByAddress;
  /** What the screen goes back to when it is given up: as far as it was sent. */
  readonly back: SettingsByAddress;
  readonly cautions: readonly { readonly id: string; readonly title: string; readonly detail: string }[];
}

export const heldMoveSlice = createSlice({
  name: 'heldMove',
  initialState: null as HeldMove | null,
  reducers: {
    held: (_, { payload }: PayloadAction<HeldMove>) => payload,
    heldMoveEnded: () => null,
  },
});

export const { held, heldMoveEnded } = heldMoveSlice.actions;
