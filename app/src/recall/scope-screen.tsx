import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import ListChecks from 'lucide-react-native/icons/list-checks';
import { useCallback, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Switch } from 'react-native-paper';

import { sceneRecall } from '@old-echo/core/contracts/restore';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { displayName, profileOfPart } from '@old-echo/core/desk/state';
import { describeScope } from '@old-echo/core/phrases/describe-scope';
import { plural } from '@old-echo/core/phrases/format-value';
import { compileScope } from '@old-echo/core/recall/compile-scope';
import type { StripMapping } from '@old-echo/core/recall/recall-target';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import {
  choosableStrips,
  EMPTY_SELECTION,
  pickStrips,
  type ScopeSelection,
  scopeToSelection,
  selectionToScope,
} from '@old-echo/core/recall/scope-selection';

import { previewHref } from '../components/links/recall-link';
import { Loading } from '../components/loading';
import { NeverHeard } from '../components/never-heard';
import { SceneSheet } from '../components/scene-picker-sheet';
import { useProductionsQuery, useSceneQuery, useSceneStateQuery } from '../store/scenes-api';
import { useLiveDesk } from '../store/use-live-desk';
import { AppText, Sentence } from '../ui/app-text';
import { Action, Chip, MainAction } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Card, Header, Split, useIsWide } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { OntoSheet } from './map-strip-sheet';
import { OfAnotherDesk, useStranger } from './of-another-desk';
import { PreviewPane } from './preview-pane';
import { ScopesSheet } from './saved-scopes-sheet';
import { ScopeChooser } from './scope-chooser';
import { StripScopeSheet } from './strip-scope-sheet';
import { usePlan } from './use-recall-plan';

/** Recall scope: the first step of a restore. On a wide screen the preview stands beside it. */
export function ScopeScreen() {
  const { desk: deskId, scene: sceneId } = useLocalSearchParams<{ desk: string; scene: string }>();
  const router = useRouter();
  const wide = useIsWide();
  const now = useLiveDesk(deskId);
  const { data: scene } = useSceneQuery(sceneId);
  const state = useSceneStateQuery(sceneId).data;
  const stranger = useStranger(deskId, scene?.productionId);
  const production = useProductionsQuery().data?.find(({ id }) => id === scene?.productionId);
  const [onto, setOnto] = useState<StripMapping | null>(null);
  // Of a part of a desk only what it holds can come back; onto other strips it can be put wherever there are some.
  const whole = now?.profile;
  const profile = useMemo(() => whole && state && (onto ? whole : profileOfPart(whole, state)), [whole, state, onto]);
  const saved = useMemo(
    () => profile && scene && scopeToSelection(profile, scene.scope ?? ALL_EXCEPT_GLOBALS),
    [profile, scene],
  );
  const safes = now?.desk.safes;
  const [own, setOwn] = useState<ScopeSelection | null>(null);
  const [withPatch, setWithPatch] = useState(false);
  const [relativeTo, setRelativeTo] = useState<string | null>(null);
  const [open, setOpen] = useState<Open>(null);
  const base = useSceneQuery(relativeTo ?? skipToken).data;
  const choice = own ?? saved;
  const scope = useMemo(() => profile && choice && selectionToScope(profile, choice), [profile, choice]);
  const compiled = useMemo(
    () => profile && scope && safes && compileScope(profile, scope, safes, onto ? undefined : state),
    [profile, scope, safes, onto, state],
  );
  const recall = useMemo(
    () =>
      scope &&
      sceneRecall(deskId, sceneId, scope, { onto: onto ? [{ ...onto, to: [...onto.to] }] : [], withPatch, relativeTo }),
    [deskId, scope, sceneId, onto, withPatch, relativeTo],
  );
  const plan = usePlan(recall);
  const back = () =>
    scene ? router.navigate(`/mixes/${scene.productionId}/scene/${scene.id}`) : router.navigate('/mixes');
  const onStrip = useCallback((strip: string) => setOpen({ strip }), []);
  const onChange = useCallback(
    (change: (choice: ScopeSelection) => ScopeSelection) =>
      setOwn((before) => change(before ?? saved ?? EMPTY_SELECTION)),
    [saved],
  );
  const toPreview = () => recall && router.navigate(previewHref(recall));
  const count = plan?.preview.changes.length ?? 0;
  useShortcuts({ Escape: back, ...(wide ? {} : { r: () => count > 0 && toPreview() }) });
  if (stranger) return <OfAnotherDesk {...stranger} />;
  if (now && !now.known) return <NeverHeard title="Recall scope" desk={now.desk} onBack={back} />;
  if (!now || !profile || !state || !scene || !choice || !scope || !compiled || !recall)
    return <Loading what="Loading the scene" />;
  const name = (strip: string) => displayName(now.profile, now.state, strip);
  /** Back to a choice of the scene's own strips, each where it was. */
  const take = (chosen: ScopeSelection | null) => {
    setOwn(chosen);
    setOnto(null);
    setWithPatch(false);
  };
  const put = (from: string, to: readonly string[]) => {
    setOnto({ from, to });
    setOwn(pickStrips(pickStrips(choice, choosableStrips(now.profile), false), to, true));
    setOpen(null);
  };
  const parts = { now, profile, compiled, choice, onChoose: setOwn, plan };
  const chooser = (
    <View style={styles.fill}>
      <Header
        over={`${sceneTitle(scene)} → ${now.desk.name}`}
        title="Recall scope"
        onBack={back}
        side={<IconAction of={ListChecks} name="Saved recall scopes" onPress={() => setOpen('scopes')} />}
      />
      <View style={styles.sentence}>
        <Card>
          <Sentence phrases={describeScope(profile, compiled, now.state, whole)} />
        </Card>
      </View>
      <ScopeChooser
        {...parts}
        onChange={onChange}
        onSaved={() => {
          take(null);
          setRelativeTo(null);
        }}
        onStrip={onStrip}
        grid={wide}
        onto={
          onto ? (
            <View style={styles.block}>
              <AppText kind="heading">{`${name(onto.from)} → ${onto.to.map(name).join(', ')}`}</AppText>
              <View style={styles.row}>
                <AppText style={styles.fill}>Include source and patch</AppText>
                <Switch value={withPatch} onValueChange={setWithPatch} accessibilityLabel="Include source and patch" />
              </View>
              <View style={styles.row}>
                <Action title="Other strips …" onPress={() => setOpen({ onto: onto.from })} />
                <Action title="Back to its own strip" onPress={() => take(null)} />
              </View>
            </View>
          ) : undefined
        }
        below={
          <View style={styles.block}>
            <AppText kind="heading">Values</AppText>
            <ChipRow role="tablist">
              <Chip title="As captured" chosen={relativeTo === null} onPress={() => setRelativeTo(null)} />
              <Chip
                title={base ? `Only the change since ${sceneTitle(base)}` : 'Only the change since …'}
                chosen={relativeTo !== null}
                onPress={() => setOpen('base')}
              />
            </ChipRow>
            {base ? (
              <AppText kind="small" tone="second">
                The difference is added to the desk’s current values, within each range.
              </AppText>
            ) : null}
          </View>
        }
      />
      {wide ? null : (
        <MainAction
          title={count === 0 ? 'Nothing to restore' : `Preview ${plural(count, 'change')}`}
          disabled={count === 0 && 'Nothing that is chosen differs from the desk.'}
          onPress={toPreview}
        />
      )}
      {open === 'scopes' ? (
        <ScopesSheet
          now={now}
          scene={scene}
          state={state}
          scope={scope}
          onClose={() => setOpen(null)}
          onChoose={(chosen) => take(scopeToSelection(profile, chosen))}
        />
      ) : null}
      <StripScopeSheet
        {...parts}
        strip={open && typeof open === 'object' && 'strip' in open ? open.strip : null}
        onOnto={(from) => setOpen({ onto: from })}
        onClose={() => setOpen(null)}
      />
      {open && typeof open === 'object' && 'onto' in open ? (
        <OntoSheet
          now={now}
          from={open.onto}
          chosen={onto?.to ?? []}
          onClose={() => setOpen(null)}
          onChoose={(to) => put(open.onto, to)}
        />
      ) : null}
      {production ? (
        <SceneSheet
          title="The change since"
          production={production}
          chosen={relativeTo ?? scene.parents[0]}
          without={scene.id}
          open={open === 'base'}
          onClose={() => setOpen(null)}
          onChoose={(chosen) => setRelativeTo(chosen.id)}
        />
      ) : null}
    </View>
  );
  return <Split showDetail={false} list={chooser} detail={<PreviewPane recall={recall} />} />;
}

/** Which sheet is open. */
type Open = 'scopes' | 'base' | { readonly strip: string } | { readonly onto: string } | null;

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  sentence: { paddingHorizontal: SPACE.l, paddingTop: SPACE.m },
  block: { gap: SPACE.s, paddingTop: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
});
