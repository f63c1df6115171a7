import { useEffect, useState } from 'react';

import type { RenderRequest, RenderView } from '@old-echo/core/contracts/sound';

import { type ApiFault, toApiFault } from '../../store/api';
import { useCancelRenderMutation, useLazyRenderQuery, useStartRenderMutation } from '../../store/sound-api';

export interface Mix {
  readonly view: RenderView | undefined;
  readonly fault: ApiFault | undefined;
  readonly cancel: () => void;
}

/** Time until a look at how far a mix is, that failed, is tried again, in ms. */
const AGAIN = 1000;

/** Has a mix worked out, and follows it until it is done; undefined asks for none. Another request is another mix. */
export function useRender(request: (RenderRequest & { readonly again?: number }) | undefined): Mix {
  const [begin] = useStartRenderMutation();
  const [look] = useLazyRenderQuery();
  const [stop] = useCancelRenderMutation();
  const [view, setView] = useState<RenderView>();
  const [fault, setFault] = useState<ApiFault>();
  const asked = JSON.stringify(request);
  useEffect(() => {
    let [here, timer]: [boolean, ReturnType<typeof setTimeout> | undefined] = [true, undefined];
    if (asked) {
      // Only tells one asking from the next.
      const { again: _, ...wanted } = JSON.parse(asked) as RenderRequest & { again?: number };
      const follow = (next: RenderView) => {
        if (!here) return;
        setView(next);
        if (next.status !== 'running') return;
        // The server answers after a moment, or as soon as it is done.
        void look(next.id)
          .unwrap()
          .then(follow, () => (timer = setTimeout(() => follow(next), AGAIN)));
      };
      void begin(wanted)
        .unwrap()
        .then(
          (first) => {
            setFault(undefined);
            follow(first);
          },
          (error: unknown) => {
            if (here) setFault(toApiFault(error));
          },
        );
    }
    return () => {
      here = false;
      clearTimeout(timer);
      setView(undefined);
      setFault(undefined);
    };
  }, [asked, begin, look]);
  return { view, fault, cancel: () => void (view && stop(view.id)) };
}
