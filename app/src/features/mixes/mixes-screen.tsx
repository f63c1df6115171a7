import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect } from 'react';

import { useProductionsQuery } from '../../store/api';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Empty, Split } from '../../ui/page';
import { Waiting } from '../../ui/waiting';
import { wentToProduction } from '../shell/place-slice';
import { useKeys, useRowKeys } from '../shell/use-keys';
import { History } from './history';
import { ScenePage } from './scene-page';

/**
 * Mixes: a production with its versions and scenes; a scene's page beside or over them. An address that names none means
 * the production of the last visit, or the first one of the desk.
 */
export function MixesScreen() {
  const { production: named, scene } = useLocalSearchParams<{ production?: string; scene?: string }>();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { data: productions } = useProductionsQuery();
  const { productionId: last, deskId: lastDesk } = useAppSelector((root) => root.place);
  const production = named
    ? productions?.find((p) => p.id === named)
    : (productions?.find((p) => p.id === last && p.deskId === lastDesk) ??
      productions?.find((p) => p.deskId === lastDesk) ??
      productions?.[0]);
  const { id, deskId } = production ?? {};
  useEffect(() => {
    if (id && deskId) dispatch(wentToProduction({ id, deskId }));
  }, [id, deskId, dispatch]);
  useRowKeys('scene-');
  const toList = () => router.navigate(id ? `/mixes/${id}` : '/mixes');
  useKeys({ Escape: toList });
  if (!productions) return <Waiting what="Opening the mixes" />;
  if (!production)
    return named ? (
      <Empty title="There is no such production">Choose Mixes to see the ones there are.</Empty>
    ) : (
      <Empty title="No productions yet">A production holds the scenes of one song or one show.</Empty>
    );
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
