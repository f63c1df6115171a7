import { useState } from 'react';

import { draftDone, drafted } from './draft-slice';
import { useAppDispatch, useAppSelector } from './store';

interface Draft<T> {
  readonly values: T;
  readonly set: (change: Partial<T>) => void;
  /** Once it was sent, or is not wanted any more: the form is as it began. */
  readonly forget: () => void;
  /** Whether the form was opened with what had been typed before. */
  readonly wasKept: boolean;
}

/**
 * What is typed into a form, which survives that one leaves it and comes back, and that the page is opened anew.
 * @param form what is written about, so that each has a draft of its own
 * @param initial what the form begins with; later changes of it do not change what is typed
 */
export function useDraft<T extends object>(form: string, initial: T): Draft<T> {
  const dispatch = useAppDispatch();
  // Only this form writes under its name.
  const kept = useAppSelector((root) => root.drafts[form]) as Partial<T> | undefined;
  const [first] = useState(initial);
  const [wasKept, setWasKept] = useState(kept !== undefined);
  return {
    // One that was kept across a new version of the page may lack a field.
    values: { ...first, ...kept },
    set: (change) => dispatch(drafted({ form, initial: first, change })),
    forget: () => {
      setWasKept(false);
      dispatch(draftDone(form));
    },
    wasKept,
  };
}
