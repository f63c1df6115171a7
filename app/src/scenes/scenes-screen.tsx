import { useLocalSearchParams, useRouter } from 'expo-router';

import type { ProductionView } from '@old-echo/core/contracts/production';

import { Loading } from '../components/loading';
import { useProduction } from '../components/use-production';
import { useAppSelector } from '../store/store';
import { MainAction } from '../ui/buttons';
import { Empty, Split } from '../ui/layout';
import { useRowNavigation, useShortcuts } from '../ui/use-shortcuts';
import { History } from './scene-list';
import { ScenePage } from './scene-page';
import { useSceneList } from './use-scene-list';

/** Mixes: a production with its versions and scenes; a scene's page beside or over them. */
export function MixesScreen() {
  const { production, loaded } = useProduction();
  const { production: named } = useLocalSearchParams<{ production?: string }>();
  const shown = useAppSelector((root) => root.mixes.production);
  if (!loaded || (production && shown !== production.id)) return <Loading what="Loading the mixes" />;
  return production ? (
    <Mixes key={production.id} production={production} />
  ) : (
    <NoProduction named={named !== undefined} />
  );
}

function NoProduction({ named }: { readonly named: boolean }) {
  const router = useRouter();
  return (
    <>
      {named ? (
        <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>
      ) : (
        <Empty title="No songs or shows yet">One holds the versions and scenes of a song or a show.</Empty>
      )}
      <MainAction title="Songs and shows" onPress={() => router.navigate('/productions')} />
    </>
  );
}

function Mixes({ production }: { readonly production: ProductionView }) {
  const { scene } = useLocalSearchParams<{ scene?: string }>();
  const router = useRouter();
  const list = useSceneList(production);
  const toList = () => router.navigate(`/mixes/${production.id}`);
  const step = (by: -1 | 1) => {
    const next = scene === undefined ? undefined : list.neighbour(scene, by);
    return next && next.id !== scene ? () => router.replace(`/mixes/${production.id}/scene/${next.id}`) : undefined;
  };
  useRowNavigation('scene', scene === undefined);
  useShortcuts({
    Escape: toList,
    ...(scene === undefined ? {} : { ArrowUp: () => step(-1)?.(), ArrowDown: () => step(1)?.() }),
  });
  return (
    <Split
      showDetail={scene !== undefined}
      list={<History production={production} list={list} chosen={scene} />}
      detail={
        scene === undefined ? (
          <Empty title="No scene chosen">Choose a scene to see what changed in it, or to restore it.</Empty>
        ) : (
          <ScenePage production={production} sceneId={scene} onBack={toList} step={step} />
        )
      }
    />
  );
}
