import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector, useStore } from 'react-redux';

import { api } from './api';
import { draftSlice } from './draft-slice';
import { heldMoveSlice } from './held-move-slice';
import { heldScopeSlice } from './held-scope-slice';
import { lastSwitchSlice } from './last-switch-slice';
import { liveSlice } from './live-slice';
import { noticeSlice } from './notice-slice';
import { preferencesSlice } from './preferences-slice';
import { rememberMiddleware } from './remember';
import { mixesSlice } from './scene-list-slice';
import { selectionSlice } from './selection-slice';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    [liveSlice.name]: liveSlice.reducer,
    [preferencesSlice.name]: preferencesSlice.reducer,
    [mixesSlice.name]: mixesSlice.reducer,
    [selectionSlice.name]: selectionSlice.reducer,
    [noticeSlice.name]: noticeSlice.reducer,
    [draftSlice.name]: draftSlice.reducer,
    [heldMoveSlice.name]: heldMoveSlice.reducer,
    [heldScopeSlice.name]: heldScopeSlice.reducer,
    [lastSwitchSlice.name]: lastSwitchSlice.reducer,
  },
  // States of ten thousand settings are walked by these checks on every action; the types guard against both mistakes.
  middleware: (standard) =>
    standard({ serializableCheck: false, immutableCheck: false }).prepend(rememberMiddleware).concat(api.middleware),
});

export type RootState = ReturnType<typeof store.getState>;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
export const useAppStore = useStore.withTypes<typeof store>();
