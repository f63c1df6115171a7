import { useRouter } from 'expo-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { FlatList, StyleSheet, View } from 'react-native';

import { displayName } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/phrases/format-value';

import { putHref } from '../components/links/library-link';
import { findStrips } from '../components/strip-picker-sheet';
import { safeExtents } from '../components/strip-safety';
import { useSwap } from '../components/use-swap';
import { useWayBack } from '../components/use-way-back';
import { deskHref } from '../store/desk-address';
import { useProductionsQuery } from '../store/scenes-api';
import { selectedUpTo, toggled } from '../store/selection-slice';
import { useAppDispatch, useAppStore } from '../store/store';
import { type LiveDesk, useBaseline, useDrift } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { ChipLine } from '../ui/chip-row';
import { DragSpace } from '../ui/drag';
import { Empty, Header, SectionHeading, useIsWide } from '../ui/layout';
import { SearchButton, SearchField } from '../ui/search-field';
import { type Modifiers, NO_MODIFIERS } from '../ui/strip-row-layout';
import { ROW, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { CurrentSceneCard } from './current-scene-card';
import { DriftList } from './drift-list';
import { ScenesAtHand } from './scenes-at-hand';
import { SelectionBar } from './selection-bar';
import { ShowLock } from './show-lock';
import { StripRow } from './strip-row';
import { UnfinishedRestoreCard } from './unfinished-restore-card';
import { useMoveSetting } from './use-move-setting';

const DRIFTED = 'drifted';

/** The desk as a list: what stands on it, and its strips by family. */
export function DeskList({ now, chosen }: { readonly now: LiveDesk; readonly chosen: string | undefined }) {
  const { desk, profile, linked } = now;
  const router = useRouter();
  const drift = useDrift();
  const was = useBaseline();
  const wide = useIsWide();
  const wayBack = useWayBack();
  const move = useMoveSetting(desk.id);
  const [shown, setShown] = useState(profile.families[0]?.id ?? DRIFTED);
  const [search, setSearch] = useState<string | null>(null);
  const safe = useMemo(() => safeExtents(profile, desk.safes), [profile, desk.safes]);
  const drifted = useMemo(() => [...new Set(drift?.map((change) => change.strip))], [drift]);
  const store = useAppStore();
  const dispatch = useAppDispatch();
  const swap = useSwap(desk);
  const copy = (strip: string, onto: string) => router.navigate(putHref({ strip }, [onto]));
  useShortcuts({
    '/': () => setSearch(''),
    f: () => linked && swap(),
    g: () => router.navigate(`/desk/${desk.id}/log`),
    w: wayBack,
  });

  const wanted = search?.trim().toLowerCase();
  const family = profile.families.find((f) => f.id === shown);
  const strips = wanted ? findStrips(now, wanted) : shown === DRIFTED ? drifted : (family?.strips ?? []);
  const listed = useRef(strips);
  useEffect(() => {
    listed.current = strips;
  });
  // While some are selected a touch selects; with a keyboard beside it, Ctrl adds one and Shift all up to it.
  const open = useCallback(
    (strip: string, { shift, ctrl }: Modifiers = NO_MODIFIERS) => {
      if (shift) dispatch(selectedUpTo({ strip, shown: listed.current }));
      else if (ctrl || store.getState().selection.strips.length > 0) dispatch(toggled(strip));
      else router.navigate(`/desk/${desk.id}/strip/${strip}`);
    },
    [router, desk.id, store, dispatch],
  );
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
      <UnfinishedRestoreCard />
      <CurrentSceneCard now={now} drift={drift} onPress={() => setShown(DRIFTED)} />
      <ScenesAtHand desk={desk} />
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
      <SectionHeading title={band} />
      {shown === DRIFTED && !wanted && !wide ? (
        <DriftList now={now} />
      ) : (
        <DragSpace nameOf={(strip) => displayName(profile, now.state, strip)} onDrop={copy}>
          {' '}
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
                was={was}
                safe={safe[item] ?? 'none'}
                chosen={item === chosen}
                onOpen={open}
                onMove={linked && !desk.showLock ? move : undefined}
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
        <Action
          kind="main"
          grow
          title="Capture scene"
          disabled={!linked}
          onPress={() => router.navigate(deskHref(desk.id, 'capture'))}
        />
        <Action title="Swap" disabled={!linked} onPress={() => swap()} />
        <Action title="Way back" disabled={!linked} onPress={wayBack} />
      </Footer>
    </View>
  );
}

function DeskHead({ now, onSearch, searching }: { now: LiveDesk; onSearch: () => void; searching: boolean }) {
  const router = useRouter();
  const { desk, linked } = now;
  const { data: productions } = useProductionsQuery();
  const production =
    productions?.find((p) => p.id === desk.scene?.productionId) ??
    productions?.find((p) => p.deskId === desk.id && !p.binnedAt);
  const version = production?.versions.find((v) => v.id === desk.scene?.versionId);
  const link = linked ? 'Connected' : desk.link.state === 'reading' ? 'Reading' : 'Not connected';
  return (
    <Header
      title={desk.name}
      onTitle={() => router.navigate('/settings')}
      under={[production?.name, version?.name].filter(Boolean).join(' · ')}
      side={
        <>
          <View style={styles.state}>
            <AppText kind="strong" tone={linked ? 'done' : 'stop'} testID="link-state">
              {linked ? '●' : '○'} {link}
            </AppText>
            <AppText kind="small" tone={desk.mode === 'live' ? 'stop' : 'second'}>
              {desk.mode === 'live' ? 'Live' : 'Studio'}
            </AppText>
          </View>
          <ShowLock desk={desk} />
          <SearchButton what="strips" open={searching} onPress={onSearch} />
        </>
      }
    />
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  state: { alignItems: 'flex-end' },
  search: { marginHorizontal: SPACE.l, marginTop: SPACE.s },
});
