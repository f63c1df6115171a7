import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect, useMemo } from 'react';

import { placementRecall, recallOf, resumeOf, type Recall } from '@old-echo/core/contracts/restore';
import { EVERYTHING } from '@old-echo/core/scope/rules';

import { faultOf, usePlacementQuery, useRestoreQuery, useSceneQuery } from '../../store/api';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Failed, Waiting } from '../../ui/waiting';
import { wentToDesk } from '../shell/place-slice';
import { useKeys } from '../shell/use-keys';
import { PreviewPane } from './preview-pane';
import { readRecall } from './recall-link';

/** The preview of a restore: of the recall in the address, of a way back, or of what is saved with the scene. */
export function PreviewScreen() {
  const {
    scene: sceneId,
    recall: asked,
    wayBackOf,
  } = useLocalSearchParams<{ scene: string; recall?: string; wayBackOf?: string }>();
  const router = useRouter();
  const scene = useSceneQuery(sceneId).data;
  const restore = useRestoreQuery(wayBackOf ?? skipToken).data;
  const recall = useMemo((): Recall | undefined => {
    if (wayBackOf) return restore?.wayBack ? recallOf(sceneId, restore.wayBack.scope) : undefined;
    return readRecall({ sceneId }, asked) ?? (scene && recallOf(sceneId, scene.scope ?? EVERYTHING));
  }, [wayBackOf, restore, asked, scene, sceneId]);
  const back = () => (router.canGoBack() ? router.back() : router.navigate(`/restore/${sceneId}`));
  return <Preview recall={recall} onBack={back} />;
}

/** The preview of settings that were put together for a desk: a preset, a kit, a change of several strips. */
export function PlacementScreen() {
  const { placement: placementId, recall: asked } = useLocalSearchParams<{ placement: string; recall?: string }>();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { data: placement, error, refetch } = usePlacementQuery(placementId);
  const followed = useAppSelector((root) => root.place.deskId);
  const desk = placement?.deskId;
  useEffect(() => {
    if (desk && desk !== followed) dispatch(wentToDesk(desk));
  }, [desk, followed, dispatch]);
  const recall = useMemo(
    () => readRecall({ placementId }, asked) ?? placementRecall(placementId),
    [placementId, asked],
  );
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/library'));
  if (error) return <Failed fault={faultOf(error)} onAgain={() => void refetch()} />;
  return <Preview recall={desk === followed ? recall : undefined} onBack={back} />;
}

/** What is left to be done of a restore that did not end: to finish it, or to roll it back. */
export function ResumeScreen() {
  const { restore: restoreId, how } = useLocalSearchParams<{ restore: string; how?: string }>();
  const router = useRouter();
  const recall = useMemo((): Recall => {
    return resumeOf(restoreId, how === 'finish' ? 'finish' : 'roll back');
  }, [restoreId, how]);
  return <Preview recall={recall} onBack={() => router.navigate(`/restores/${restoreId}`)} />;
}

function Preview({ recall, onBack }: { readonly recall: Recall | undefined; readonly onBack: () => void }) {
  useKeys({ Escape: onBack });
  return recall ? <PreviewPane recall={recall} onBack={onBack} /> : <Waiting what="Working out the preview" />;
}
