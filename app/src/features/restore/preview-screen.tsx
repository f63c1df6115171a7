import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useMemo } from 'react';

import { EVERYTHING, scopeShape, type Scope } from '@old-echo/core/scope/rules';

import { useRestoreQuery, useSceneQuery } from '../../store/api';
import { Waiting } from '../../ui/waiting';
import { useKeys } from '../shell/use-keys';
import { PreviewPane } from './preview-pane';

/** The preview of a restore, for a scope in the address, for a way back, or for what is saved with the scene. */
export function PreviewScreen() {
  const {
    scene: sceneId,
    scope: asked,
    wayBackOf,
  } = useLocalSearchParams<{ scene: string; scope?: string; wayBackOf?: string }>();
  const router = useRouter();
  const scene = useSceneQuery(sceneId).data;
  const restore = useRestoreQuery(wayBackOf ?? skipToken).data;
  const scope = useMemo((): Scope | undefined => {
    if (wayBackOf) return restore?.wayBack.scope;
    return readScope(asked) ?? (scene && (scene.scope ?? EVERYTHING));
  }, [wayBackOf, restore, asked, scene]);
  const back = () => (router.canGoBack() ? router.back() : router.navigate(`/restore/${sceneId}`));
  useKeys({ Escape: back });
  return scope ? (
    <PreviewPane sceneId={sceneId} scope={scope} onBack={back} />
  ) : (
    <Waiting what="Working out the preview" />
  );
}

function readScope(text: string | undefined): Scope | undefined {
  try {
    return text ? scopeShape.validateSync(JSON.parse(text)) : undefined;
  } catch {
    return undefined;
  }
}
