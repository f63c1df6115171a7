import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { FlatList, StyleSheet, View } from 'react-native';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { displayName } from '@old-echo/core/desk/state';
import { stripsInUse } from '@old-echo/core/desk/strips-in-use';
import { plural } from '@old-echo/core/phrases/format-value';

import { ConnectDesk } from '../components/connect-desk';
import { putHref } from '../components/links/library-link';
import { findStrips } from '../components/strip-picker-sheet';
import { safeExtents } from '../components/strip-safety';
import { useAppSelector } from '../store/store';
import { type LiveDesk, useBaseline, useDrift } from '../store/use-live-desk';
import { useMayAsk } from '../ui/allowed';
import { Chip, Footer } from '../ui/buttons';
import { ChipLine } from '../ui/chip-row';
import { DragSpace } from '../ui/drag';
import { Empty, SectionHeading, useIsWide } from '../ui/layout';
import { SearchField } from '../ui/search-field';
import { ROW, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { CurrentSceneCard } from './current-scene-card';
import { DeskActions } from './desk-actions';
import { DeskHead } from './desk-head';
import { DriftList } from './drift-list';
import { HeldScopeCard } from './held-scope-card';
import { InUseChip } from './in-use-chip';
import { ScenesAtHand } from './scenes-at-hand';
import { SelectionBar } from './selection-bar';
import { StripRow } from './strip-row';
import { UnfinishedRestoreCard } from './unfinished-restore-card';
import { useHeldScope } from './use-held-scope';
import { useLastSwitch } from './use-last-switch';
import { useMoveSetting } from './use-move-setting';
import { useOpenStrip } from './use-open-strip';
import { useSweep } from './use-sweep';

const DRIFTED = 'drifted';

/** The desk as a list: what stands on it, and its strips by family. */
export function DeskList({ now, chosen }: { readonly now: LiveDesk; readonly chosen: string | undefined }) {
  const { desk, profile, linked } = now;
  const router = useRouter();
  const drift = useDrift();
  const was = useBaseline();
  const wide = useIsWide();
  const move = useMoveSetting(desk.id);
  const mayMove = useMayAsk()(DESK_ROUTES.moveSettings);
  const inUseOnly = useAppSelector((root) => root.place.inUseOnly);
  const [shown, setShown] = useState(profile.families[0]?.id ?? DRIFTED);
  const [search, setSearch] = useState<string | null>(null);
  const safe = useMemo(() => safeExtents(profile, desk.safes), [profile, desk.safes]);
  const drifted = useMemo(() => [...new Set(drift?.map((change) => change.strip))], [drift]);
  const held = useHeldScope(desk, profile);
  useLastSwitch(profile);
  const copy = (strip: string, onto: string) => router.navigate(putHref({ strip }, [onto]));
  useShortcuts({ '/': () => setSearch('') });

  const used = inUseOnly ? stripsInUse(profile, now.state) : null;
  const inUse = (all: readonly string[]) => (used ? all.filter((strip) => used.includes(strip)) : all);
  const wanted = search?.trim().toLowerCase();
  const family = profile.families.find((f) => f.id === shown);
  const strips = wanted ? findStrips(now, wanted) : shown === DRIFTED ? drifted : inUse(family?.strips ?? []);
  const open = useOpenStrip(desk.id, strips);
  const sweep = useSweep(strips);
  const band = wanted
    ? `${plural(strips.length, 'strip')} found`
    : shown === DRIFTED
      ? 'Drifted: dashed in the scene, solid now'
      : (family?.name ?? '');

  return (
    <View style={styles.fill}>
      <DeskHead now={now} onSearch={() => setSearch(search === null ? '' : null)} searching={search !== null} />
      {search === null ? null : (
        <View style={styles.search}>
          <SearchField autoFocus placeholder="Search strips" value={search} onChange={setSearch} />
        </View>
      )}
      <ConnectDesk desk={desk} />
      <UnfinishedRestoreCard />
      <CurrentSceneCard now={now} drift={drift} onPress={() => setShown(DRIFTED)} />
      {held ? <HeldScopeCard now={now} held={held} /> : null}
      <ScenesAtHand now={now} held={held} />
      <ChipLine>
        <Chip
          title={`Drifted ${drifted.length}`}
          chosen={!wanted && shown === DRIFTED}
          onPress={() => setShown(DRIFTED)}
        />
        {profile.families.map(({ id, name, strips: all }) => (
          <Chip
            key={id}
            title={all.length > 1 ? `${name} ${all.length}` : name}
            chosen={!wanted && shown === id}
            onPress={() => setShown(id)}
          />
        ))}
      </ChipLine>
      <SelectionBar now={now} shown={strips} />
      <SectionHeading title={band} side={<InUseChip />} />
      {shown === DRIFTED && !wanted && !wide ? (
        <DriftList now={now} />
      ) : (
        <DragSpace nameOf={(strip) => displayName(profile, now.state, strip)} onDrop={copy}>
          <FlatList
            key={wanted ?? shown}
            style={styles.fill}
            data={strips}
            keyExtractor={(strip) => strip}
            getItemLayout={(_, index) => ({ length: ROW, offset: ROW * index, index })}
            initialNumToRender={16}
            renderItem={({ item }) => (
              <StripRow
                profile={profile}
                strip={item}
                was={was?.[item]}
                safe={safe[item] ?? 'none'}
                chosen={item === chosen}
                onOpen={open}
                sweep={sweep}
                onMove={linked && !desk.showLock && mayMove ? move : undefined}
              />
            )}
            ListEmptyComponent={
              <Empty title={wanted ? 'No strip found' : 'Nothing has drifted'}>
                {wanted
                  ? 'Search covers names and numbers.'
                  : now.desk.baseline
                    ? 'Nothing has moved since the scene was captured.'
                    : 'Capture a scene to see what moves.'}
              </Empty>
            }
          />
        </DragSpace>
      )}
      <Footer>
        <DeskActions now={now} />
      </Footer>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  search: { marginHorizontal: SPACE.l, marginTop: SPACE.s },
});
