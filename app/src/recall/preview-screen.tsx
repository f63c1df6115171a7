import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useMemo } from 'react';

import { putBackRecall, type Recall, resumeRecall, sceneRecall, stagedRecall } from '@old-echo/core/contracts/restore';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { previewHref, readRecall } from '../components/links/recall-link';
import { LoadError, Loading } from '../components/loading';
import { toApiFault } from '../store/api';
import { deskHref } from '../store/desk-address';
import { useRestoreQuery, useStagedSettingsQuery } from '../store/recall-api';
import { useSceneQuery } from '../store/scenes-api';
import { useShortcuts } from '../ui/use-shortcuts';
import { OfAnotherDesk, useStranger } from './of-another-desk';
import { PreviewPane } from './preview-pane';

/** The preview of a restore: of the recall in the address, of a way back, or of what is saved with the scene. */
export function PreviewScreen() {
  const {
    desk: deskId,
    scene: sceneId,
    recall: asked,
    wayBackOf,
  } = useLocalSearchParams<{ desk: string; scene: string; recall?: string; wayBackOf?: string }>();
  const router = useRouter();
  const { data: scene } = useSceneQuery(sceneId);
  const restore = useRestoreQuery(wayBackOf ?? skipToken).data;
  const stranger = useStranger(deskId, scene?.productionId);
  const recall = useMemo((): Recall | undefined => {
    if (wayBackOf) return restore?.wayBack ? sceneRecall(deskId, sceneId, restore.wayBack.scope) : undefined;
    const saved = scene && sceneRecall(deskId, sceneId, scene.scope ?? ALL_EXCEPT_GLOBALS);
    return readRecall({ deskId, sceneId }, asked) ?? saved;
  }, [deskId, wayBackOf, restore, asked, scene, sceneId]);
  const back = () => (router.canGoBack() ? router.back() : router.navigate(deskHref(deskId, `restore/${sceneId}`)));
  if (stranger) return <OfAnotherDesk {...stranger} />;
  return <Preview recall={recall} onBack={back} />;
}

/** The preview of settings that were put together for a desk: a preset, a strip set, a change of several strips. */
export function StagedSettingsScreen() {
  const {
    desk: deskId,
    stagedSettings: stagedSettingsId,
    recall: asked,
  } = useLocalSearchParams<{ desk: string; stagedSettings: string; recall?: string }>();
  const router = useRouter();
  const { data: stagedSettings, error, refetch } = useStagedSettingsQuery(stagedSettingsId);
  const recall = useMemo(
    () => readRecall({ deskId, stagedSettingsId }, asked) ?? stagedRecall(deskId, stagedSettingsId),
    [deskId, stagedSettingsId, asked],
  );
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/library'));
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  if (stagedSettings && stagedSettings.deskId !== deskId)
    return (
      <OfAnotherDesk
        here={deskId}
        there={stagedSettings.deskId}
        to={previewHref({ ...recall, deskId: stagedSettings.deskId })}
      />
    );
  return <Preview recall={stagedSettings && recall} onBack={back} />;
}

/** What has drifted, or a part of it, on its way back to what the desk is meant to hold. */
export function PutBackScreen() {
  const { desk: deskId, recall: asked } = useLocalSearchParams<{ desk: string; recall?: string }>();
  const router = useRouter();
  const recall = useMemo(
    () => readRecall({ deskId, baseline: true }, asked) ?? putBackRecall(deskId, ALL_EXCEPT_GLOBALS),
    [deskId, asked],
  );
  return (
    <Preview recall={recall} onBack={() => (router.canGoBack() ? router.back() : router.navigate(deskHref(deskId)))} />
  );
}

/** What is left to be done of a restore that did not end: to finish it, or to roll it back. */
export function ResumeScreen() {
  const {
    desk: deskId,
    restore: restoreId,
    how,
  } = useLocalSearchParams<{ desk: string; restore: string; how?: string }>();
  const router = useRouter();
  const recall = useMemo((): Recall => {
    return resumeRecall(deskId, restoreId, how === 'finish' ? 'finish' : 'roll back');
  }, [deskId, restoreId, how]);
  return <Preview recall={recall} onBack={() => router.navigate(deskHref(deskId, `restores/${restoreId}`))} />;
}

function Preview({ recall, onBack }: { readonly recall: Recall | undefined; readonly onBack: () => void }) {
  useShortcuts({ Escape: onBack });
  return recall ? <PreviewPane recall={recall} onBack={onBack} /> : <Loading what="Loading the preview" />;
}
