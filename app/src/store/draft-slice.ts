import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import { readMemory } from './browser-memory';

/** By form: "capture/ID of a desk", "scene/ID". */
export type Drafts = Readonly<Record<string, object>>;
export const DRAFTS_KEY = 'old-echo.drafts';

/** What this tab held before the page was opened anew. */
const loadDrafts = () => ({ ...(readMemory('tab', DRAFTS_KEY) as Drafts | undefined) });

/** What was typed into forms that were left before it was sent: it is there when one comes back. */
export const draftSlice = createSlice({
  name: 'drafts',
  initialState: loadDrafts,
  reducers: {
    /** `initial` is what the form began with. */
    drafted: (drafts, { payload }: PayloadAction<{ form: string; initial: object; change: object }>): Drafts => ({
      ...drafts,
      [payload.form]: { ...(drafts[payload.form] ?? payload.initial), ...payload.change },
    }),
    draftDone: (drafts, { payload }: PayloadAction<string>): Drafts =>
      Object.fromEntries(Object.entries(drafts).filter(([form]) => form !== payload)),
  },
});

export const { drafted, draftDone } = draftSlice.actions;
