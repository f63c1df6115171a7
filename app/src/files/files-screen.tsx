import { useLocalSearchParams, useRouter, type Href } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { plural } from '@old-echo/core/desk/format-value';

import { useLastFilesQuery, usePresetsQuery, useProductionsQuery, useStemsQuery } from '../store/api';
import { Action, Chip } from '../ui/buttons';
import { MenuRow } from '../ui/menu';
import { SectionHeading, Body, Card, Header } from '../ui/layout';
import { chooseFiles } from '../ui/choose-files';
import { SPACE } from '../ui/tokens';
import { toggled } from '../ui/toggle-in-set';
import { AppText } from '../ui/app-text';
import { when } from '../components/format-time';
import { CheckRow } from '../components/check-row';
import { useShortcuts } from '../ui/use-shortcuts';
import { StripList } from './input-list';
import { useOpenFile } from './use-open-file';

/** Files to hand to a colleague: one to be looked into, or something of here to be saved. */
export function FilesScreen() {
  const { production: named } = useLocalSearchParams<{ production?: string }>();
  const router = useRouter();
  const { data: productions = [] } = useProductionsQuery();
  const { data: presets = [] } = usePresetsQuery();
  const { data: last = [] } = useLastFilesQuery();
  const [chosen, setChosen] = useState<string | null>(named ?? null);
  const { taking, take, cancel } = useOpenFile();
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/library'));
  useShortcuts({ Escape: back });
  const open = productions.filter(({ binnedAt }) => binnedAt === null);
  const production = open.find(({ id }) => id === chosen);
  const count = presets.filter(({ binnedAt }) => binnedAt === null).length;
  return (
    <View style={styles.fill}>
      <Header title="Files" under="To hand to a colleague, or to keep elsewhere" onBack={back} />
      <Body tight>
        <SectionHeading title="Bring in" />
        {taking ? (
          <Card edge={taking.why ? 'stop' : undefined}>
            <AppText kind="strong">{taking.name}</AppText>
            {taking.why ? <AppText testID="refused">{taking.why}</AppText> : <ProgressBar progress={taking.part} />}
            <Action kind="quiet" title={taking.why ? 'Dismiss' : 'Cancel'} onPress={cancel} />
          </Card>
        ) : null}
        <Action
          kind="main"
          title="Open a file"
          onPress={() => chooseFiles({ accept: '.zip,.json' }, ([file]) => file && take(file))}
        />
        <AppText kind="small" tone="second">
          A library, a scene or an archive. Or drag one into the window, on any screen. You see what is inside first.
        </AppText>
        {last.slice(0, 3).map(({ id, name, madeAt, bytes }, i) => (
          <MenuRow
            key={id}
            title={i === 0 ? `Last file: ${name}` : name}
            under={`${when(madeAt)} · ${size(bytes)}`}
            onPress={() => router.navigate(`/files/${id}` as Href)}
          />
        ))}
        <SectionHeading title="Save" />
        <MenuRow
          title="The library"
          under={`${plural(count, 'preset')}, with what they were made on`}
          disabled={count === 0}
          onPress={() => window.location.assign('/api/files/presets')}
        />
        <View style={styles.chips} role="tablist">
          {open.map(({ id, name }) => (
            <Chip key={id} title={name} chosen={id === chosen} onPress={() => setChosen(id === chosen ? null : id)} />
          ))}
        </View>
        {production ? <SaveProduction key={production.id} production={production} /> : null}
      </Body>
    </View>
  );
}

const size = (bytes: number): string =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;

/** What belongs to a production besides its scenes. */
const EXPORT_ITEMS: readonly (readonly [id: string, name: string, under: string])[] = [
  ['wishes', 'Wishes', 'What was asked for, and which scene answers it'],
  ['parts', 'Parts', 'What its strips carry'],
  ['halls', 'Halls', 'What its parts are set to in each'],
  ['outboard', 'Beside the desk', 'Devices with their photos'],
  ['scopes', 'Scopes', 'Those saved under a name, for its kind of desk'],
  ['presets', 'Presets in use', 'What strips of its desk came from'],
  ['pins', 'Pins', 'Scenes that are one tap from their preview'],
];

/** Chooses what of a production goes into its archive; all of it is the complete backup. */
function SaveProduction({ production }: { readonly production: ProductionView }) {
  const all = production.versions.map(({ id }) => id);
  const [versions, setVersions] = useState<ReadonlySet<string>>(new Set(all));
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const [kept, setKept] = useState(false);
  const [sound, setSound] = useState(false);
  const { data: stems = [] } = useStemsQuery(production.id);
  const whole = versions.size === all.length;
  const save = () => {
    const query = new URLSearchParams();
    if (!whole) for (const id of versions) query.append('versions', id);
    for (const id of without) query.append('without', id);
    if (kept) query.set('kept', 'true');
    if (sound) query.set('sound', 'true');
    window.location.assign(`/api/files/productions/${production.id}?${query.toString()}`);
  };
  return (
    <Card>
      <AppText kind="heading">An archive of {production.name}</AppText>
      <CheckRow
        name="Versions"
        under="All or none"
        tick={whole ? 'all' : versions.size > 0 ? 'some' : 'none'}
        testID="save-versions"
        onPress={() => setVersions(new Set(whole ? [] : all))}
      />
      {production.versions.map(({ id, name, scenes }) => (
        <CheckRow
          key={id}
          indent
          name={name}
          under={plural(scenes, 'scene')}
          tick={versions.has(id) ? 'all' : 'none'}
          testID={`save-version-${name}`}
          onPress={() => setVersions(toggled(versions, id))}
        />
      ))}
      <CheckRow
        name="Scenes kept by themselves"
        under="Way backs, and what was on the desk when it rested"
        tick={kept ? 'all' : 'none'}
        testID="save-kept"
        onPress={() => setKept(!kept)}
      />
      {EXPORT_ITEMS.map(([id, name, under]) => (
        <CheckRow
          key={id}
          name={name}
          under={under}
          tick={without.has(id) ? 'none' : 'all'}
          testID={`save-${id}`}
          onPress={() => setWithout(toggled(without, id))}
        />
      ))}
      {stems.length > 0 ? (
        <CheckRow
          name="Sound"
          under={`${plural(stems.length, 'stem')}, as they were attached`}
          tick={sound ? 'all' : 'none'}
          testID="save-sound"
          onPress={() => setSound(!sound)}
        />
      ) : null}
      <Action kind="main" title="Save the archive" disabled={versions.size === 0} onPress={save} />
      <StripList production={production} />
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
