import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { CAPTURE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { displayName } from '@old-echo/core/desk/state';
import { sectionNameInText } from '@old-echo/core/phrases/format-value';

import { AuditionBar } from '../components/audition/audition-bar';
import { AuditionProvider, useSharedAudition } from '../components/audition/audition-context';
import type { ListenTarget } from '../components/audition/use-audition';
import {
  type CompareParams,
  compareParams,
  LIVE_DESK,
  parseCompareParams,
  type StateRef,
} from '../components/links/compare-link';
import { Loading } from '../components/loading';
import { StartCombineSheet } from '../components/start-combine-sheet';
import { StateSheet } from '../components/state-picker-sheet';
import { type CompareSide, useSide } from '../components/use-compare-side';
import { useProductionsQuery, useSceneQuery, useScenesInfiniteQuery } from '../store/scenes-api';
import { useLiveDesk } from '../store/use-live-desk';
import { Action } from '../ui/buttons';
import { Empty, Header, useIsLow } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { useSwipe } from '../ui/use-swipe';
import { ComparedMixes, type OpenSheet } from './compare-view';
import { DecideBar } from './decide-bar';
import { type Filter, filterCells } from './difference-filters';
import { SideHeaders } from './side-headers';
import { useAcross } from './use-across';
import { useComparison } from './use-comparison';
import { usePutOnDesk } from './use-put-on-desk';

/** Compares mixes: by default what stands on the desk, as it was captured and as it is. */
export function CompareScreen() {
  const params = useLocalSearchParams<Record<string, string>>();
  const router = useRouter();
  const here = useLiveDesk();
  const asked = parseCompareParams(params);
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
      <Loading what="Loading the desk" />
    );
  if (!here) return <Loading what="Loading the desk" />;
  const scene = here.desk.scene?.id;
  return scene ? (
    <Compare compared={{ a: scene, others: [LIVE_DESK], at: 0, cell: null, desk: here.desk.id }} />
  ) : (
    <Nothing />
  );
}

/** Where a link compares with what is on the desk now: the desk of the first scene in it; null where it does not. */
function useDeskOfNow(asked: CompareParams | undefined): string | null | undefined {
  const sides = asked ? [asked.a, ...asked.others] : [];
  const { data: scene, error } = useSceneQuery(sides.find((of) => of !== LIVE_DESK) ?? skipToken);
  const { data: productions } = useProductionsQuery();
  if (!sides.includes(LIVE_DESK) || error || sides.every((of) => of === LIVE_DESK)) return null;
  return productions?.find(({ id }) => id === scene?.productionId)?.deskId;
}

function Nothing() {
  const router = useRouter();
  return (
    <View style={styles.fill}>
      <Header title="Compare" />
      <Empty title="Nothing to compare yet">
        Capture a scene first; then it can be compared with what is on the desk, or with any other.
      </Empty>
      <View style={styles.centre}>
        <Action
          asks={CAPTURE_ROUTES.captureScene}
          kind="main"
          title="Capture a scene"
          onPress={() => router.navigate('/capture')}
        />
      </View>
    </View>
  );
}

function Compare({ compared }: { readonly compared: CompareParams }) {
  const router = useRouter();
  const { a: ofA, others, at, cell, desk } = compared;
  const a = useSide(ofA, desk);
  const sides = [useSide(others[0], desk), useSide(others[1], desk), useSide(others[2], desk)];
  const { b, across } = useAcross(a, sides[at]);
  const comparison = useComparison(a, b);
  const [choosing, setChoosing] = useState<OpenSheet | null>(null);
  const [filter, setFilter] = useState<Filter>({ audible: false, family: null, section: null });
  const go = (change: Partial<CompareParams>) => router.setParams(compareParams({ ...compared, ...change }));
  const put = (letter: 'A' | 'B', of: StateRef) =>
    go(letter === 'A' ? { a: of } : { others: others.map((other, i) => (i === at ? of : other)) });
  const swap = () => go({ a: others[at] ?? ofA, others: others.map((other, i) => (i === at ? ofA : other)) });
  const [olderA, newerA] = useNeighbours(a);
  const [olderB, newerB] = useNeighbours(b);
  const step = (letter: 'A' | 'B', to: StateRef | undefined) => () => to && put(letter, to);
  const cells = useMemo(() => filterCells(comparison, filter), [comparison, filter]);
  const chosen = cells.find((one) => `${one.strip}/${one.section}` === cell) ?? cells[0];
  const walk = (way: number) => () => {
    const next = chosen && cells[Math.min(cells.length - 1, Math.max(0, cells.indexOf(chosen) + way))];
    if (next) go({ cell: `${next.strip}/${next.section}` });
  };
  useShortcuts({
    n: walk(1),
    p: walk(-1),
    ArrowDown: walk(1),
    ArrowUp: walk(-1),
    v: swap,
    '[': step('A', olderA),
    ']': step('A', newerA),
    '{': step('B', olderB),
    '}': step('B', newerB),
    t: () => across || setChoosing('combine'),
    Escape: () => router.navigate('/mixes'),
  });
  const swipe = useSwipe(walk(1), walk(-1));
  const { profile } = a ?? {};
  const fault = a?.fault ?? b?.fault;

  const body = fault ? (
    <Empty title={fault.message}>{fault.advice}</Empty>
  ) : across?.matched === 0 ? (
    <Empty title="No strip in common">{`${across.words} Name the parts of both under Mixes, or choose another.`}</Empty>
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
      across={across?.words}
    />
  ) : (
    <Loading what="Comparing" />
  );

  return (
    <AuditionProvider
      productionId={a?.productionId ?? b?.productionId}
      a={listenTarget(a)}
      b={across ? undefined : listenTarget(b)}
    >
      <View style={styles.fill}>
        <SideHeaders a={a} b={b} onChoose={setChoosing} onSwap={swap} />
        {body}
        {fault || !a || !b ? null : <Deciding a={a} b={b} compared={compared} sides={sides} onGo={go} />}
        {choosing === 'combine' && a && b ? (
          <StartCombineSheet
            a={a}
            b={b}
            others={[ofA, ...others]}
            cell={
              chosen && profile && b.state
                ? [
                    `${chosen.strip}/${chosen.section}`,
                    `${sectionNameInText(chosen.section)} of ${displayName(profile, b.state, chosen.strip)}`,
                  ]
                : null
            }
            onClose={() => setChoosing(null)}
          />
        ) : null}
        {choosing && choosing !== 'combine' ? (
          <StateSheet
            title={choosing === 'more' ? 'Add a scene to compare' : `Choose ${choosing}`}
            chosen={choosing === 'A' ? a : sides[at]}
            anyDesk
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

interface DecidingProps {
  readonly a: CompareSide;
  readonly b: CompareSide;
  readonly compared: CompareParams;
  readonly sides: readonly (CompareSide | undefined)[];
  readonly onGo: (change: Partial<CompareParams>) => void;
}

/** What is heard, and what of it goes onto the desk: up to four mixes under the keys 1 to 4, for the ear and the desk alike. */
function Deciding({ a, b, compared, sides, onGo }: DecidingProps) {
  const audition = useSharedAudition();
  const desk = usePutOnDesk(a, b);
  const [follows, setFollows] = useState(false);
  const low = useIsLow();
  const mixes = [a, ...sides];
  const put = (side: CompareSide, at = compared.at) =>
    desk?.put(side, ({ wayBack }) => {
      // What was on the desk now is another thing from here on; it stays in the comparison as it was.
      const stays = (of: StateRef) => (of === LIVE_DESK && wayBack ? wayBack.sceneId : of);
      onGo({ a: stays(compared.a), others: compared.others.map(stays), at });
    });
  const follow = (side: CompareSide, at?: number) => {
    if (follows && desk?.isAtOnce && desk.why === null) put(side, at);
  };
  const choose = (i: number) => () => {
    const side = mixes[i];
    if (!side) return;
    if (i > 0) onGo({ at: i - 1 });
    audition?.hear(i === 0 ? 'A' : 'B');
    follow(side, i > 0 ? i - 1 : compared.at);
  };
  useShortcuts({ '1': choose(0), '2': choose(1), '3': choose(2), '4': choose(3) });
  return (
    <View style={low && styles.beside}>
      {desk ? <DecideBar a={a} b={b} desk={desk} onPut={put} follows={follows} onFollows={setFollows} /> : null}
      {audition ? (
        <View style={low && styles.fill}>
          <AuditionBar audition={audition} onHear={(letter) => follow(letter === 'A' ? a : b)} />
        </View>
      ) : null}
    </View>
  );
}

/** A side as it can be listened to, once its state is there. */
function listenTarget(side: CompareSide | undefined): ListenTarget | undefined {
  if (!side?.profile || !side.state) return undefined;
  const { profile, state, of, deskId } = side;
  return { profile, state, ...(of === LIVE_DESK ? { deskId } : { sceneId: of }) };
}

/** The scenes before and after a side in its own version, of those that were loaded. */
function useNeighbours(side: CompareSide | undefined): [older: StateRef | undefined, newer: StateRef | undefined] {
  const { productionId, versionId } = side ?? {};
  const { data } = useScenesInfiniteQuery(
    productionId && versionId ? { production: productionId, versionId, ownOnly: true } : skipToken,
  );
  const scenes = data?.pages.flatMap((page) => page.scenes) ?? [];
  if (side?.of === LIVE_DESK) return [scenes[0]?.id, undefined];
  const at = scenes.findIndex(({ id }) => id === side?.of);
  return at < 0 ? [undefined, undefined] : [scenes[at + 1]?.id, scenes[at - 1]?.id];
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  beside: { flexDirection: 'row' },
  centre: { alignItems: 'center', padding: SPACE.l },
});
