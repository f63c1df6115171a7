import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useDeferredValue, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { HelperText, Switch } from 'react-native-paper';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { CAPTURE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { captureShape, type NamedScene, sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { MAX_NAME_LENGTH, MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';
import { countStrips, plural } from '@old-echo/core/phrases/format-value';
import { suggestMixtureName, suggestName } from '@old-echo/core/phrases/suggest-name';

import { ChangeList } from '../components/change-list';
import { FaultBelow } from '../components/fault-card';
import { Loading } from '../components/loading';
import { parseTags } from '../components/parse-tags';
import { useDeskProduction } from '../components/use-desk-production';
import { deskHref } from '../store/desk-address';
import { noticed } from '../store/notice-slice';
import {
  useCaptureMutation,
  useProductionsQuery,
  useReplaceSceneMutation,
  useUniqueNameQuery,
} from '../store/scenes-api';
import { useAppDispatch, useAppSelector } from '../store/store';
import { useDraft } from '../store/use-draft';
import { type LiveDesk, useDrift, useLiveDesk, whyNotLinked } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer, MainAction } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { Body, Card, Empty, Header } from '../ui/layout';
import { Sheet } from '../ui/sheet';
import { MAX_TEXT_WIDTH, SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import type { WhyNot } from '../ui/why-not';

/** What was typed of a capture that was not made yet. */
interface CaptureDraft {
  /** Null while the suggested name stands. */
  readonly name: string | null;
  readonly note: string;
  readonly tags: string;
  readonly isMilestone: boolean;
  readonly milestone: string;
}

const NO_DRAFT: CaptureDraft = { name: null, note: '', tags: '', isMilestone: false, milestone: '' };

/** Capture: everything on the desk becomes a scene, with a name that says what moved. */
export function CaptureScreen() {
  const now = useLiveDesk();
  const { data: productions } = useProductionsQuery();
  if (!now || !productions) return <Loading what="Reading the desk" />;
  return <CaptureForm key={now.desk.id} now={now} />;
}

/** Where a scene is captured into: the version that the address names, else the one that the desk is on. */
function useVersion(desk: DeskView) {
  const { version: named, production: within } = useLocalSearchParams<{ version?: string; production?: string }>();
  const productions = (useProductionsQuery().data ?? []).filter((p) => p.deskId === desk.id && !p.binnedAt);
  const works = useDeskProduction(desk);
  const on = desk.scene === null && desk.worksOn === null ? undefined : works;
  const of = (version: string) => productions.find((p) => p.versions.some((v) => v.id === version));
  const first = productions.find((p) => p.id === within) ?? on ?? productions[0];
  const begin = named && of(named) ? named : first?.versions.find((v) => v.id === desk.scene?.versionId)?.id;
  const [chosen, choose] = useState<string | null>(null);
  const version = chosen ?? begin ?? first?.versions[0]?.id ?? '';
  return { productions, on, production: of(version) ?? first, version, choose };
}

function CaptureForm({ now }: { readonly now: LiveDesk }) {
  const { desk, profile, state } = now;
  const router = useRouter();
  const dispatch = useAppDispatch();
  const drift = useDrift() ?? [];
  const by = useAppSelector((root) => root.place.who);
  const { productions, on, production, version, choose } = useVersion(desk);
  const scenes = production?.versions.find((v) => v.id === version)?.scenes ?? 0;
  const first = desk.baseline === null && scenes === 0;
  const { scene, baseline } = desk;
  const isMixture = drift.length === 0 && scene && baseline && baseline.line !== sceneTitle(scene);
  const moved = isMixture
    ? suggestMixtureName(scene, baseline.line)
    : first
      ? 'First scene'
      : suggestName(profile, state, drift);
  const suggested = useUniqueNameQuery(version ? { version, name: moved } : skipToken).currentData?.name ?? moved;
  const { values, set, forget } = useDraft(`capture/${desk.id}`, NO_DRAFT);
  const { name: ownName, note, tags, isMilestone, milestone } = values;
  const typed = useDeferredValue(ownName?.trim() ?? '');
  const fits = typed.length <= MAX_NAME_LENGTH;
  const taken = useUniqueNameQuery(version && typed && fits ? { version, name: typed } : skipToken).currentData;
  const [capture, { isLoading, error }] = useCaptureMutation();
  const [replace, { isLoading: replacing, error: notReplaced }] = useReplaceSceneMutation();
  const [asking, setAsking] = useState(false);
  const name = ownName ?? suggested;
  const words = { note, milestone: isMilestone ? milestone.trim() || name : '', tags: parseTags(tags) };
  const back = () => (router.canGoBack() ? router.back() : router.navigate(deskHref(desk.id)));
  useShortcuts({ Escape: back });

  const captured = (scene: SceneView) => {
    forget();
    dispatch(noticed(`Captured ${sceneTitle(scene)}. Every setting saved.`));
    back();
  };
  const submit = async (as = name) => {
    setAsking(false);
    const answer = await capture({
      desk: desk.id,
      capture: captureShape.cast({ ...words, versionId: version, name: as, by }),
    });
    if (answer.data) captured(answer.data);
  };
  const submitOver = async ({ id: sceneId, revision }: NamedScene) => {
    const answer = await replace({
      desk: desk.id,
      sceneId,
      revision,
      ...captureShape.pick(['note', 'milestone', 'tags']).cast(words),
      by,
    });
    if (answer.data) captured(answer.data);
  };
  // What is captured into another song or show than the desk is on takes the desk there.
  const goesOver = on !== undefined && production !== undefined && on.id !== production.id;
  const begin = () => (goesOver ? setAsking(true) : void submit());
  const same = ownName !== null && typed !== '' ? (taken?.taken ?? null) : null;
  const tooLong =
    [name, words.milestone].some((text) => text.length > MAX_NAME_LENGTH) || note.length > MAX_NOTE_LENGTH;
  const wrong = name.trim() === '' ? 'A scene needs a name.' : '';
  const whyNot =
    whyNotLinked(now) ||
    wrong ||
    (tooLong && 'It is too long.') ||
    (same !== null && `${sceneTitle(same)} has this name.`);
  const fault = error ?? notReplaced;

  if (!production)
    return (
      <View style={styles.fill}>
        <Header title="Capture scene" onBack={back} />
        <Empty title="No song or show on this desk">Scenes are saved in one. Create one for {desk.name} first.</Empty>
        <MainAction title="Songs and shows" onPress={() => router.navigate('/productions')} />
      </View>
    );
  return (
    <View style={styles.fill}>
      <Header over={`${desk.name} · ${production.name}`} title="Capture scene" onBack={back} />
      <Body>
        <View style={styles.form}>
          <Field
            label="Name"
            value={name}
            onChangeText={(text) => set({ name: text })}
            // From here on it is the person's: a suggestion that changes under the fingers would be typed into.
            onFocus={() => set({ name })}
            onSubmitEditing={() => !whyNot && begin()}
            maxLength={MAX_NAME_LENGTH}
            error={wrong !== ''}
            testID="scene-name"
            selectTextOnFocus
          />
          <HelperText type={wrong ? 'error' : 'info'}>
            {wrong ||
              ((ownName === null || ownName === suggested) && !first
                ? `Suggested from what ${isMixture ? 'stands on the desk' : 'moved'}. Type over it as you like.`
                : ' ')}
          </HelperText>
          {same ? (
            <Taken
              scene={same}
              free={taken?.name ?? name}
              busy={isLoading || replacing}
              locked={desk.showLock}
              notLinked={whyNotLinked(now)}
              onReplace={() => void submitOver(same)}
              onBoth={() => (goesOver ? set({ name: taken?.name ?? name }) : void submit(taken?.name))}
            />
          ) : null}
          <AppText kind="strong">Version</AppText>
          <ChipRow role="tablist">
            {productions.flatMap((p) =>
              p.versions.map((v) => (
                <Chip
                  key={v.id}
                  title={productions.length > 1 ? `${p.name} · ${v.name}` : v.name}
                  chosen={v.id === version}
                  onPress={() => choose(v.id)}
                />
              )),
            )}
          </ChipRow>
          <Field
            label="Note"
            value={note}
            onChangeText={(text) => set({ note: text })}
            multiline
            maxLength={MAX_NOTE_LENGTH}
          />
          <Field label="Tags, separated by commas" value={tags} onChangeText={(text) => set({ tags: text })} />
          <View style={styles.milestone}>
            <View style={styles.fill}>
              <AppText kind="strong">Milestone</AppText>
              <AppText kind="small" tone="second">
                A stage reached: it stands out in the history.
              </AppText>
            </View>
            <Switch
              value={isMilestone}
              onValueChange={(on) => set({ isMilestone: on })}
              accessibilityLabel="Milestone"
            />
          </View>
          {isMilestone ? (
            <Field
              label="Stage reached"
              placeholder="static mix done"
              value={milestone}
              onChangeText={(text) => set({ milestone: text })}
              maxLength={MAX_NAME_LENGTH}
            />
          ) : null}
          <Card>
            <AppText kind="strong">
              {desk.baseline
                ? drift.length > 0
                  ? `${plural(drift.length, 'setting')} on ${countStrips(drift.map(({ strip }) => strip))} since ${desk.baseline.line}`
                  : `Nothing moved since ${desk.baseline.line}`
                : 'The first scene on this desk'}
            </AppText>
            <AppText kind="small" tone="second">
              All {countStrips(profile.strips)} are saved, whatever recall scope is used later.
            </AppText>
            <ChangeList profile={profile} names={state} changes={drift} />
          </Card>
        </View>
      </Body>
      <FaultBelow error={fault} />
      <Footer>
        <Action
          asks={CAPTURE_ROUTES.captureScene}
          kind="main"
          grow
          title="Capture"
          busy={isLoading}
          disabled={whyNot}
          onPress={begin}
        />
        <Action title="Cancel" onPress={back} />
      </Footer>
      {on ? (
        <Sheet title={`Work on ${production.name} now?`} open={asking} onClose={() => setAsking(false)}>
          <View style={styles.ask}>
            <AppText>
              {desk.name} works on {on.name}. From this capture on it works on {production.name}: drift is counted from
              the new scene, and the scenes at hand and the scene to swap to are those of {production.name}.
            </AppText>
            <Action kind="main" title={`Capture in ${production.name}`} onPress={() => void submit()} />
            <Action
              title={`Choose a version of ${on.name}`}
              onPress={() => {
                choose((on.versions.find((v) => v.id === desk.scene?.versionId) ?? on.versions[0])?.id ?? null);
                setAsking(false);
              }}
            />
          </View>
        </Sheet>
      ) : null}
    </View>
  );
}

interface TakenProps {
  /** The scene that has the name. */
  readonly scene: NamedScene;
  /** The nearest name that is free. */
  readonly free: string;
  readonly busy: boolean;
  readonly locked: boolean;
  readonly notLinked: WhyNot;
  readonly onReplace: () => void;
  readonly onBoth: () => void;
}

/** A name that a scene has already: it is replaced, or both are kept. */
function Taken({ scene, free, busy, locked, notLinked, onReplace, onBoth }: TakenProps) {
  const why = scene.isProtected ? 'It is protected, so it cannot be replaced. ' : locked ? 'The show is locked. ' : '';
  return (
    <Card edge="care">
      <AppText kind="strong">{sceneTitle(scene)} has this name</AppText>
      <AppText tone="second">
        {why}
        {why
          ? ''
          : 'Replaced, it goes to the bin, and the new one keeps its place, also at hand, and its saved scope. '}
        Kept both, the new one is called {free}.
      </AppText>
      <ChipRow>
        <Action
          asks={CAPTURE_ROUTES.replaceScene}
          title="Replace it"
          busy={busy}
          disabled={why || notLinked}
          onPress={onReplace}
        />
        <Action title="Keep both" busy={busy} disabled={notLinked} onPress={onBoth} />
      </ChipRow>
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  form: { gap: SPACE.s, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  ask: { gap: SPACE.m, paddingBottom: SPACE.s },
  milestone: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH, gap: SPACE.s },
});
