import { useRouter } from 'expo-router';
import Star from 'lucide-react-native/icons/star';
import { useMemo, useState } from 'react';
import { Pressable, SectionList, StyleSheet, View } from 'react-native';

import type { PresetView } from '@old-echo/core/contracts/preset';
import { PRESET_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { PRESET_KINDS, type PresetKind } from '@old-echo/core/library/preset';
import { plural } from '@old-echo/core/phrases/format-value';

import { LoadError, Loading } from '../components/loading';
import { SaveFromDesk } from '../components/presets/save-preset-from-scene';
import { toApiFault } from '../store/api';
import { usePresetsQuery } from '../store/library-api';
import { useAppSelector } from '../store/store';
import { useLiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { ChipLine } from '../ui/chip-row';
import { focusFirst, useFocusTarget } from '../ui/focus-registry';
import { Icon } from '../ui/icon';
import { Empty, Header, SectionHeading } from '../ui/layout';
import { SearchField } from '../ui/search-field';
import { useLook } from '../ui/theme';
import { ROW, SPACE } from '../ui/tokens';
import { useDescription } from '../ui/use-description';
import { useShortcuts } from '../ui/use-shortcuts';
import { ChangedSinceApplied } from './changed-since-applied';
import { LibraryBin } from './library-bin';
import { KIND_NAMES, presetMatches, presetTypeLabel } from './preset-label';

const FAVOURITES = 'favourites';

/** The library by folder, narrowed down by kind and by what one types. */
export function LibraryList({ chosen }: { readonly chosen: string | undefined }) {
  const router = useRouter();
  const { data, error, refetch } = usePresetsQuery();
  const [kind, setKind] = useState<PresetKind | typeof FAVOURITES | null>(null);
  const [words, setWords] = useState('');
  const [bin, setBin] = useState(false);
  const [saving, setSaving] = useState(false);
  const now = useLiveDesk();
  const selected = useAppSelector((root) => root.selection.strips.length);
  const folders = useMemo(() => foldersOf(data ?? [], kind, words), [data, kind, words]);
  useShortcuts({ '/': () => focusFirst('library search') });
  const search = useFocusTarget('library search');
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  if (!data) return <Loading what="Loading the library" />;
  const here = data.filter((preset) => preset.binnedAt === null);
  const binned = data.length - here.length;
  const kinds = PRESET_KINDS.filter((one) => here.some((preset) => preset.kind === one));
  return (
    <View style={styles.fill}>
      <Header
        title="Library"
        under={
          selected > 0 ? `For ${plural(selected, 'strip')} selected on the desk` : 'Presets, strip sets, templates'
        }
      />
      <View ref={search} style={styles.search}>
        <SearchField placeholder="Search the library" value={words} onChange={setWords} />
      </View>
      <ChipLine>
        <Chip title={`All ${here.length}`} chosen={kind === null} onPress={() => setKind(null)} />
        <Chip title="Favourites" chosen={kind === FAVOURITES} onPress={() => setKind(FAVOURITES)} />
        {kinds.map((one) => (
          <Chip key={one} title={KIND_NAMES[one]} chosen={kind === one} onPress={() => setKind(one)} />
        ))}
      </ChipLine>
      <SectionList
        style={styles.fill}
        sections={folders}
        keyExtractor={(preset) => preset.id}
        initialNumToRender={14}
        stickySectionHeadersEnabled={false}
        renderSectionHeader={({ section }) => <SectionHeading title={section.title} />}
        renderItem={({ item }) => (
          <PresetRow preset={item} chosen={item.id === chosen} onOpen={() => router.navigate(`/library/${item.id}`)} />
        )}
        ListEmptyComponent={
          here.length === 0 ? (
            <Empty title="The library is empty">Open a strip on the desk, and save it or one of its processors.</Empty>
          ) : kind === FAVOURITES && words === '' ? (
            <Empty title="No favourites yet">Add one with the star on its page.</Empty>
          ) : (
            <Empty title="No preset found">Search covers names, folders, tags and notes.</Empty>
          )
        }
      />
      {now ? <ChangedSinceApplied now={now} presets={here} /> : null}
      <Footer>
        <Action
          asks={PRESET_ROUTES.savePreset}
          kind="main"
          grow
          title="Save from the desk"
          disabled={!now && 'The desk is not known yet.'}
          onPress={() => setSaving(true)}
        />
        <Action title="Files" onPress={() => router.navigate('/files')} />
        <Action title={`Bin ${binned}`} disabled={binned === 0 && 'The bin is empty.'} onPress={() => setBin(true)} />
      </Footer>
      {saving && now ? <SaveFromDesk now={now} onClose={() => setSaving(false)} /> : null}
      <LibraryBin
        presets={data.filter((preset) => preset.binnedAt !== null)}
        open={bin}
        onClose={() => setBin(false)}
      />
    </View>
  );
}

interface Folder {
  readonly title: string;
  readonly data: readonly PresetView[];
}

function foldersOf(presets: readonly PresetView[], kind: PresetKind | 'favourites' | null, words: string): Folder[] {
  const found = new Map<string, PresetView[]>();
  for (const preset of presets) {
    if (preset.binnedAt !== null || !presetMatches(preset, words.trim())) continue;
    if (kind === FAVOURITES ? !preset.favourite : kind !== null && preset.kind !== kind) continue;
    const title = preset.folder === '' ? 'No folder' : preset.folder;
    found.set(title, [...(found.get(title) ?? []), preset]);
  }
  return [...found].map(([title, data]) => ({ title, data }));
}

interface PresetRowProps {
  readonly preset: PresetView;
  readonly chosen: boolean;
  readonly onOpen: () => void;
}

function PresetRow({ preset, chosen, onOpen }: PresetRowProps) {
  const target = useFocusTarget('preset');
  const { control, text } = useDescription();
  const look = useLook();
  return (
    <Pressable
      role="button"
      aria-label={`${preset.name}${preset.favourite ? ', favourite' : ''}`}
      {...control}
      ref={target}
      testID={`preset-${preset.id}`}
      onPress={onOpen}
      style={[styles.row, { borderColor: look.line }, chosen && { backgroundColor: look.wash }]}
    >
      <View style={styles.fill}>
        <AppText kind="strong" numberOfLines={1}>
          {preset.name}
        </AppText>
        <View {...text}>
          <AppText kind="small" tone="second" numberOfLines={1}>
            {[presetTypeLabel(preset), ...preset.tags].join(' · ')}
          </AppText>
          {preset.note ? (
            <AppText kind="small" tone="second" numberOfLines={2}>
              {preset.note}
            </AppText>
          ) : null}
        </View>
      </View>
      {preset.favourite ? <Icon of={Star} size={18} color={look.ink} /> : null}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  search: { marginHorizontal: SPACE.l, marginTop: SPACE.s },
  row: {
    minHeight: ROW + SPACE.s,
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.s,
    paddingHorizontal: SPACE.l,
    paddingVertical: SPACE.s,
    borderBottomWidth: 1,
  },
});
