import { useRouter } from 'expo-router';
import { useCallback, useEffect, useRef } from 'react';

import { selectedUpTo, toggled } from '../store/selection-slice';
import { useAppDispatch, useAppStore } from '../store/store';
import { type Modifiers, NO_MODIFIERS } from '../ui/modifiers';

/**
 * Opens a strip. While some are selected a touch selects; with a keyboard beside it, Ctrl adds one and Shift all up to it.
 * @param strips in the order in which they are shown
 */
export function useOpenStrip(deskId: string, strips: readonly string[]): (strip: string, held?: Modifiers) => void {
  const router = useRouter();
  const store = useAppStore();
  const dispatch = useAppDispatch();
  const shown = useRef(strips);
  useEffect(() => {
    shown.current = strips;
  });
  return useCallback(
    (strip, { shift, ctrl } = NO_MODIFIERS) => {
      if (shift) dispatch(selectedUpTo({ strip, shown: shown.current }));
      else if (ctrl || store.getState().selection.strips.length > 0) dispatch(toggled(strip));
      else router.navigate(`/desk/${deskId}/strip/${strip}`);
    },
    [router, deskId, store, dispatch],
  );
}
