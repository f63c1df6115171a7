import { useRouter } from 'expo-router';
import { useState } from 'react';
import { FlatList, StyleSheet } from 'react-native';

import type { ProductionView, VersionView } from '@old-echo/core/contracts/production';
import { PRODUCTION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { plural } from '@old-echo/core/phrases/format-value';

import { BinnedRow, ConfirmDeletion } from '../components/bin-row';
import { whenInText } from '../components/format-time';
import { LoadError, Loading } from '../components/loading';
import { useProduction } from '../components/use-production';
import { toApiFault } from '../store/api';
import { useRemoveMutation, useScenesInfiniteQuery, useUnbinMutation } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { Action, Footer } from '../ui/buttons';
import { Empty, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';

/** What was put into the bin of a production: versions, then scenes. */
export function BinScreen() {
  const { production, loaded } = useProduction();
  if (!loaded) return <Loading what="Loading the bin" />;
  return production ? (
    <Bin production={production} />
  ) : (
    <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>
  );
}

type Binned =
  | { readonly key: string; readonly version: VersionView; readonly scene?: undefined }
  | { readonly key: string; readonly scene: SceneView };

function Bin({ production }: { readonly production: ProductionView }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const [asking, setAsking] = useState(false);
  const [bringBack] = useUnbinMutation();
  const [remove] = useRemoveMutation();
  const answer = useScenesInfiniteQuery({ production: production.id, bin: true });
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useShortcuts({ Escape: back });
  if (answer.error) return <LoadError fault={toApiFault(answer.error)} onAgain={() => void answer.refetch()} />;
  if (!answer.data) return <Loading what="Loading the bin" />;
  const rows: Binned[] = [
    ...production.binnedVersions.map((version) => ({ key: version.id, version })),
    ...answer.data.pages.flatMap((page) => page.scenes.map((scene) => ({ key: scene.id, scene }))),
  ];
  const versions = [...production.versions, ...production.binnedVersions];
  const row = (item: Binned) => {
    const what = item.scene ? `scenes/${item.scene.id}` : `versions/${item.version.id}`;
    const name = item.scene ? sceneTitle(item.scene) : item.version.name;
    const under = item.scene
      ? [versions.find((v) => v.id === item.scene.versionId)?.name, `binned ${whenInText(item.scene.binnedAt ?? '')}`]
      : [`Version with ${plural(item.version.scenes, 'scene')}`, `binned ${whenInText(item.version.binnedAt ?? '')}`];
    return (
      <BinnedRow
        name={name}
        under={under.filter(Boolean).join(' · ')}
        onBack={() =>
          void done(bringBack(what), (now) =>
            item.scene && now.name && now.name !== item.scene.name
              ? `Out of the bin as ${now.name}: the old name is in use.`
              : `${name} is out of the bin.`,
          )
        }
        onRemove={() => void done(remove(what), () => `${name} was deleted for good.`)}
      />
    );
  };
  return (
    <>
      <Header over={production.name} title="Bin" onBack={back} />
      <FlatList
        style={styles.fill}
        contentContainerStyle={styles.list}
        data={rows}
        keyExtractor={(item) => item.key}
        renderItem={({ item }) => row(item)}
        onEndReached={() => answer.hasNextPage && !answer.isFetching && void answer.fetchNextPage()}
        ListEmptyComponent={<Empty title="The bin is empty">What you move to the bin waits here.</Empty>}
      />
      <Footer>
        <Action
          asks={PRODUCTION_ROUTES.emptyBin}
          grow
          title="Empty the bin of scenes"
          disabled={production.binned === 0 && 'There is no scene in the bin.'}
          onPress={() => setAsking(true)}
        />
      </Footer>
      <ConfirmDeletion
        title={`Delete ${plural(production.binned, 'scene')} for good?`}
        open={asking}
        onClose={() => setAsking(false)}
        onRemove={() => void done(remove(`productions/${production.id}/bin`), () => 'The bin is empty.')}
      />
    </>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1 },
  list: { paddingHorizontal: SPACE.l, width: '100%', maxWidth: MAX_TEXT_WIDTH, alignSelf: 'center' },
});
