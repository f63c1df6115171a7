import { useRouter } from 'expo-router';
import { useCallback, useMemo, useState } from 'react';
import { FlatList, ScrollView, StyleSheet, View } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/scene';

import { faultOf, useDesksQuery, useScenesQuery } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { Action, Chip, Foot } from '../../ui/actions';
import { Empty, Head } from '../../ui/page';
import { SearchButton, SearchField } from '../../ui/search-field';
import { SPACE } from '../../ui/tokens';
import { Failed, Waiting } from '../../ui/waiting';
import { ProductionSheet } from './production-sheet';
import { SceneRow } from './scene-row';
import { tideLines } from './tide-lines';

/** The history of a production: its versions as tide lines down the page, the newest scene on top. */
export function History({ production, chosen }: { production: ProductionView; chosen: string | undefined }) {
  const router = useRouter();
  const { data: scenes, error, refetch } = useScenesQuery(production.id);
  const { data: desks } = useDesksQuery();
  const onDesk = useAppSelector((root) => root.live.desk?.scene?.id);
  const linked = useAppSelector((root) => root.live.heard && root.live.desk?.link.state === 'linked');
  const [version, setVersion] = useState<string | null>(null);
  const [wayBacks, setWayBacks] = useState(false);
  const [search, setSearch] = useState<string | null>(null);
  const [choosing, setChoosing] = useState(false);
  const versions = useMemo(
    () => production.versions.filter((v) => version === null || v.id === version),
    [production.versions, version],
  );
  const wanted = search?.trim().toLowerCase() ?? '';
  const rows = useMemo(() => {
    const shown = (scenes ?? []).filter(
      (scene) =>
        versions.some((v) => v.id === scene.versionId) &&
        (wayBacks || scene.kind === 'scene') &&
        `${scene.number} ${scene.name} ${scene.note} ${scene.milestone}`.toLowerCase().includes(wanted),
    );
    return tideLines(versions, shown);
  }, [scenes, versions, wayBacks, wanted]);
  const numbers = useMemo(() => new Map(scenes?.map((scene) => [scene.id, scene.number])), [scenes]);
  const open = useCallback(
    (scene: string) => router.navigate(`/mixes/${production.id}/scene/${scene}`),
    [router, production.id],
  );
  const hidden = scenes?.filter((scene) => scene.kind === 'way back').length ?? 0;
  const desk = desks?.find((d) => d.id === production.deskId);

  return (
    <View style={styles.fill}>
      <Head
        over={`${production.kind === 'song' ? 'Song' : 'Show'} · ${desk?.name ?? ''}`}
        title={production.name}
        onTitle={() => setChoosing(true)}
        side={
          <SearchButton what="scenes" open={search !== null} onPress={() => setSearch(search === null ? '' : null)} />
        }
      />
      {search === null ? null : (
        <View style={styles.search}>
          <SearchField autoFocus placeholder="Search names, notes and milestones" value={search} onChange={setSearch} />
        </View>
      )}
      <ScrollView
        horizontal
        showsHorizontalScrollIndicator={false}
        style={styles.chipRow}
        contentContainerStyle={styles.chips}
        role="tablist"
      >
        {production.versions.length > 1 ? (
          <Chip title="All versions" chosen={version === null} onPress={() => setVersion(null)} />
        ) : null}
        {production.versions.map((v) => (
          <Chip
            key={v.id}
            title={v.name}
            chosen={version === v.id || production.versions.length === 1}
            onPress={() => setVersion(v.id)}
          />
        ))}
        {hidden > 0 ? (
          <Chip toggle title={`Way backs ${hidden}`} chosen={wayBacks} onPress={() => setWayBacks(!wayBacks)} />
        ) : null}
      </ScrollView>
      {error ? (
        <Failed fault={faultOf(error)} onAgain={() => void refetch()} />
      ) : scenes ? (
        <FlatList
          style={styles.fill}
          data={rows}
          keyExtractor={(row) => row.scene.id}
          renderItem={({ item }) => (
            <SceneRow
              row={item}
              lanes={versions.length}
              parentNumber={item.scene.parents[0] === undefined ? undefined : numbers.get(item.scene.parents[0])}
              onDesk={item.scene.id === onDesk}
              chosen={item.scene.id === chosen}
              onOpen={open}
            />
          )}
          ListEmptyComponent={
            wanted ? (
              <Empty title="No scene found">Search looks at numbers, names, notes and milestones.</Empty>
            ) : (
              <Empty title="No scenes yet">
                Set the desk up as you like it, then capture it: everything on it is kept.
              </Empty>
            )
          }
        />
      ) : (
        <Waiting what="Opening the scenes" />
      )}
      <ProductionSheet open={choosing} current={production.id} onClose={() => setChoosing(false)} />
      <Foot>
        <Action kind="main" grow title="Capture scene" disabled={!linked} onPress={() => router.navigate('/capture')} />
      </Foot>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  search: { marginHorizontal: SPACE.l, marginTop: SPACE.s },
  chipRow: { flexGrow: 0 },
  chips: { gap: SPACE.s, paddingHorizontal: SPACE.l, paddingVertical: SPACE.m },
});
