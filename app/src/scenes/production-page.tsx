import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, StyleSheet } from 'react-native';

import type { ProductionView, VersionView } from '@old-echo/core/contracts/production';
import { CLIENT_LINK_ROUTES } from '@old-echo/core/contracts/routes/client-routes';
import { EXPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import { CONVERSION_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { PRODUCTION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { plural } from '@old-echo/core/phrases/format-value';

import { Loading } from '../components/loading';
import { useProduction } from '../components/use-production';
import { ask } from '../store/ask';
import { useDesksQuery } from '../store/desk-api';
import { useBinMutation, usePutInOrderMutation } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, MainAction } from '../ui/buttons';
import { Body, Empty, Header, SectionHeading } from '../ui/layout';
import { MenuRow } from '../ui/menu';
import { OrderList } from '../ui/order-list';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { useDescription } from '../ui/use-description';
import { useShortcuts } from '../ui/use-shortcuts';
import { ProductionForm } from './production-form';
import { VersionSheet } from './version-sheet';
import { STATUS_NAMES } from './version-status';

/** A production's own page: its words, its versions in their order, its bin. */
export function ProductionPage() {
  const { production, loaded } = useProduction();
  if (!loaded) return <Loading what="Loading the song or show" />;
  return production ? (
    <Page production={production} />
  ) : (
    <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>
  );
}

function Page({ production }: { readonly production: ProductionView }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: desks = [] } = useDesksQuery();
  const [editing, setEditing] = useState(false);
  const [version, setVersion] = useState<VersionView | 'new' | null>(null);
  const [order] = usePutInOrderMutation();
  const [bin] = useBinMutation();
  const { id, name, note, kind, versions } = production;
  const back = () => router.navigate(`/mixes/${id}`);
  useShortcuts({ Escape: back, e: () => setEditing(true) });
  const move = (next: readonly VersionView[], moved: VersionView) => {
    const ids = versions.map((v) => v.id);
    const undo = ask(PRODUCTION_ROUTES.orderVersions, { params: { id }, body: { ids } });
    void done(
      order({ of: `productions/${id}/versions`, ids: next.map((v) => v.id) }),
      () => `${moved.name} moved.`,
      undo,
    );
  };
  const desk = desks.find((d) => d.id === production.deskId)?.name ?? '';
  const inBin = production.binned + production.binnedVersions.length;
  return (
    <>
      <Header
        over={`${kind === 'song' ? 'Song' : 'Show'} on ${desk}`}
        title={name}
        onBack={back}
        side={
          <Action asks={PRODUCTION_ROUTES.editProduction} kind="quiet" title="Edit" onPress={() => setEditing(true)} />
        }
      />
      <Body tight>
        {note ? <AppText>{note}</AppText> : null}
        <SectionHeading title="Versions" />
        <OrderList
          asks={PRODUCTION_ROUTES.orderVersions}
          items={versions}
          onOrder={move}
          row={(v) => <VersionRow version={v} onOpen={() => setVersion(v)} />}
        />
        <MenuRow
          title="Strip history"
          under="One strip, section or setting across scenes"
          onPress={() => router.navigate(`/mixes/${id}/strip-history`)}
        />
        <MenuRow
          title="Stems"
          under="The recordings, one per strip, to compare mixes by ear"
          onPress={() => router.navigate(`/mixes/${id}/stems`)}
        />
        <MenuRow
          title="Parts"
          under="What each strip carries: how scenes find it on another desk"
          onPress={() => router.navigate(`/mixes/${id}/parts`)}
        />
        <MenuRow
          title="Venues"
          under="Pan, EQ and reverb times per venue"
          onPress={() => router.navigate(`/mixes/${id}/venues`)}
        />
        <MenuRow
          asks={CLIENT_LINK_ROUTES.clientLinks}
          title="Links for clients"
          under="Who hears which mixes, and what they said"
          onPress={() => router.navigate(`/mixes/${id}/client-links`)}
        />
        <MenuRow
          title="Outboard gear"
          under="Settings and photos, for the recall sheet"
          onPress={() => router.navigate(`/mixes/${id}/outboard`)}
        />
        <MenuRow
          asks={CONVERSION_ROUTES.startConversion}
          title="Carry over to another desk"
          under="All of it or one version, with a report"
          onPress={() => router.navigate(`/convert?production=${id}`)}
        />
        <MenuRow
          asks={EXPORT_ROUTES.exportProduction}
          title="Save as a file"
          under="An archive with everything in it"
          onPress={() => router.navigate(`/files?production=${id}`)}
        />
        <MenuRow
          title={inBin === 0 ? 'The bin is empty' : `Bin: ${inBin}`}
          disabled={inBin === 0 && 'What you move to the bin waits there.'}
          onPress={() => router.navigate(`/mixes/${id}/bin`)}
        />
        <MenuRow
          asks={PRODUCTION_ROUTES.binProduction}
          title={`Move ${name} to the bin`}
          under="With everything in it. You can take it out again"
          onPress={() =>
            void done(
              bin(`productions/${id}`),
              () => `${name} is in the bin.`,
              ask(PRODUCTION_ROUTES.unbinProduction, { params: { id } }),
            ).then((went) => went && router.navigate('/productions'))
          }
        />
      </Body>
      <MainAction asks={PRODUCTION_ROUTES.createVersion} title="New version" onPress={() => setVersion('new')} />
      <Sheet title={name} open={editing} onClose={() => setEditing(false)}>
        {editing ? <ProductionForm production={production} onDone={() => setEditing(false)} /> : null}
      </Sheet>
      <VersionSheet
        key={version === 'new' ? 'new' : version?.id}
        production={production}
        {...(version && version !== 'new' ? { version: versions.find((v) => v.id === version.id) ?? version } : {})}
        open={version !== null}
        onClose={() => setVersion(null)}
      />
    </>
  );
}

function VersionRow({ version, onOpen }: { readonly version: VersionView; readonly onOpen: () => void }) {
  const { control, text } = useDescription();
  return (
    <Pressable role="button" aria-label={version.name} {...control} style={styles.row} onPress={onOpen}>
      <AppText kind="strong">{version.name}</AppText>
      <AppText {...text} kind="small" tone="second" numberOfLines={2}>
        {[STATUS_NAMES[version.status], plural(version.scenes, 'scene'), version.note].filter(Boolean).join(' · ')}
      </AppText>
    </Pressable>
  );
}

const styles = StyleSheet.create({ row: { minHeight: 56, justifyContent: 'center', paddingVertical: SPACE.xs } });
