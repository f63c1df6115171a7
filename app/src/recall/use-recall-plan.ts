import { skipToken } from '@reduxjs/toolkit/query';
import { useDeferredValue, useMemo } from 'react';

import { type Recall, restoredName } from '@old-echo/core/contracts/restore';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { type State, withSettings } from '@old-echo/core/desk/state';
import type { Preview } from '@old-echo/core/recall/planned-changes';
import { preview } from '@old-echo/core/recall/preview';
import {
  askedBy,
  choosable,
  hasGainFromOtherSource,
  journalEndState,
  recallTarget,
} from '@old-echo/core/recall/recall-target';

import { useJournalQuery, useRestoreQuery, useStagedSettingsQuery } from '../store/recall-api';
import { useSceneQuery, useSceneStateQuery } from '../store/scenes-api';
import { type LiveDesk, useBaseline, useLiveDesk } from '../store/use-live-desk';

export interface Plan {
  readonly now: LiveDesk;
  /** What comes back, by name: "14 Static balance". */
  readonly name: string;
  /** The desk as the restore would leave it. */
  readonly after: State;
  readonly preview: Preview;
  /** Whether it is worked out from what is known at this moment: it follows a moment later. */
  readonly upToDate: boolean;
}

type Worked = Pick<Plan, 'after' | 'preview'> | undefined;

/** What was worked out last for a recall, and from what: side by side, scope and preview ask for the same. */
const last = new WeakMap<Recall, { readonly from: readonly unknown[]; readonly plan: Worked }>();

function cachedPlan(recall: Recall, from: readonly unknown[], work: () => Worked): Worked {
  const known = last.get(recall);
  if (known && from.every((part, i) => part === known.from[i])) return known.plan;
  const plan = work();
  last.set(recall, { from, plan });
  return plan;
}

/**
 * What a recall would do to the desk as it is. Worked out here from the live values, so it follows both the scope and the
 * desk at once; the server works it out again before anything is sent.
 */
export function usePlan(recall: Recall | undefined): Plan | undefined {
  const now = useLiveDesk(recall?.deskId);
  const sceneId = recall?.sceneId ?? skipToken;
  const view = useSceneQuery(sceneId).data;
  const scene = useSceneStateQuery(sceneId).data;
  const base = useSceneStateQuery(recall?.relativeTo ?? skipToken).data;
  const stagedSettings = useStagedSettingsQuery(recall?.stagedSettingsId ?? skipToken).data;
  const resumed = recall?.resume?.restoreId ?? skipToken;
  const restore = useRestoreQuery(resumed).data;
  const journal = useJournalQuery(resumed).data;
  const held = useBaseline();
  const baseline = recall?.baseline ? held : undefined;
  const state = useDeferredValue(now?.state);
  const { profile, desk } = now ?? {};
  const { safes, mode, thresholds } = desk ?? {};
  const plan = useMemo(() => {
    if (!profile || !state || !recall || !safes || !mode || !thresholds) return undefined;
    return cachedPlan(
      recall,
      [profile, state, safes, mode, thresholds, scene, base, stagedSettings, journal, baseline],
      () => {
        const sources = { scene, base, stagedSettings, journal, baseline };
        const target = recallTarget(profile, state, recall, sources);
        if (!target) return undefined;
        const { scope, muteFirst } = recall;
        const elsewhere = hasGainFromOtherSource(recall, sources);
        const among = choosable(recall, state, target, sources);
        const asked = askedBy(recall, target, sources);
        const what = { profile, now: state, target, among, asked, scope, muteFirst, elsewhere, scene: scene ?? target };
        const made = preview({ ...what, safes, mode, thresholds });
        return {
          after: withSettings(state, journalEndState({ changes: made.changes, guarded: [] }, 'finish')),
          preview: made,
        };
      },
    );
  }, [profile, safes, mode, thresholds, state, recall, scene, base, stagedSettings, journal, baseline]);
  const name = view
    ? view.kind === 'scene'
      ? sceneTitle(view)
      : view.name
    : recall?.baseline
      ? desk?.baseline?.line
      : (stagedSettings?.title ?? (restore && restoredName(restore)));
  return now && plan && name !== undefined ? { now, name, ...plan, upToDate: state === now.state } : undefined;
}
