import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import { EXPORT_ROUTES, IMPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import { plural } from '@old-echo/core/phrases/format-value';

import { when } from '../components/format-time';
import { Loading } from '../components/loading';
import { addressOf } from '../store/ask';
import { useRecentImportsQuery } from '../store/files-api';
import { usePresetsQuery } from '../store/library-api';
import { useProductionsQuery } from '../store/scenes-api';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { chooseFiles } from '../ui/choose-files';
import { Body, Card, Header, SectionHeading } from '../ui/layout';
import { MenuRow } from '../ui/menu';
import { useShortcuts } from '../ui/use-shortcuts';
import { SaveArchive } from './save-archive';
import { useOpenFile } from './use-open-file';

/** Files to hand to a colleague: one to be looked into, or something of here to be saved. */
export function FilesScreen() {
  const { production: named } = useLocalSearchParams<{ production?: string }>();
  const router = useRouter();
  const { data: productions } = useProductionsQuery();
  const { data: presets } = usePresetsQuery();
  const { data: last = [] } = useRecentImportsQuery();
  const [chosen, setChosen] = useState<string | null>(named ?? null);
  const { taking, take, cancel } = useOpenFile();
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/library'));
  useShortcuts({ Escape: back });
  const open = productions?.filter(({ binnedAt }) => binnedAt === null);
  const production = open?.find(({ id }) => id === chosen);
  const count = presets?.filter(({ binnedAt }) => binnedAt === null).length;
  return (
    <View style={styles.fill}>
      <Header title="Files" under="Share or back up" onBack={back} />
      <Body tight>
        <SectionHeading title="Import" />
        {taking ? (
          <Card edge={taking.why ? 'stop' : undefined}>
            <AppText kind="strong">{taking.name}</AppText>
            {taking.why ? (
              <AppText testID="refused">{taking.why}</AppText>
            ) : (
              <ProgressBar accessibilityLabel="Upload" progress={taking.part} />
            )}
            <Action kind="quiet" title={taking.why ? 'Dismiss' : 'Cancel'} onPress={cancel} />
          </Card>
        ) : null}
        <Action
          asks={IMPORT_ROUTES.openFile}
          kind="main"
          title="Open a file"
          onPress={() => chooseFiles({ accept: '.zip,.json' }, ([file]) => file && take(file))}
        />
        <AppText kind="small" tone="second">
          A library, scene or archive. Or drop it on any screen. You see the contents first.
        </AppText>
        {last.slice(0, 3).map(({ id, name, madeAt, bytes }, i) => (
          <MenuRow
            key={id}
            title={i === 0 ? `Last file: ${name}` : name}
            under={`${when(madeAt)} · ${size(bytes)}`}
            onPress={() => router.navigate(`/files/${id}`)}
          />
        ))}
        <SectionHeading title="Save" />
        {open === undefined || count === undefined ? (
          <Loading what="Loading what can be saved" />
        ) : (
          <>
            <MenuRow
              asks={EXPORT_ROUTES.exportLibrary}
              title="The library"
              under={`${plural(count, 'preset')}, with their desk models`}
              disabled={count === 0 && 'There is no preset yet.'}
              onPress={() => window.location.assign(addressOf(EXPORT_ROUTES.exportLibrary))}
            />
            <ChipRow role="tablist">
              {open.map(({ id, name }) => (
                <Chip
                  key={id}
                  title={name}
                  chosen={id === chosen}
                  onPress={() => setChosen(id === chosen ? null : id)}
                />
              ))}
            </ChipRow>
          </>
        )}
        {production ? <SaveArchive key={production.id} production={production} /> : null}
      </Body>
    </View>
  );
}

const size = (bytes: number): string =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
});
