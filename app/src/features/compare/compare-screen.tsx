import { useLocalSearchParams, useRouter } from 'expo-router';
import { lazy, Suspense, useMemo, useState, type ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import Combine from 'lucide-react-native/icons/combine';
import Plus from 'lucide-react-native/icons/plus';

import { outputDifferences } from '@old-echo/core/compare/compare';
import { gist } from '@old-echo/core/compare/gist';
import { GLOBAL_FAMILY, stripFamily } from '@old-echo/core/desk/profile';
import { stripName } from '@old-echo/core/desk/state';
import { sectionInText } from '@old-echo/core/desk/wording';

import { useDesk } from '../../live/use-desk';
import { useScenesInfiniteQuery } from '../../store/api';
import { skipToken } from '@reduxjs/toolkit/query';
import { Action, Chip } from '../../ui/actions';
import { IconAction } from '../../ui/menu';
import { Body, Empty, Head, Split, useWide } from '../../ui/page';
import { SPACE } from '../../ui/tokens';
import { Waiting } from '../../ui/waiting';
import { Sentence, Words } from '../../ui/words';
import { AuditionBar } from '../audition/audition-bar';
import { louder, useAudition, type Sounding } from '../audition/use-audition';
import { BeginSheet } from '../combine/begin-sheet';
import { useKeys } from '../shell/use-keys';
import { CellPicture } from './cell-picture';
import { compareHref, MOST_OTHERS, NOW, readCompared, type Compared, type SideOf } from './compare-link';
import { DifferenceList } from './difference-list';
import { Filters, shownCells, type Filter } from './filters';
import { Levels } from './levels';
import { Others } from './others';
import { Sides } from './sides';
import { StateSheet } from './state-sheet';
import { StripDetail } from './strip-detail';
import { useComparison } from './use-comparison';
import { useSide, type Side } from './use-side';
import { useSwipe } from './use-swipe';

const SoundCharts = lazy(() => import('../audition/sound-charts'));
const OutputsChart = lazy(() => import('./outputs-chart'));

/** Compares mixes: by default what stands on the desk, as it was captured and as it is. */
export function CompareScreen() {
  const params = useLocalSearchParams<Record<string, string>>();
  const now = useDesk();
  const asked = readCompared(params);
  const standing = now?.desk.scene?.id;
  const compared = asked ?? (standing ? { a: standing, others: [NOW], at: 0, cell: null } : undefined);
  if (!now) return <Waiting what="Looking at the desk" />;
  return compared ? <Compare compared={compared} /> : <Nothing />;
}

function Nothing() {
  const router = useRouter();
  return (
    <View style={styles.fill}>
      <Head title="Compare" />
      <Empty title="Nothing to compare yet">
        Capture a scene first; then it can be compared with what is on the desk, or with any other.
      </Empty>
      <View style={styles.centre}>
        <Action kind="main" title="Capture a scene" onPress={() => router.navigate('/capture')} />
      </View>
    </View>
  );
}

type Look = 'differences' | 'levels' | 'outputs' | 'sound';

function Compare({ compared }: { readonly compared: Compared }) {
  const router = useRouter();
  const wide = useWide();
  const { a: ofA, others, at, cell } = compared;
  const a = useSide(ofA);
  const sides = [useSide(others[0]), useSide(others[1]), useSide(others[2])];
  const b = sides[at];
  const comparison = useComparison(a, b);
  const [choosing, setChoosing] = useState<'A' | 'B' | 'more' | 'combine' | null>(null);
  const [view, setView] = useState<Look>('differences');
  const audition = useAudition(a?.productionId ?? b?.productionId, soundingOf(a), soundingOf(b));
  const { mixA, mixB, heard } = audition ?? {};
  const [filter, setFilter] = useState<Filter>({ audible: false, family: null, section: null });
  const go = (change: Partial<Compared>) => router.setParams(paramsOf({ ...compared, ...change }));
  const put = (letter: 'A' | 'B', of: SideOf) =>
    go(letter === 'A' ? { a: of } : { others: others.map((other, i) => (i === at ? of : other)) });
  const swap = () => go({ a: others[at] ?? ofA, others: others.map((other, i) => (i === at ? ofA : other)) });
  const [olderA, newerA] = useNeighbours(a);
  const [olderB, newerB] = useNeighbours(b);
  const step = (letter: 'A' | 'B', to: SideOf | undefined) => () => to && put(letter, to);
  const cells = useMemo(() => shownCells(comparison, filter), [comparison, filter]);
  const chosen = cells.find((one) => `${one.strip}/${one.section}` === cell) ?? cells[0];
  const choose = (id: string) => go({ cell: id });
  const walk = (way: number) => () => {
    const next = chosen && cells[Math.min(cells.length - 1, Math.max(0, cells.indexOf(chosen) + way))];
    if (next) choose(`${next.strip}/${next.section}`);
  };
  useKeys({
    n: walk(1),
    p: walk(-1),
    ArrowDown: walk(1),
    ArrowUp: walk(-1),
    v: swap,
    '[': step('A', olderA),
    ']': step('A', newerA),
    '{': step('B', olderB),
    '}': step('B', newerB),
    t: () => setChoosing('combine'),
    Escape: () => router.navigate('/mixes'),
  });
  const swipe = useSwipe(walk(1), walk(-1));
  const { profile } = a ?? {};
  const fault = a?.fault ?? b?.fault;
  const unlike = a?.profile && b?.profile && a.profile !== b.profile;

  const body = (): ReactNode => {
    if (fault) return <Empty title={fault.message}>{fault.advice}</Empty>;
    if (unlike)
      return (
        <Empty title="Two kinds of desk">{`${a.title} is of a ${a.profile.name}, ${b.title} of a ${b.profile.name}. Choose two of one kind.`}</Empty>
      );
    if (!comparison || !profile || !a?.state || !b?.state) return <Waiting what="Comparing" />;
    const names = b.state;
    const id = chosen ? `${chosen.strip}/${chosen.section}` : null;
    const differing = new Set(cells.map(({ strip }) => strip));
    const strips = profile.strips.filter((strip) =>
      wide ? stripFamily(profile, strip)?.id !== GLOBAL_FAMILY || differing.has(strip) : differing.has(strip),
    );
    const inFamily = (strip: string) => !filter.family || stripFamily(profile, strip)?.id === filter.family;
    const detail = chosen ? (
      <StripDetail
        profile={profile}
        a={a.state}
        b={b.state}
        comparison={comparison}
        chosen={chosen}
        swipe={swipe}
        solo={heard?.solo === chosen.strip}
        onSolo={() => audition?.choose({ solo: heard?.solo === chosen.strip ? null : chosen.strip })}
        onNext={walk(1)}
        onBefore={walk(-1)}
      />
    ) : null;
    const list = (
      <Body tight={!wide}>
        <View style={styles.row}>
          <View style={styles.fill}>
            <Sentence phrases={gist(profile, names, comparison, louder(mixA?.view, mixB?.view))} />
          </View>
          <IconAction of={Combine} name="Combine A and B" onPress={() => setChoosing('combine')} />
          {others.length < MOST_OTHERS ? (
            <IconAction of={Plus} name="Compare A with one more" onPress={() => setChoosing('more')} />
          ) : null}
        </View>
        <Others
          sides={sides}
          at={at}
          a={a}
          onChoose={(i) => go({ at: i, cell: null })}
          onRemove={(i) => go({ others: others.filter((_, n) => n !== i), at: 0 })}
        />
        <View style={styles.chips} role="tablist">
          <Chip title="Differences" chosen={view === 'differences'} onPress={() => setView('differences')} />
          <Chip title="Levels" chosen={view === 'levels'} onPress={() => setView('levels')} />
          <Chip title="Outputs" chosen={view === 'outputs'} onPress={() => setView('outputs')} />
          <Chip title="Sound" chosen={view === 'sound'} onPress={() => setView('sound')} />
        </View>
        {view === 'sound' ? (
          audition && mixA?.view?.measured && mixB?.view?.measured ? (
            <Suspense fallback={<Waiting what="Drawing" />}>
              <SoundCharts a={mixA.view} b={mixB.view} names={{ a: a.title, b: b.title }} audition={audition} />
            </Suspense>
          ) : (
            <Empty title="Not listened to yet">Listen to A and B below; then what was measured is shown here.</Empty>
          )
        ) : view === 'outputs' ? (
          <Suspense fallback={<Waiting what="Drawing" />}>
            <OutputsChart profile={profile} names={names} outputs={outputDifferences(profile, a.state, b.state)} />
          </Suspense>
        ) : view === 'levels' ? (
          <Levels profile={profile} a={a.state} b={b.state} strips={profile.strips.filter(inFamily)} />
        ) : (
          <>
            <Filters profile={profile} comparison={comparison} filter={filter} onFilter={setFilter} />
            {cells.length === 0 ? (
              <Empty title={comparison.settings === 0 ? 'The same' : 'Nothing left'}>
                {comparison.settings === 0
                  ? 'Every setting is where it is in the other. Choose another scene above.'
                  : 'Nothing that differs passes these filters.'}
              </Empty>
            ) : (
              <CellPicture
                profile={profile}
                names={names}
                cells={cells}
                strips={strips.filter(inFamily)}
                allSections={wide}
                chosen={id}
                onChoose={choose}
              />
            )}
            {wide ? null : detail}
            {cells.length > 0 ? <Words kind="heading">Most heard first</Words> : null}
            <DifferenceList profile={profile} names={names} cells={cells} chosen={id} onChoose={choose} />
          </>
        )}
      </Body>
    );
    return wide ? <Split showDetail={false} list={list} detail={<Body>{detail}</Body>} /> : list;
  };

  return (
    <View style={styles.fill}>
      <Sides a={a} b={b} onChoose={setChoosing} onSwap={swap} />
      {body()}
      {audition && !unlike && !fault ? <AuditionBar audition={audition} /> : null}
      {choosing === 'combine' && a && b ? (
        <BeginSheet
          a={a}
          b={b}
          others={[ofA, ...others]}
          cell={
            chosen && profile && b.state
              ? [
                  `${chosen.strip}/${chosen.section}`,
                  `${sectionInText(chosen.section)} of ${stripName(profile, b.state, chosen.strip)}`,
                ]
              : null
          }
          onClose={() => setChoosing(null)}
        />
      ) : null}
      {choosing && choosing !== 'combine' ? (
        <StateSheet
          title={choosing === 'more' ? 'Compare A with another' : `What is ${choosing}`}
          chosen={choosing === 'A' ? a : b}
          open
          onClose={() => setChoosing(null)}
          onChoose={(of) =>
            choosing === 'more' ? go({ others: [...others, of], at: others.length, cell: null }) : put(choosing, of)
          }
        />
      ) : null}
    </View>
  );
}

/** A side as it can be listened to, once its state is there. */
function soundingOf(side: Side | undefined): Sounding | undefined {
  if (!side?.profile || !side.state) return undefined;
  const { profile, state, of, deskId } = side;
  return { profile, state, ...(of === NOW ? { deskId } : { sceneId: of }) };
}

const paramsOf = (compared: Compared): Record<string, string | undefined> => {
  const { params } = compareHref(compared) as { params: Record<string, string> };
  return { at: undefined, cell: undefined, ...params };
};

/** The scenes before and after a side in its own version, of those that were loaded. */
function useNeighbours(side: Side | undefined): [older: SideOf | undefined, newer: SideOf | undefined] {
  const { productionId, versionId } = side ?? {};
  const { data } = useScenesInfiniteQuery(
    productionId && versionId ? { production: productionId, versionId, ownOnly: true } : skipToken,
  );
  const scenes = data?.pages.flatMap((page) => page.scenes) ?? [];
  if (side?.of === NOW) return [scenes[0]?.id, undefined];
  const at = scenes.findIndex(({ id }) => id === side?.of);
  return at < 0 ? [undefined, undefined] : [scenes[at + 1]?.id, scenes[at - 1]?.id];
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  centre: { alignItems: 'center', padding: SPACE.l },
  chips: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
});
