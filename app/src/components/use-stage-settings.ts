import { useRef } from 'react';

import type { NewStagedSettings } from '@old-echo/core/contracts/preset';
import { stagedRecall } from '@old-echo/core/contracts/restore';

import { useStageSettingsMutation } from '../store/recall-api';
import { useAppSelector } from '../store/store';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { type AtOnce, restoresAtOnce, useTouchRecall } from './restore-at-once';

type Put = Pick<NewStagedSettings, 'deskId' | 'title' | 'settings'> & Partial<NewStagedSettings>;

interface StageSettings {
  /** Leads to their preview, or applies them at once and goes `back`; only once they were stored, and of several only the last. */
  readonly put: (stagedSettings: Put, back?: () => void, more?: Pick<AtOnce, 'tell' | 'onStopped'>) => void;
  readonly busy: boolean;
  /** Whether they are applied at once, so that a button can say so. */
  readonly isAtOnce: boolean;
}

/** Puts settings together for a desk: in the studio they are applied at a touch, at a show over their preview. */
export function useStageSettings(): StageSettings {
  const desk = useAppSelector((root) => root.live.desk) ?? undefined;
  const done = useRunAndNotify();
  const touch = useTouchRecall(desk);
  const [make, { isLoading }] = useStageSettingsMutation();
  const latest = useRef<Put | null>(null);
  return {
    put: (stagedSettings, back, more) => {
      latest.current = stagedSettings;
      void done(make({ appliedPresets: [], gainFromOtherSource: false, ...stagedSettings }), () => '').then((made) => {
        if (!made || latest.current !== stagedSettings) return;
        if (touch(stagedRecall(made.deskId, made.id), { said: () => stagedSettings.title, ...more })) back?.();
      });
    },
    busy: isLoading,
    isAtOnce: restoresAtOnce(desk),
  };
}
