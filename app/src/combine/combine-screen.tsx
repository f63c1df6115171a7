import { useLocalSearchParams, useRouter } from 'expo-router';
import Plus from 'lucide-react-native/icons/plus';
import Trash from 'lucide-react-native/icons/trash';
import { lazy, Suspense, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { findDependencies } from '@old-echo/core/combine/find-dependencies';
import { outputDifferences } from '@old-echo/core/compare/compare';
import { COMBINATION_ROUTES } from '@old-echo/core/contracts/routes/combine-routes';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { describeOrigins } from '@old-echo/core/phrases/describe-origins';
import { plural } from '@old-echo/core/phrases/format-value';
import { plainText } from '@old-echo/core/phrases/phrase';

import { AuditionBar } from '../components/audition/audition-bar';
import { useAudition } from '../components/audition/use-audition';
import { combineHref } from '../components/links/combine-link';
import { LIVE_DESK } from '../components/links/compare-link';
import { Loading } from '../components/loading';
import { StateSheet } from '../components/state-picker-sheet';
import { useSide } from '../components/use-compare-side';
import { ask } from '../store/ask';
import { useDiscardCombinationMutation } from '../store/combine-api';
import { noticed } from '../store/notice-slice';
import { useAppDispatch } from '../store/store';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText, Sentence } from '../ui/app-text';
import { Action, Chip, Footer, MainAction } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Body, Card, Empty, Header } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { useShortcuts } from '../ui/use-shortcuts';
import { Conflicts } from './conflicts';
import { DependencyList } from './dependency-list';
import { PickList } from './pick-list';
import { SaveCombinationSheet } from './save-combination-sheet';
import { type Combination, useCombination } from './use-combination';

const OutputsChart = lazy(() => import('../components/outputs-chart'));

/** Makes a scene out of several: what comes from where, what is at odds, what is missing, how it sounds; then keeps it. */
export function CombineScreen() {
  const { id, with: others = '' } = useLocalSearchParams<{ id?: string; with?: string }>();
  const router = useRouter();
  if (id) return <StoredCombination id={id} others={others.split(',').filter(Boolean)} />;
  return (
    <View style={styles.fill}>
      <Header title="Combine" onBack={() => router.navigate('/mixes')} />
      <Empty title="Nothing to combine yet">Compare two scenes first. From there, take the best of each.</Empty>
      <MainAction title="Compare scenes" onPress={() => router.navigate('/compare')} />
    </View>
  );
}

function StoredCombination({ id, others }: { readonly id: string; readonly others: readonly string[] }) {
  const { combination, fault } = useCombination(id, others);
  const router = useRouter();
  const done = useRunAndNotify();
  const [giveUp] = useDiscardCombinationMutation();
  if (fault)
    return (
      <View style={styles.fill}>
        <Header title="Combine" onBack={() => router.navigate('/mixes')} />
        <Empty title={fault.message}>{fault.advice}</Empty>
        {fault.code === 'not-found' ? (
          <Footer>
            <Action
              asks={COMBINATION_ROUTES.discardCombination}
              grow
              title="Discard"
              onPress={() =>
                void done(giveUp(id), () => 'Discarded. No scene was changed.').then(() => router.navigate('/mixes'))
              }
            />
          </Footer>
        ) : null}
      </View>
    );
  return combination ? <Combine combination={combination} others={others} /> : <Loading what="Loading the scenes" />;
}

type Look = 'picks' | 'conflicts' | 'dependencies' | 'outputs';

interface CombineProps {
  readonly combination: Combination;
  readonly others: readonly string[];
}

function Combine({ combination, others }: CombineProps) {
  const dispatch = useAppDispatch();
  const router = useRouter();
  const done = useRunAndNotify();
  const { saved, profile, recipe, sources, base, made, stored, pick } = combination;
  const [view, setView] = useState<Look>(made.unsettled.length > 0 ? 'conflicts' : 'picks');
  const [chosen, setChosen] = useState<string | null>(null);
  const [sheet, setSheet] = useState<'keep' | 'more' | null>(null);
  const [giveUp] = useDiscardCombinationMutation();
  const side = useSide(recipe.base);
  const taken = [
    ...new Set([...(recipe.merge ? [recipe.merge.scene] : []), ...others, ...Object.values(recipe.picks)]),
  ].filter((scene) => scene !== recipe.base && sources[scene]);
  const from = chosen && taken.includes(chosen) ? chosen : taken[0];
  const letterOf = (scene: string) =>
    scene === recipe.base ? 'A' : String.fromCharCode('B'.charCodeAt(0) + Math.max(0, taken.indexOf(scene)));
  const nameOf = (scene: string) => {
    const of = sources[scene]?.scene;
    return of ? sceneTitle(of) : 'a scene';
  };
  const leans = findDependencies(profile, made.state, made.origins, (scene) => sources[scene]?.state ?? {});
  const sentence = describeOrigins(profile, base.state, made.origins, nameOf, recipe.base);
  const audition = useAudition(
    saved.productionId,
    { profile, state: base.state, sceneId: recipe.base },
    { profile, state: made.state, recipe },
  );
  const hear = (strip: string) => {
    audition?.choose({ solo: audition.heard.solo === strip ? null : strip });
    if (audition && !audition.listening) audition.listen();
  };
  const back = () => (router.canGoBack() ? router.back() : router.navigate(`/mixes/${saved.productionId}`));
  useShortcuts({ Escape: back });
  const empty = Object.keys(made.origins).length === 0 && !recipe.merge;
  const open = made.unsettled.length;
  const whyNotSaved = () => {
    if (open > 0) return 'Settle what is at odds first.';
    if (empty) return 'Take something from another scene first.';
    if (!stored) return 'It is still being written down.';
    return made.missing.length > 0 && 'A scene it takes from no longer exists.';
  };
  const tabs: readonly (readonly [Look, string])[] = [
    ['picks', 'Pick'],
    ...(recipe.merge ? [['conflicts', `At odds${open > 0 ? ` · ${open}` : ''}`] as const] : []),
    ['dependencies', `Also needed${leans.length > 0 ? ` · ${leans.length}` : ''}`],
    ['outputs', 'Outputs'],
  ];
  return (
    <View style={styles.fill}>
      <Header
        over={`A: ${nameOf(recipe.base)}`}
        title={recipe.merge ? 'Combine both' : 'Combine'}
        onBack={back}
        side={
          <>
            <IconAction of={Plus} name="Take from one more scene" onPress={() => setSheet('more')} />
            <IconAction
              of={Trash}
              name="Discard"
              onPress={() => {
                const body = { base: recipe.base, merge: recipe.merge?.scene ?? null, picks: recipe.picks };
                void done(
                  giveUp(saved.id),
                  () => 'Discarded. No scene was changed.',
                  ask(COMBINATION_ROUTES.startCombination, { body }),
                ).then((gone) => gone && back());
              }}
            />
          </>
        }
      />
      <Body tight>
        <Sentence phrases={sentence} />
        {made.missing.length > 0 ? (
          <Card edge="care">
            <AppText>
              {plural(made.missing.length, 'picked cell')} {made.missing.length === 1 ? 'is' : 'are'} not on{' '}
              {profile.name}, or not in their scene: {made.missing.slice(0, 3).join(', ')}.
            </AppText>
            <Action
              title="Leave them out"
              onPress={() => pick(Object.fromEntries(made.missing.map((cell) => [cell, null])))}
            />
          </Card>
        ) : null}
        <ChipRow role="tablist" aria-label="Taken from">
          {taken.map((scene) => (
            <Chip
              key={scene}
              title={`${letterOf(scene)}: ${nameOf(scene)}`}
              chosen={scene === from}
              onPress={() => setChosen(scene)}
            />
          ))}
        </ChipRow>
        <ChipRow role="tablist">
          {tabs.map(([look, title]) => (
            <Chip key={look} title={title} chosen={view === look} onPress={() => setView(look)} />
          ))}
        </ChipRow>
        {view === 'conflicts' ? (
          <Conflicts combination={combination} onHear={hear} />
        ) : view === 'dependencies' ? (
          <DependencyList combination={combination} found={leans} nameOf={nameOf} />
        ) : view === 'outputs' ? (
          <Suspense fallback={<Loading what="Drawing" />}>
            <AppText tone="second">A is {nameOf(recipe.base)}, B the result.</AppText>
            <OutputsChart
              profile={profile}
              names={base.state}
              outputs={outputDifferences(profile, base.state, made.state)}
            />
          </Suspense>
        ) : from ? (
          <PickList key={from} combination={combination} from={from} letterOf={letterOf} />
        ) : (
          <Empty title="No second scene yet">Add one with the plus above, then take what you like from it.</Empty>
        )}
      </Body>
      {audition ? <AuditionBar audition={audition} title="Listen: A against the result" /> : null}
      <MainAction
        asks={COMBINATION_ROUTES.saveCombination}
        title={
          open > 0 ? `${plural(open, 'section')} at odds to settle` : empty ? 'Nothing taken yet' : 'Save as a scene'
        }
        disabled={whyNotSaved()}
        onPress={() => setSheet('keep')}
      />
      {sheet === 'keep' ? (
        <SaveCombinationSheet combination={combination} note={plainText(sentence)} onClose={() => setSheet(null)} />
      ) : null}
      {sheet === 'more' ? (
        <StateSheet
          title="Take from"
          chosen={side}
          open
          onClose={() => setSheet(null)}
          onChoose={(of) => {
            setSheet(null);
            if (of === LIVE_DESK) {
              dispatch(noticed('The desk as it is now is not a scene yet. Capture it first.'));
              return;
            }
            setChosen(of);
            router.replace(combineHref(saved.id, [...new Set([...others, of])]));
          }}
        />
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
});
