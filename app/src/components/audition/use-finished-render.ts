import type { RenderRequest, RenderView } from '@old-echo/core/contracts/sound';

import { soundApi, useCancelRenderMutation, useStartRenderMutation } from '../../store/sound-api';
import { useAppDispatch } from '../../store/store';

/** Has mixes worked out to their end, also several at once, or cancels one that nobody wants any more. Rejects where one is refused. */
export function useFinishedRender(): (request: RenderRequest, isWanted: () => boolean) => Promise<RenderView> {
  const [begin] = useStartRenderMutation();
  const dispatch = useAppDispatch();
  const [stop] = useCancelRenderMutation();
  return async (request, isWanted) => {
    let view = await begin(request).unwrap();
    while (view.status === 'running') {
      if (!isWanted()) await stop(view.id);
      // The server answers after a moment, or as soon as it is done.
      const look = dispatch(soundApi.endpoints.render.initiate(view.id, { forceRefetch: true }));
      view = await look.unwrap().finally(() => look.unsubscribe());
    }
    return view;
  };
}
