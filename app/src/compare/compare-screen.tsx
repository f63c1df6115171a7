import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { stripName } from '@old-echo/core/desk/state';
import { sectionInText } from '@old-echo/core/desk/format-value';

import { useDesk } from '../store/use-live-desk';
import { useProductionsQuery, useSceneQuery, useScenesInfiniteQuery } from '../store/api';
import { skipToken } from '@reduxjs/toolkit/query';
import { Action } from '../ui/buttons';
import { Empty, Head } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { Waiting } from '../components/loading';
import { AuditionBar } from '../components/audition/audition-bar';
import { AuditionProvider, useSharedAudition } from '../components/audition/audition-context';
import type { Sounding } from '../components/audition/use-audition';
import { BeginSheet } from '../components/start-combine-sheet';
import { useKeys } from '../ui/use-shortcuts';
import { compareHref, NOW, readCompared, type Compared, type SideOf } from '../components/links/compare-link';
import { ComparedMixes, type Choosing } from './compare-view';
import { shownCells, type Filter } from './difference-filters';
import { Sides } from './side-headers';
import { StateSheet } from '../components/state-picker-sheet';
import { useComparison } from './use-comparison';
import { useSide, type Side } from '../components/use-compare-side';
import { useSwipe } from './use-swipe';

/** Compares mixes: by default what stands on the desk, as it was captured and as it is. */
export function CompareScreen() {
  const params = useLocalSearchParams<Record<string, string>>();
  const router = useRouter();
  const here = useDesk();
  const asked = readCompared(params);
  const own = useDeskOfNow(asked);
  // What is on the desk now is a matter of the scenes' own desk: from here on the address says which.
  const named = asked?.desk ?? own;
  useEffect(() => {
    if (asked && !asked.desk && own) router.setParams({ desk: own });
  }, [asked, own, router]);
  if (asked)
    return asked.desk || own === null ? (
      <Compare compared={{ ...asked, desk: named ?? null }} />
    ) : (
      <Waiting what="Looking at the desk" />
    );
  if (!here) return <Waiting what="Looking at the desk" />;
  const scene = here.desk.scene?.id;
  return scene ? (
    <Compare compared={{ a: scene, others: [NOW], at: 0, cell: null, desk: here.desk.id }} />
  ) : (
    <Nothing />
  );
}

/** Where a link compares with what is on the desk now: the desk of the first scene in it; null where it does not. */
function useDeskOfNow(asked: Compared | undefined): string | null | undefined {
  const sides = asked ? [asked.a, ...asked.others] : [];
  const { data: scene, error } = useSceneQuery(sides.find((of) => of !== NOW) ?? skipToken);
  const { data: productions } = useProductionsQuery();
  if (!sides.includes(NOW) || error || sides.every((of) => of === NOW)) return null;
  return productions?.find(({ id }) => id === scene?.productionId)?.deskId;
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

function Compare({ compared }: { readonly compared: Compared }) {
  const router = useRouter();
  const { a: ofA, others, at, cell, desk } = compared;
  const a = useSide(ofA, desk);
  const sides = [useSide(others[0], desk), useSide(others[1], desk), useSide(others[2], desk)];
  const b = sides[at];
  const comparison = useComparison(a, b);
  const [choosing, setChoosing] = useState<Choosing | null>(null);
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
  const walk = (way: number) => () => {
    const next = chosen && cells[Math.min(cells.length - 1, Math.max(0, cells.indexOf(chosen) + way))];
    if (next) go({ cell: `${next.strip}/${next.section}` });
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

  const body = fault ? (
    <Empty title={fault.message}>{fault.advice}</Empty>
  ) : unlike ? (
    <Empty title="Two kinds of desk">{`${a.title} is of a ${a.profile.name}, ${b.title} of a ${b.profile.name}. Choose two of one kind.`}</Empty>
  ) : comparison && a && b && profile && a.state && b.state ? (
    <ComparedMixes
      profile={profile}
      a={{ ...a, state: a.state }}
      b={{ ...b, state: b.state }}
      compared={compared}
      sides={sides}
      comparison={comparison}
      filter={filter}
      cells={cells}
      chosen={chosen}
      swipe={swipe}
      onGo={go}
      onFilter={setFilter}
      onNext={walk(1)}
      onBefore={walk(-1)}
      onSheet={setChoosing}
    />
  ) : (
    <Waiting what="Comparing" />
  );

  return (
    <AuditionProvider productionId={a?.productionId ?? b?.productionId} a={soundingOf(a)} b={soundingOf(b)}>
      <View style={styles.fill}>
        <Sides a={a} b={b} onChoose={setChoosing} onSwap={swap} />
        {body}
        {unlike || fault ? null : <SharedAuditionBar />}
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
    </AuditionProvider>
  );
}

function SharedAuditionBar() {
  const audition = useSharedAudition();
  return audition ? <AuditionBar audition={audition} /> : null;
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
});
