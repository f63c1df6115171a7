import { useLocalSearchParams, useRouter } from 'expo-router';
import { lazy, Suspense, useMemo, useRef, useState, type ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import Plus from 'lucide-react-native/icons/plus';
import X from 'lucide-react-native/icons/x';

import { outputDifferences, type Comparison } from '@old-echo/core/compare/compare';
import { gist } from '@old-echo/core/compare/gist';
import { GLOBAL_FAMILY, stripFamily, type Profile } from '@old-echo/core/desk/profile';
import { stripName, type State } from '@old-echo/core/desk/state';
import { plural, sectionName } from '@old-echo/core/desk/wording';

import type { RenderRequest, RenderView } from '@old-echo/core/contracts/sound';

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
import { useMix } from '../audition/use-mix';
import { useKeys } from '../shell/use-keys';
import { CellDetail } from './cell-detail';
import { CellPicture } from './cell-picture';
import { compareHref, MOST_OTHERS, NOW, readCompared, type Compared, type SideOf } from './compare-link';
import { DifferenceList } from './difference-list';
import { Levels } from './levels';
import { Sides } from './sides';
import { StateSheet } from './state-sheet';
import { useComparison } from './use-comparison';
import { useSide, type Side } from './use-side';

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
  const [choosing, setChoosing] = useState<'A' | 'B' | 'more' | null>(null);
  const [view, setView] = useState<Look>('differences');
  const [listening, setListening] = useState(0);
  const [solo, setSolo] = useState<string | null>(null);
  const production = a?.productionId ?? b?.productionId;
  const mixA = useMix(mixOf(listening > 0 ? a : undefined, production, solo, listening));
  const mixB = useMix(mixOf(listening > 0 ? b : undefined, production, solo, listening));
  const louder = difference(mixA.view, mixB.view);
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
      <Detail
        profile={profile}
        a={a.state}
        b={b.state}
        comparison={comparison}
        chosen={chosen}
        swipe={swipe}
        solo={solo === chosen.strip}
        onSolo={() => setSolo(solo === chosen.strip ? null : chosen.strip)}
        onNext={walk(1)}
        onBefore={walk(-1)}
      />
    ) : null;
    const list = (
      <Body tight={!wide}>
        <View style={styles.row}>
          <View style={styles.fill}>
            <Sentence phrases={gist(profile, names, comparison, louder)} />
          </View>
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
          mixA.view?.measured && mixB.view?.measured ? (
            <Suspense fallback={<Waiting what="Drawing" />}>
              <SoundCharts a={mixA.view} b={mixB.view} names={{ a: a.title, b: b.title }} />
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
      {a?.state && b?.state && !unlike && !fault ? (
        <AuditionBar a={mixA} b={mixB} listening={listening > 0} onListen={() => setListening(listening + 1)} />
      ) : null}
      {choosing ? (
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

/** The mix of one side; `again` makes it another request, so that it is begun anew. */
function mixOf(
  side: Side | undefined,
  productionId: string | undefined,
  solo: string | null,
  again: number,
): (RenderRequest & { readonly again?: number }) | undefined {
  const output = side?.profile?.families.find(({ id }) => id === 'main')?.strips[0];
  if (!side || !productionId || !output) return undefined;
  const state = side.of === NOW ? { deskId: side.deskId } : { sceneId: side.of };
  return { productionId, ...state, recall: undefined, output, solo, law: 'constant power', again };
}

/** B's loudness over A's in LU, once both are measured. */
function difference(a: RenderView | undefined, b: RenderView | undefined): number | undefined {
  const [left, right] = [a?.measured?.loudness.integrated, b?.measured?.loudness.integrated];
  return left == null || right == null ? undefined : right - left;
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

interface Filter {
  readonly audible: boolean;
  readonly family: string | null;
  readonly section: string | null;
}

const shownCells = (comparison: Comparison | undefined, { audible, family, section }: Filter) =>
  (comparison?.cells ?? []).filter(
    (cell) =>
      (!audible || cell.audible) &&
      (!family || cell.strip.startsWith(`${family}.`)) &&
      (!section || cell.section === section),
  );

interface FiltersProps {
  readonly profile: Profile;
  readonly comparison: Comparison;
  readonly filter: Filter;
  readonly onFilter: (filter: Filter) => void;
}

function Filters({ profile, comparison, filter, onFilter }: FiltersProps) {
  const families = profile.families.filter(({ id }) =>
    comparison.cells.some(({ strip }) => strip.startsWith(`${id}.`)),
  );
  const sections = [...new Set(comparison.cells.map(({ section }) => section))];
  const toggle = (change: Partial<Filter>) => onFilter({ ...filter, ...change });
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.row}>
      <Chip toggle title="Audible" chosen={filter.audible} onPress={() => toggle({ audible: !filter.audible })} />
      {families.length > 1
        ? families.map(({ id, name }) => (
            <Chip
              key={id}
              toggle
              title={name}
              chosen={filter.family === id}
              onPress={() => toggle({ family: filter.family === id ? null : id })}
            />
          ))
        : null}
      {sections.length > 1
        ? sections.map((section) => (
            <Chip
              key={section}
              toggle
              title={sectionName(section)}
              chosen={filter.section === section}
              onPress={() => toggle({ section: filter.section === section ? null : section })}
            />
          ))
        : null}
    </ScrollView>
  );
}

interface OthersProps {
  readonly a: Side;
  readonly sides: readonly (Side | undefined)[];
  readonly at: number;
  readonly onChoose: (at: number) => void;
  readonly onRemove: (at: number) => void;
}

/** What A is compared against, each with how far it is away; one of them is B. */
function Others({ a, sides, at, onChoose, onRemove }: OthersProps) {
  const known = sides.flatMap((side, i) => (side ? [{ side, i }] : []));
  if (known.length < 2) return null;
  return (
    <View style={styles.chips}>
      {known.length > 1
        ? known.map(({ side, i }) => (
            <Other key={`${side.of}-${i}`} a={a} side={side} chosen={i === at} onPress={() => onChoose(i)} />
          ))
        : null}
      <IconAction of={X} name="Take B out" onPress={() => onRemove(at)} />
    </View>
  );
}

function Other({ a, side, chosen, onPress }: { a: Side; side: Side; chosen: boolean; onPress: () => void }) {
  const comparison = useComparison(a, side);
  return (
    <Chip
      title={`${side.title}${comparison ? ` · ${plural(comparison.settings, 'setting')}` : ''}`}
      chosen={chosen}
      onPress={onPress}
    />
  );
}

interface DetailProps {
  readonly profile: Profile;
  readonly a: State;
  readonly b: State;
  readonly comparison: Comparison;
  readonly chosen: Comparison['cells'][number];
  readonly swipe: object;
  /** Whether only this strip is listened to. */
  readonly solo: boolean;
  readonly onSolo: () => void;
  readonly onNext: () => void;
  readonly onBefore: () => void;
}

/** Everything that differs on the strip that is looked at, the chosen section first. */
function Detail({ profile, a, b, comparison, chosen, swipe, solo, onSolo, onNext, onBefore }: DetailProps) {
  const own = comparison.cells.filter(({ strip }) => strip === chosen.strip);
  return (
    <View style={styles.detail} {...swipe} testID="detail">
      <View style={styles.row}>
        <Words kind="title" style={styles.fill} numberOfLines={1}>
          {stripName(profile, b, chosen.strip)}
        </Words>
        {chosen.strip.startsWith('in.') ? <Chip toggle title="Solo" chosen={solo} onPress={onSolo} /> : null}
        <Action kind="quiet" title="‹ Before" onPress={onBefore} />
        <Action kind="quiet" title="Next ›" onPress={onNext} />
      </View>
      {[chosen, ...own.filter((cell) => cell !== chosen)].map((cell) => (
        <CellDetail key={cell.section} profile={profile} a={a} b={b} cell={cell} />
      ))}
    </View>
  );
}

/** How far a finger goes to the side before it is a swipe, in pixels. */
const SWIPE = 60;

function useSwipe(onLeft: () => void, onRight: () => void): object {
  const start = useRef<{ x: number; y: number } | null>(null);
  return {
    onTouchStart: ({ nativeEvent }: Touch) => (start.current = { x: nativeEvent.pageX, y: nativeEvent.pageY }),
    onTouchEnd: ({ nativeEvent }: Touch) => {
      if (!start.current) return;
      const [x, y] = [nativeEvent.pageX - start.current.x, nativeEvent.pageY - start.current.y];
      start.current = null;
      if (Math.abs(x) < SWIPE || Math.abs(y) > Math.abs(x) / 2) return;
      if (x < 0) onLeft();
      else onRight();
    },
  };
}

interface Touch {
  readonly nativeEvent: { readonly pageX: number; readonly pageY: number };
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  centre: { alignItems: 'center', padding: SPACE.l },
  chips: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  detail: { gap: SPACE.m },
});
