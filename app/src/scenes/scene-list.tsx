import { useRouter } from 'expo-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { FlatList, StyleSheet, View } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { CAPTURE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { plural } from '@old-echo/core/phrases/format-value';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { LoadError, Loading } from '../components/loading';
import { restoresAtOnce, useTouchRecall } from '../components/restore-at-once';
import { useCombinationsQuery, useFollowersQuery } from '../store/combine-api';
import { deskHref } from '../store/desk-address';
import { useDesksQuery } from '../store/desk-api';
import { filtered, foldToggled, searchToggled } from '../store/scene-list-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { Chip, MainAction } from '../ui/buttons';
import { ChipLine } from '../ui/chip-row';
import { Empty, Header, SectionHeading } from '../ui/layout';
import { MoreAction } from '../ui/menu';
import { SearchButton } from '../ui/search-field';
import { useShortcuts } from '../ui/use-shortcuts';
import { AutosaveGroupRow, GROUP_ROW_HEIGHT } from './autosave-group-row';
import { DraftsAndFollowers } from './drafts-and-followers';
import type { SceneListEntry } from './group-autosaves';
import { ProductionSheet } from './production-picker-sheet';
import { Filters } from './scene-filters';
import { sceneHeight, SceneRow } from './scene-row';
import type { SceneList } from './use-scene-list';
import { VersionCard } from './version-card';
import { lanesOf, NO_LANES } from './version-graph';
import { WorkOnThis } from './work-on-this';

interface HistoryProps {
  readonly production: ProductionView;
  readonly list: SceneList;
  readonly chosen: string | undefined;
}

/** The history of a production: its versions as tide lines down the page, the newest scene on top. */
export function History({ production, list, chosen }: HistoryProps) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const searching = useAppSelector((root) => root.mixes.searching);
  const { data: desks, isLoading: isFindingDesk } = useDesksQuery();
  const [choosing, setChoosing] = useState(false);
  // What waits to be gone on with stands above the scenes: they come together, so that none moves away under a finger.
  const [making, behind] = [useCombinationsQuery(production.id), useFollowersQuery(production.id)];
  const loading = isFindingDesk || list.loading || making.isLoading || behind.isLoading;
  useShortcuts({ '/': () => dispatch(searchToggled()) });
  const version = production.versions.find((v) => v.id === list.filter.versionId);
  const desk = desks?.find((d) => d.id === production.deskId);
  const only = production.versions.length === 1 ? production.versions[0] : undefined;
  const about = version ?? only;
  const isLinked = useAppSelector((root) => root.live.heard && root.live.desk?.link.state === 'linked');
  const whyNotLinked = !isLinked && `${desk?.name ?? 'The desk'} is not connected.`;
  // Into the song or show that one looks at, whatever stands on the desk.
  const capture = () => {
    const into = about ? `version=${about.id}` : `production=${production.id}`;
    router.navigate(deskHref(production.deskId, `capture?${into}`));
  };
  return (
    <View style={styles.fill}>
      <Header
        over={`${production.kind === 'song' ? 'Song' : 'Show'} · ${desk?.name ?? ''}`}
        title={production.name}
        onTitle={() => setChoosing(true)}
        side={
          <>
            <SearchButton what="scenes" open={searching} onPress={() => dispatch(searchToggled())} />
            <MoreAction of={production.name} onPress={() => router.navigate(`/mixes/${production.id}/about`)} />
          </>
        }
      />
      <ChipLine>
        {only ? null : (
          <Chip
            title="All versions"
            chosen={version === undefined}
            onPress={() => dispatch(filtered({ versionId: undefined }))}
          />
        )}
        {production.versions.map((v) => (
          <Chip
            key={v.id}
            title={v.name}
            chosen={about?.id === v.id}
            onPress={() => dispatch(filtered({ versionId: only ? undefined : v.id }))}
          />
        ))}
      </ChipLine>
      {searching ? <Filters production={production} filter={list.filter} /> : null}
      {desk && !searching ? <WorkOnThis desk={desk} production={production} /> : null}
      {about && !searching ? <VersionCard production={production} version={about} /> : null}
      {searching || loading ? null : <DraftsAndFollowers production={production} version={about} />}
      {list.narrowed ? <SectionHeading title={`${plural(list.total, 'scene')} found`} /> : null}
      {list.fault ? (
        <LoadError fault={list.fault} onAgain={list.again} />
      ) : loading ? (
        // What is known of the desk stands above it and comes first: this is another line then, not one that moved.
        <Loading key={isFindingDesk ? 'desk' : 'scenes'} what="Loading the scenes" />
      ) : (
        <Scenes production={production} list={list} chosen={chosen} />
      )}
      <ProductionSheet open={choosing} current={production.id} onClose={() => setChoosing(false)} />
      <MainAction
        asks={CAPTURE_ROUTES.captureScene}
        title="Capture scene"
        disabled={whyNotLinked}
        onPress={() => capture()}
      />
    </View>
  );
}

const height = (entry: SceneListEntry): number => (entry.kind === 'fold' ? GROUP_ROW_HEIGHT : sceneHeight(entry.scene));

function Scenes({ production, list, chosen }: HistoryProps) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const desk = useAppSelector((root) => root.live.desk) ?? undefined;
  const onDesk = desk?.scene?.id;
  const touch = useTouchRecall(desk);
  // At a show a scene is looked at on its page first.
  const isAtOnce = desk?.id === production.deskId && restoresAtOnce(desk);
  const { entries, filter, narrowed } = list;
  const versions = useMemo(
    () => production.versions.filter((v) => filter.versionId === undefined || v.id === filter.versionId),
    [production.versions, filter.versionId],
  );
  const lanes = useMemo(() => {
    if (narrowed) return NO_LANES;
    // A version alone does not bend into what is not shown.
    const all = lanesOf(versions);
    return versions.length === 1 ? all.map((lane) => ({ ...lane, joint: null })) : all;
  }, [versions, narrowed]);
  const offsets = useMemo(() => {
    const tops = [0];
    for (const entry of entries) tops.push((tops.at(-1) ?? 0) + height(entry));
    return tops;
  }, [entries]);
  const open = useCallback(
    (scene: string) => router.navigate(`/mixes/${production.id}/scene/${scene}`),
    [router, production.id],
  );
  const restore = useCallback(
    ({ id, scope }: SceneView) => void touch(sceneRecall(production.deskId, id, scope ?? ALL_EXCEPT_GLOBALS)),
    [touch, production.deskId],
  );
  const toggle = useCallback((key: string) => dispatch(foldToggled(key)), [dispatch]);
  const row = useCallback(
    ({ item }: { item: SceneListEntry }) => {
      const first = item.kind === 'scene' ? item.scene : item.scenes[0];
      const lane = Math.max(
        0,
        versions.findIndex((v) => v.id === first?.versionId),
      );
      const lines = { lane, room: versions.length, lanes };
      return item.kind === 'scene' ? (
        <SceneRow
          {...lines}
          scene={item.scene}
          version={versions.length > 1 ? versions[lane]?.name : undefined}
          onDesk={item.scene.id === onDesk}
          chosen={item.scene.id === chosen}
          onOpen={open}
          onRestore={isAtOnce ? restore : undefined}
        />
      ) : (
        <AutosaveGroupRow {...lines} name={item.key} scenes={item.scenes} open={item.open} onToggle={toggle} />
      );
    },
    [versions, lanes, onDesk, chosen, open, toggle, isAtOnce, restore],
  );
  const view = useRef<FlatList<SceneListEntry>>(null);
  const seen = useRef({ top: 0, height: 0 });
  const at = entries.findIndex((entry) => entry.key === chosen);
  useEffect(() => {
    // Keeps the scene that is stepped to in view.
    const y = offsets[at];
    if (y === undefined) return;
    const { top, height: room } = seen.current;
    if (y < top || y + 66 > top + room)
      view.current?.scrollToOffset({ offset: Math.max(0, y - room / 2), animated: false });
  }, [at, offsets]);
  return (
    <FlatList
      ref={view}
      style={styles.fill}
      data={entries}
      keyExtractor={(entry) => entry.key}
      getItemLayout={(_, index) => ({
        index,
        offset: offsets[index] ?? 0,
        length: entries[index] ? height(entries[index]) : 0,
      })}
      initialNumToRender={14}
      maxToRenderPerBatch={6}
      updateCellsBatchingPeriod={16}
      windowSize={9}
      onEndReachedThreshold={2}
      onEndReached={list.more}
      onLayout={(event) => (seen.current.height = event.nativeEvent.layout.height)}
      onScroll={(event) => (seen.current.top = event.nativeEvent.contentOffset.y)}
      scrollEventThrottle={32}
      renderItem={row}
      ListEmptyComponent={
        narrowed ? (
          <Empty title="No scene found">
            Search covers numbers, names, notes, tags, milestones and strips that moved.
          </Empty>
        ) : (
          <Empty title="No scenes yet">Set up the desk, then capture it: every setting is saved.</Empty>
        )
      }
    />
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
});
