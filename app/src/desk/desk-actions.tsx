import { useRouter } from 'expo-router';

import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { CAPTURE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { manualStrips } from '@old-echo/core/desk/manual';

import { useSwap } from '../components/use-swap';
import { useWayBack } from '../components/use-way-back';
import { deskHref } from '../store/desk-address';
import { type LiveDesk, whyNotLinked } from '../store/use-live-desk';
import { Action } from '../ui/buttons';
import { useIsLow } from '../ui/layout';
import { useShortcuts } from '../ui/use-shortcuts';

/** What is done to a desk as a whole, and its keys: capture, swap, the way back, the log. */
export function DeskActions({ now }: { readonly now: LiveDesk }) {
  const { desk, linked } = now;
  const router = useRouter();
  const low = useIsLow();
  const byEye = manualStrips(now.profile).length > 0;
  const swap = useSwap(desk);
  const wayBack = useWayBack();
  useShortcuts({
    f: () => linked && swap(),
    g: () => router.navigate(deskHref(desk.id, 'log')),
    w: wayBack,
  });
  return (
    <>
      <Action
        asks={CAPTURE_ROUTES.captureScene}
        kind="main"
        grow={!low}
        title={low ? 'Capture' : byEye ? 'Capture by eye' : 'Capture scene'}
        disabled={whyNotLinked(now)}
        onPress={() => router.navigate(deskHref(desk.id, byEye ? 'by-eye' : 'capture'))}
      />
      <Action asks={DESK_RECALL_ROUTES.swap} title="Swap" disabled={whyNotLinked(now)} onPress={() => swap()} />
      <Action asks={DESK_RECALL_ROUTES.startRestore} title="Way back" disabled={whyNotLinked(now)} onPress={wayBack} />
    </>
  );
}
