import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** What was typed of a capture that was not made yet. */
export interface CaptureDraft {
  /** Null while the suggested name stands. */
  readonly name: string | null;
  readonly note: string;
  readonly tags: string;
  readonly isMilestone: boolean;
  readonly milestone: string;
}

export const NO_DRAFT: CaptureDraft = { name: null, note: '', tags: '', isMilestone: false, milestone: '' };

type Drafts = Readonly<Record<string, CaptureDraft>>;
const NONE: Drafts = {};

/** Captures that were begun and left, by desk: what was typed is there when one comes back. */
export const draftSlice = createSlice({
  name: 'drafts',
  initialState: NONE,
  reducers: {
    drafted: (drafts, { payload }: PayloadAction<{ deskId: string; draft: Partial<CaptureDraft> }>): Drafts => ({
      ...drafts,
      [payload.deskId]: { ...NO_DRAFT, ...drafts[payload.deskId], ...payload.draft },
    }),
    draftDone: (drafts, { payload }: PayloadAction<string>): Drafts =>
      Object.fromEntries(Object.entries(drafts).filter(([deskId]) => deskId !== payload)),
  },
});

export const { drafted, draftDone } = draftSlice.actions;
