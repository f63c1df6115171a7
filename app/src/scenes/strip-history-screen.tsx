import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import RotateCcw from 'lucide-react-native/icons/rotate-ccw';
import { lazy, Suspense, useMemo, useState } from 'react';
import { FlatList, Pressable, ScrollView, StyleSheet, View } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { sectionOf } from '@old-echo/core/desk/address';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';
import { formatValue, fullSettingName, plural, sectionName } from '@old-echo/core/phrases/format-value';
import { changedKeys, type StripChange, type StripHistory } from '@old-echo/core/scenes/strip-history';

import { when } from '../components/format-time';
import { LoadError, Loading } from '../components/loading';
import { useTouchRecall } from '../components/restore-at-once';
import { StripSheet } from '../components/strip-picker-sheet';
import { useProduction } from '../components/use-production';
import { toApiFault } from '../store/api';
import { useStripHistoryQuery } from '../store/scenes-api';
import { type LiveDesk, useLiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { Empty, Header } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { useLook } from '../ui/theme';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';

/** Drawn only here, so it is fetched only here. */
const PastChart = lazy(() => import('./strip-history-chart'));

/** What became of one strip, one section or one setting over the scenes of a version. */
export function PastScreen() {
  const { production, loaded } = useProduction();
  const now = useLiveDesk();
  if (!loaded || !now) return <Loading what="Loading the strip history" />;
  if (!production) return <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>;
  return now.desk.id === production.deskId ? (
    <StripHistoryView production={production} now={now} />
  ) : (
    <Loading what="Loading the strip history" />
  );
}

function StripHistoryView({ production, now }: { readonly production: ProductionView; readonly now: LiveDesk }) {
  const asked = useLocalSearchParams<{ version?: string; strip?: string }>();
  const router = useRouter();
  const { profile, state } = now;
  const version = production.versions.find((v) => v.id === asked.version) ?? production.versions[0];
  const strip = asked.strip && profile.plainNames[asked.strip] ? asked.strip : (profile.strips[0] ?? '');
  const [choosing, setChoosing] = useState(false);
  const {
    currentData: past,
    error,
    refetch,
  } = useStripHistoryQuery(version ? { version: version.id, strip } : skipToken);
  const back = () => (router.canGoBack() ? router.back() : router.navigate(`/mixes/${production.id}`));
  const ask = (to: { version?: string; strip?: string }) =>
    router.setParams({ version: version?.id ?? '', strip, ...to });
  useShortcuts({ Escape: back, '/': () => setChoosing(true) });
  const name = displayName(profile, state, strip);
  const touch = useTouchRecall(now.desk);
  return (
    <View style={styles.fill}>
      <Header
        over={`Strip history · ${production.name}${version ? ` · ${version.name}` : ''}`}
        title={name}
        onTitle={() => setChoosing(true)}
        onBack={back}
      />
      {production.versions.length > 1 ? (
        <ScrollView horizontal style={styles.chipRow} contentContainerStyle={styles.chips} role="tablist">
          {production.versions.map((v) => (
            <Chip key={v.id} title={v.name} chosen={v.id === version?.id} onPress={() => ask({ version: v.id })} />
          ))}
        </ScrollView>
      ) : null}
      {error ? (
        <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />
      ) : past ? (
        <Moved
          key={`${version?.id} ${strip}`}
          past={past}
          profile={profile}
          names={state}
          onScene={(id) => router.navigate(`/mixes/${production.id}/scene/${id}`)}
          onRestore={(scene, sections, settings) =>
            void touch(
              sceneRecall(now.desk.id, scene.id, [
                { strips: [strip], sections, ...(settings ? { settings } : {}), include: true },
              ]),
              { said: (title) => `${name} restored from ${title}` },
            )
          }
        />
      ) : (
        <Loading what="Searching the scenes" />
      )}
      <StripSheet
        title="Which strip?"
        now={now}
        chosen={strip}
        open={choosing}
        onClose={() => setChoosing(false)}
        onChoose={(chosen) => ask({ strip: chosen })}
      />
    </View>
  );
}

interface MovedProps {
  readonly past: StripHistory;
  readonly profile: Profile;
  readonly names: State;
  readonly onScene: (id: string) => void;
  /** Brings the strip back as it was then: these sections, or only these settings of them. */
  readonly onRestore: (scene: StripChange, sections: string[], settings?: string[]) => void;
}

/** The settings that ever moved to choose from, the chart of one, and the moments. */
function Moved({ past, profile, names, onScene, onRestore }: MovedProps) {
  const keys = useMemo(() => changedKeys(profile, past), [profile, past]);
  const sections = [...new Set(keys.map(({ key }) => sectionOf(key)))];
  const [section, setSection] = useState<string | null>(null);
  const [chosen, setChosen] = useState<string | null>(null);
  const inSection = keys.filter(({ key }) => section === null || sectionOf(key) === section);
  const most = inSection.find((k) => k.key === 'fader/level') ?? [...inSection].sort((a, b) => b.times - a.times)[0];
  const key = inSection.some((k) => k.key === chosen) ? chosen : null;
  const wanted = useMemo(() => new Set(key ? [key] : inSection.map((k) => k.key)), [key, inSection]);
  const moments = useMemo(
    () => past.moments.filter(({ moved }) => Object.keys(moved).some((k) => wanted.has(k))).reverse(),
    [past, wanted],
  );
  const nameOf = (k: string) => fullSettingName(profile, `${past.strip}/${k}`, names);
  if (keys.length === 0)
    return (
      <Empty title="No changes">
        {past.scenes === 0
          ? 'This version has no scenes yet.'
          : `This strip is the same in ${past.scenes === 1 ? 'the only scene' : `all ${past.scenes} scenes`}. Choose another above.`}
      </Empty>
    );
  const drawn = key ?? most?.key ?? '';
  return (
    <FlatList
      style={styles.fill}
      contentContainerStyle={styles.list}
      data={moments}
      keyExtractor={(moment) => moment.id}
      initialNumToRender={12}
      ListHeaderComponent={
        <View style={styles.top}>
          <View style={styles.wrap} role="tablist">
            <Chip title="Whole strip" chosen={section === null} onPress={() => setSection(null)} />
            {sections.map((s) => (
              <Chip key={s} title={sectionName(s)} chosen={section === s} onPress={() => setSection(s)} />
            ))}
          </View>
          {inSection.length > 1 ? (
            <ScrollView
              horizontal
              showsHorizontalScrollIndicator={false}
              contentContainerStyle={styles.inner}
              role="tablist"
            >
              {inSection.map(({ key: k, times }) => (
                <Chip
                  key={k}
                  title={`${nameOf(k)} ${times}`}
                  chosen={k === drawn}
                  onPress={() => setChosen(k === chosen ? null : k)}
                />
              ))}
            </ScrollView>
          ) : null}
          <View style={styles.chart}>
            <Suspense fallback={<Loading what="Drawing" />}>
              <PastChart
                key={drawn}
                past={past}
                profile={profile}
                name={nameOf(drawn)}
                setting={drawn}
                onScene={onScene}
              />
            </Suspense>
          </View>
          <AppText kind="heading">
            {key ? nameOf(key) : section ? sectionName(section) : 'The strip'} changed in{' '}
            {plural(moments.length, 'scene')} of {past.scenes}
          </AppText>
        </View>
      }
      renderItem={({ item }) => (
        <MomentRow
          moment={item}
          wanted={wanted}
          past={past}
          profile={profile}
          names={names}
          onScene={onScene}
          onRestore={(scene) => onRestore(scene, [key ? sectionOf(key) : (section ?? '*')], key ? [key] : undefined)}
        />
      )}
    />
  );
}

function MomentRow({
  moment,
  wanted,
  past,
  profile,
  names,
  onScene,
  onRestore,
}: Omit<MovedProps, 'onRestore'> & {
  readonly moment: StripChange;
  readonly wanted: ReadonlySet<string>;
  readonly onRestore: (scene: StripChange) => void;
}) {
  const look = useLook();
  const moved = Object.entries(moment.moved).filter(([key]) => wanted.has(key));
  const words = moved.map(([key, value]) => {
    const address = `${past.strip}/${key}`;
    const spec = specOf(profile, address);
    return `${fullSettingName(profile, address, names)} ${spec ? formatValue(spec, value) : ''}`;
  });
  return (
    <View style={[styles.moment, { borderColor: look.line }]}>
      <Pressable role="link" testID={`history-${moment.number}`} onPress={() => onScene(moment.id)} style={styles.fill}>
        <AppText numberOfLines={1}>
          <AppText kind="value" tone="second">
            {moment.number || '–'}{' '}
          </AppText>
          <AppText kind="strong">{moment.name}</AppText>
          <AppText kind="small" tone="second">
            {'  '}
            {when(moment.madeAt)}
          </AppText>
        </AppText>
        <AppText kind="small" numberOfLines={2}>
          {words.slice(0, 6).join(' · ')}
          {words.length > 6 ? ` · ${words.length - 6} more` : ''}
        </AppText>
      </Pressable>
      <IconAction
        asks={DESK_RECALL_ROUTES.startRestore}
        of={RotateCcw}
        name={`Restore the strip from ${sceneTitle(moment)}`}
        onPress={() => onRestore(moment)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  // As high as the chart, before it is drawn: what stands below stays where it is.
  chart: { minHeight: 243 },
  fill: { flex: 1, minWidth: 0 },
  chipRow: { flexGrow: 0, width: '100%', maxWidth: MAX_TEXT_WIDTH, alignSelf: 'center' },
  chips: { gap: SPACE.s, paddingHorizontal: SPACE.l, paddingTop: SPACE.m },
  list: {
    paddingHorizontal: SPACE.l,
    width: '100%',
    maxWidth: MAX_TEXT_WIDTH,
    alignSelf: 'center',
    paddingBottom: SPACE.xl,
  },
  top: { gap: SPACE.m, paddingVertical: SPACE.m },
  wrap: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
  inner: { gap: SPACE.s },
  moment: {
    flexDirection: 'row',
    alignItems: 'center',
    borderBottomWidth: 1,
    minHeight: 56,
    paddingVertical: SPACE.xs,
  },
});
