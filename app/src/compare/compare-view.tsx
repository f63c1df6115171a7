import Combine from 'lucide-react-native/icons/combine';
import Plus from 'lucide-react-native/icons/plus';
import { lazy, Suspense, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { type CellDifference, comparable, type Comparison, outputDifferences } from '@old-echo/core/compare/compare';
import { COMBINATION_ROUTES } from '@old-echo/core/contracts/routes/combine-routes';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import type { State } from '@old-echo/core/desk/state';
import { describeComparison } from '@old-echo/core/phrases/describe-comparison';

import { useSharedAudition } from '../components/audition/audition-context';
import { loudnessDifferenceLu } from '../components/audition/use-audition';
import { type CompareParams, MAX_COMPARE_TARGETS } from '../components/links/compare-link';
import { Loading } from '../components/loading';
import type { CompareSide } from '../components/use-compare-side';
import { AppText, Sentence } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Body, Card, Empty, Split, useIsWide } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { SPACE } from '../ui/tokens';
import type { useSwipe } from '../ui/use-swipe';
import { CellMatrix } from './cell-matrix';
import { CompareTargets } from './compare-targets';
import { type Filter, Filters } from './difference-filters';
import { DifferenceList } from './difference-list';
import { Levels } from './fader-levels';
import { StripDetail } from './strip-detail';

const SoundCharts = lazy(() => import('../components/audition/analysis-charts'));
const OutputsChart = lazy(() => import('../components/outputs-chart'));

type Tab = 'differences' | 'levels' | 'outputs' | 'sound';
/** What is chosen in a sheet: a side, one more to compare with, or what to combine. */
export type OpenSheet = 'A' | 'B' | 'more' | 'combine';

interface ComparedMixesProps {
  readonly profile: Profile;
  readonly a: CompareSide & { readonly state: State };
  readonly b: CompareSide & { readonly state: State };
  readonly compared: CompareParams;
  readonly sides: readonly (CompareSide | undefined)[];
  readonly comparison: Comparison;
  readonly filter: Filter;
  readonly cells: readonly CellDifference[];
  readonly chosen: CellDifference | undefined;
  readonly swipe: ReturnType<typeof useSwipe>;
  readonly onGo: (change: Partial<CompareParams>) => void;
  readonly onFilter: (filter: Filter) => void;
  readonly onNext: () => void;
  readonly onBefore: () => void;
  readonly onSheet: (choosing: OpenSheet) => void;
  /** How two mixes of different desk models are compared; undefined for two of one. */
  readonly across: string | undefined;
}

/** Two mixes side by side. */
export function ComparedMixes(props: ComparedMixesProps) {
  const { profile, a, b, compared, sides, comparison, filter, cells, chosen, swipe } = props;
  const { onGo, onFilter, onNext, onBefore, onSheet, across } = props;
  const wide = useIsWide();
  const [view, setView] = useState<Tab>('differences');
  const { others, at } = compared;
  const names = b.state;
  const id = chosen ? `${chosen.strip}/${chosen.section}` : null;
  const differing = new Set(cells.map(({ strip }) => strip));
  const strips = profile.strips.filter((strip) =>
    wide ? stripFamily(profile, strip)?.id !== GLOBAL_FAMILY || differing.has(strip) : differing.has(strip),
  );
  const inFamily = (strip: string) => !filter.family || stripFamily(profile, strip)?.id === filter.family;
  const choose = (cell: string) => onGo({ cell });
  const detail = chosen ? (
    <StripDetail
      profile={profile}
      a={a}
      b={b}
      comparison={comparison}
      chosen={chosen}
      swipe={swipe}
      onNext={onNext}
      onBefore={onBefore}
    />
  ) : null;
  const list = (
    <Body tight={!wide}>
      <View style={styles.row}>
        <View style={styles.fill}>
          <Gist profile={profile} names={names} comparison={comparison} />
        </View>
        {across === undefined ? (
          <IconAction
            asks={COMBINATION_ROUTES.startCombination}
            of={Combine}
            name="Combine A and B"
            onPress={() => onSheet('combine')}
          />
        ) : null}
        {others.length < MAX_COMPARE_TARGETS ? (
          <IconAction of={Plus} name="Add a scene to compare" onPress={() => onSheet('more')} />
        ) : null}
      </View>
      {across === undefined ? null : (
        <Card edge="care">
          <AppText testID="across">{across}</AppText>
        </Card>
      )}
      <CompareTargets
        sides={sides}
        at={at}
        a={a}
        onChoose={(i) => onGo({ at: i, cell: null })}
        onRemove={(i) => onGo({ others: others.filter((_, n) => n !== i), at: 0 })}
      />
      <ChipRow role="tablist">
        <Chip title="Differences" chosen={view === 'differences'} onPress={() => setView('differences')} />
        <Chip title="Levels" chosen={view === 'levels'} onPress={() => setView('levels')} />
        <Chip title="Outputs" chosen={view === 'outputs'} onPress={() => setView('outputs')} />
        {across === undefined ? (
          <Chip title="Sound" chosen={view === 'sound'} onPress={() => setView('sound')} />
        ) : null}
      </ChipRow>
      {view === 'sound' ? (
        <Sound titleA={a.title} titleB={b.title} />
      ) : view === 'outputs' ? (
        <Suspense fallback={<Loading what="Drawing" />}>
          <OutputsChart
            profile={profile}
            names={names}
            outputs={outputDifferences(profile, ...comparable(a.state, b.state))}
          />
        </Suspense>
      ) : view === 'levels' ? (
        <Levels profile={profile} a={a.state} b={b.state} strips={profile.strips.filter(inFamily)} />
      ) : (
        <>
          <Filters profile={profile} comparison={comparison} filter={filter} onFilter={onFilter} />
          {cells.length === 0 ? (
            <Empty title={comparison.settings === 0 ? 'No differences' : 'No difference matches these filters'}>
              {comparison.settings === 0
                ? 'Every setting is the same in both. Choose another scene above.'
                : 'Try fewer filters, or clear them.'}
            </Empty>
          ) : (
            <CellMatrix
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
          {cells.length > 0 ? <AppText kind="heading">Most audible first</AppText> : null}
          <DifferenceList profile={profile} names={names} cells={cells} chosen={id} onChoose={choose} />
        </>
      )}
    </Body>
  );
  return wide ? <Split showDetail={false} list={list} detail={<Body>{detail}</Body>} /> : list;
}

interface GistProps {
  readonly profile: Profile;
  readonly names: State;
  readonly comparison: Comparison;
}

function Gist({ profile, names, comparison }: GistProps) {
  const { mixA, mixB } = useSharedAudition() ?? {};
  return (
    <Sentence phrases={describeComparison(profile, names, comparison, loudnessDifferenceLu(mixA?.view, mixB?.view))} />
  );
}

function Sound({ titleA, titleB }: { readonly titleA: string; readonly titleB: string }) {
  const audition = useSharedAudition();
  const [a, b] = [audition?.mixA.view, audition?.mixB.view];
  return audition && a?.status === 'done' && b?.status === 'done' ? (
    <Suspense fallback={<Loading what="Drawing" />}>
      <SoundCharts a={a} b={b} names={{ a: titleA, b: titleB }} audition={audition} />
    </Suspense>
  ) : (
    <Empty title="Nothing measured yet">Listen to A and B below first; once all of both is rendered it is here.</Empty>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
});
