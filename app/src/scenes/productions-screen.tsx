import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, StyleSheet } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { IMPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import { PRODUCTION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { plural } from '@old-echo/core/phrases/format-value';

import { BinnedRow } from '../components/bin-row';
import { Loading } from '../components/loading';
import { ask } from '../store/ask';
import { useDesksQuery } from '../store/desk-api';
import { useProductionsQuery, usePutInOrderMutation, useRemoveMutation, useUnbinMutation } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { MainAction } from '../ui/buttons';
import { Body, Empty, Header, SectionHeading } from '../ui/layout';
import { MenuRow } from '../ui/menu';
import { OrderList } from '../ui/order-list';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { ProductionForm } from './production-form';

/** All songs and shows: make one, put them in order, bring one back. */
export function ProductionsScreen() {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: productions } = useProductionsQuery();
  const { data: desks = [] } = useDesksQuery();
  const [making, setMaking] = useState(false);
  const [order] = usePutInOrderMutation();
  const [bringBack] = useUnbinMutation();
  const [remove] = useRemoveMutation();
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/mixes'));
  useShortcuts({ Escape: back });
  if (!productions) return <Loading what="Loading the songs and shows" />;
  const open = productions.filter((p) => !p.binnedAt);
  const binned = productions.filter((p) => p.binnedAt);
  const move = (next: readonly ProductionView[], { name }: ProductionView) => {
    const ids = open.map(({ id }) => id);
    void done(
      order({ of: 'productions', ids: next.map(({ id }) => id) }),
      () => `${name} moved.`,
      ask(PRODUCTION_ROUTES.orderProductions, { body: { ids } }),
    );
  };
  const under = (p: ProductionView) =>
    `${p.kind === 'song' ? 'Song' : 'Show'} on ${desks.find((desk) => desk.id === p.deskId)?.name} · ${plural(p.versions.length, 'version')}, ${plural(
      p.versions.reduce((sum, v) => sum + v.scenes, 0),
      'scene',
    )}`;
  return (
    <>
      <Header title="Songs and shows" onBack={back} />
      <Body tight>
        {open.length === 0 ? (
          <Empty title="No songs or shows yet">Create one. It holds the versions and scenes made on one desk.</Empty>
        ) : null}
        <OrderList
          asks={PRODUCTION_ROUTES.orderProductions}
          items={open}
          onOrder={move}
          row={(production) => (
            <Pressable role="link" style={styles.row} onPress={() => router.navigate(`/mixes/${production.id}`)}>
              <AppText kind="strong">{production.name}</AppText>
              <AppText kind="small" tone="second">
                {under(production)}
              </AppText>
            </Pressable>
          )}
        />
        <MenuRow
          asks={IMPORT_ROUTES.openFile}
          title="From a file"
          under="An archive of a song or show; you see its contents first"
          onPress={() => router.navigate('/files')}
        />
        {binned.length > 0 ? <SectionHeading title="In the bin" /> : null}
        {binned.map((production) => (
          <BinnedRow
            key={production.id}
            name={production.name}
            under={under(production)}
            onBack={() =>
              void done(bringBack(`productions/${production.id}`), () => `${production.name} is out of the bin.`)
            }
            onRemove={() =>
              void done(remove(`productions/${production.id}`), () => `${production.name} was deleted for good.`)
            }
          />
        ))}
      </Body>
      <MainAction asks={PRODUCTION_ROUTES.createProduction} title="New song or show" onPress={() => setMaking(true)} />
      <Sheet title="New song or show" open={making} onClose={() => setMaking(false)}>
        {making ? <ProductionForm onDone={(id) => router.navigate(`/mixes/${id}`)} /> : null}
      </Sheet>
    </>
  );
}

const styles = StyleSheet.create({ row: { minHeight: 56, justifyContent: 'center', paddingVertical: SPACE.xs } });
