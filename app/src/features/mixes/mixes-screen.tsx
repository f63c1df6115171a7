import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect } from 'react';

import { useProductionsQuery } from '../../store/api';
import { useAppDispatch } from '../../store/store';
import { Empty, Split } from '../../ui/page';
import { Waiting } from '../../ui/waiting';
import { wentToProduction } from '../shell/place-slice';
import { useKeys, useRowKeys } from '../shell/use-keys';
import { History } from './history';
import { ScenePage } from './scene-page';

/** Mixes: a production with its versions and scenes; a scene's page beside or over them. */
export function MixesScreen() {
  const { production: id, scene } = useLocalSearchParams<{ production: string; scene?: string }>();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { data: productions } = useProductionsQuery();
  const production = productions?.find((p) => p.id === id);
  const deskId = production?.deskId;
  useEffect(() => {
    if (deskId) dispatch(wentToProduction({ id, deskId }));
  }, [id, deskId, dispatch]);
  useRowKeys('scene-');
  const toList = () => router.navigate(`/mixes/${id}`);
  useKeys({ Escape: toList });
  if (!productions) return <Waiting what="Opening the mixes" />;
  if (!production) return <Empty title="There is no such production">Choose Mixes to see the ones there are.</Empty>;
  return (
    <Split
      showDetail={scene !== undefined}
      list={<History production={production} chosen={scene} />}
      detail={
        scene === undefined ? (
          <Empty title="No scene chosen">Choose a scene to see what changed in it, and to bring it back.</Empty>
        ) : (
          <ScenePage key={scene} sceneId={scene} onBack={toList} />
        )
      }
    />
  );
}
