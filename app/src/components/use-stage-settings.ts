import { useRouter } from 'expo-router';

import type { NewStagedSettings } from '@old-echo/core/contracts/preset';
import { stagedRecall } from '@old-echo/core/contracts/restore';

import { useStageSettingsMutation } from '../store/recall-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { previewHref } from './links/recall-link';

type Put = Pick<NewStagedSettings, 'deskId' | 'title' | 'settings'> & Partial<NewStagedSettings>;

/** Puts settings together for a desk and leads to their preview; nothing is sent before that. */
export function useStageSettings(): { readonly put: (stagedSettings: Put) => void; readonly busy: boolean } {
  const router = useRouter();
  const done = useRunAndNotify();
  const [make, { isLoading }] = useStageSettingsMutation();
  return {
    put: (stagedSettings) =>
      void done(make({ appliedPresets: [], gainFromOtherSource: false, ...stagedSettings }), () => '').then(
        (made) => made && router.navigate(previewHref(stagedRecall(made.deskId, made.id))),
      ),
    busy: isLoading,
  };
}
