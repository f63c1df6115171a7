import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import type { SceneFilter } from '@old-echo/core/contracts/scene';

interface Mixes {
  readonly production: string | null;
  /** Whether the search and its filters are open. */
  readonly searching: boolean;
  readonly filter: SceneFilter;
  /** Folds that are open, by key. */
  readonly unfolded: readonly string[];
}

const closed = { searching: false, filter: {}, unfolded: [] };
const nothing: Mixes = { production: null, ...closed };

/** Which scenes of a production are looked at. Another production begins anew. */
export const mixesSlice = createSlice({
  name: 'mixes',
  initialState: nothing,
  reducers: {
    lookedAt: (mixes, { payload }: PayloadAction<string>): Mixes =>
      mixes.production === payload ? mixes : { production: payload, ...closed },
    filtered: (mixes, { payload }: PayloadAction<SceneFilter>): Mixes => ({
      ...mixes,
      filter: { ...mixes.filter, ...payload },
    }),
    searchToggled: (mixes): Mixes => ({
      ...mixes,
      searching: !mixes.searching,
      filter: mixes.filter.versionId === undefined ? {} : { versionId: mixes.filter.versionId },
    }),
    foldToggled: (mixes, { payload }: PayloadAction<string>): Mixes => ({
      ...mixes,
      unfolded: mixes.unfolded.includes(payload)
        ? mixes.unfolded.filter((key) => key !== payload)
        : [...mixes.unfolded, payload],
    }),
  },
});

export const { lookedAt, filtered, searchToggled, foldToggled } = mixesSlice.actions;

/** Whether anything but the version narrows the list. */
export const isNarrowed = ({ search, milestone, tag, strip, from }: SceneFilter): boolean =>
  [search?.trim(), milestone, tag, strip, from].some(Boolean);
