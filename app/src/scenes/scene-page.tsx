import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import ArrowDown from 'lucide-react-native/icons/arrow-down';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { SCENE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { diffStates } from '@old-echo/core/desk/diff-states';
import type { Profile } from '@old-echo/core/desk/profile';
import { partWords, sentenceOfScene } from '@old-echo/core/phrases/describe-scope';
import { countStrips, plural } from '@old-echo/core/phrases/format-value';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { ChangeList } from '../components/change-list';
import { when, whenInText } from '../components/format-time';
import { LoadError, Loading } from '../components/loading';
import { restoresAtOnce, useTouchRecall } from '../components/restore-at-once';
import { SceneSheet } from '../components/scene-picker-sheet';
import { allHere } from '../store/all-here';
import { toApiFault } from '../store/api';
import { useCellOriginsQuery } from '../store/combine-api';
import { deskHref } from '../store/desk-address';
import { useSceneQuery, useSceneStateQuery, useSourcesQuery, useUnbinMutation } from '../store/scenes-api';
import { type LiveDesk, useLiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText, Sentence } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Icon } from '../ui/icon';
import { Body, Card, Header } from '../ui/layout';
import { IconAction, MoreAction } from '../ui/menu';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { EditSceneForm } from './edit-scene-form';
import { Globals } from './global-settings';
import { SceneMenu } from './scene-menu';
import { SceneOrigins } from './scene-origins';
import { MilestoneBadge } from './scene-row';

interface ScenePageProps {
  readonly production: ProductionView;
  readonly sceneId: string;
  readonly onBack: () => void;
  /** To the scene above or below in the list, where there is one. */
  readonly step: (by: -1 | 1) => (() => void) | undefined;
}

/** A scene: its words, what it brings back, what changed in it; from here it is restored. */
export function ScenePage({ sceneId, ...rest }: ScenePageProps) {
  const { scene, error, refetch } = useWholeScene(sceneId);
  const now = useLiveDesk(rest.production.deskId);
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  return scene && now ? (
    <Scene key={scene.id} scene={scene} now={now} {...rest} />
  ) : (
    <Loading what="Loading the scene" />
  );
}

/** A scene once all that its page tells of it is here; until then the one that was there before. */
function useWholeScene(sceneId: string) {
  const { currentData: next, error, refetch, ...asked } = useSceneQuery(sceneId);
  const parents = next && next.parents.length > 1 ? next.parents : skipToken;
  const first = next?.parents[0] ?? skipToken;
  const whole = allHere(
    { ...asked, currentData: next },
    useSceneStateQuery(next ? sceneId : skipToken),
    useSceneQuery(first),
    useSceneStateQuery(first),
    useCellOriginsQuery(parents === skipToken ? skipToken : sceneId),
    useSourcesQuery(parents),
  );
  const [scene, setScene] = useState<SceneView>();
  if (whole && next && next !== scene) setScene(next);
  return { scene, error, refetch };
}

const KEPT = {
  'way back': 'Way back',
  rested: 'Autosaved while idle',
  'link ended': 'Autosaved when the desk disconnected',
} as const;

interface SceneProps extends Omit<ScenePageProps, 'sceneId'> {
  readonly scene: SceneView;
  readonly now: LiveDesk;
}

function Scene({ scene, now, production, onBack, step }: SceneProps) {
  const router = useRouter();
  const [editing, setEditing] = useState(false);
  const [menu, setMenu] = useState(false);
  const touch = useTouchRecall(now.desk);
  const choose = () => router.navigate(deskHref(production.deskId, `restore/${scene.id}`));
  const isAtOnce = restoresAtOnce(now.desk);
  // At a show it is chosen first what comes back.
  const restore = () =>
    isAtOnce ? touch(sceneRecall(production.deskId, scene.id, scene.scope ?? ALL_EXCEPT_GLOBALS)) : choose();
  const open = scene.binnedAt === null;
  const whyNot =
    (!open && 'It is in the bin: take it out first.') || (!now.known && `${now.desk.name} has not been read yet.`);
  useShortcuts({
    r: () => !whyNot && void restore(),
    e: () => setEditing(true),
    '.': () => setMenu(true),
  });
  const version = [...production.versions, ...production.binnedVersions].find((v) => v.id === scene.versionId);
  const state = useSceneStateQuery(scene.id).data;
  const sentence = state ? sentenceOfScene(now.profile, scene.scope ?? ALL_EXCEPT_GLOBALS, state, now.desk.safes) : [];
  const [above, below] = [step(-1), step(1)];
  const kind = scene.kind === 'scene' ? `Scene ${scene.number}` : KEPT[scene.kind];
  return (
    <View style={styles.fill}>
      <Header
        over={[kind, version?.name, when(scene.madeAt)].filter(Boolean).join(' · ')}
        title={scene.name}
        onBack={onBack}
        side={editing ? null : <MoreAction of={scene.name} onPress={() => setMenu(true)} />}
      />
      <Body>
        {open ? null : <InBin scene={scene} />}
        {editing ? (
          <EditSceneForm scene={scene} onDone={() => setEditing(false)} />
        ) : (
          <About scene={scene} onEdit={() => setEditing(true)} />
        )}
        <Card>
          <AppText kind="small" tone="second">
            Saved recall scope
          </AppText>
          <Sentence phrases={sentence} />
          {scene.partial && state ? (
            <AppText kind="small" tone="second">
              Part of a desk only: {partWords(now.profile, state)}. Nothing else is touched.
            </AppText>
          ) : null}
        </Card>
        <SceneOrigins scene={scene} profile={now.profile} />
        <SceneChanges scene={scene} profile={now.profile} production={production} />
      </Body>
      <Footer>
        <IconAction
          of={ArrowUp}
          name="Newer scene"
          disabled={!above && 'This is the newest scene in the list.'}
          onPress={() => above?.()}
        />
        <IconAction
          of={ArrowDown}
          name="Older scene"
          disabled={!below && 'This is the oldest scene in the list.'}
          onPress={() => below?.()}
        />
        {isAtOnce ? (
          <Action asks={DESK_RECALL_ROUTES.startRestore} title="Choose parts …" disabled={whyNot} onPress={choose} />
        ) : null}
        <Action
          asks={DESK_RECALL_ROUTES.startRestore}
          kind="main"
          grow
          title="Restore"
          disabled={whyNot}
          onPress={() => void restore()}
        />
      </Footer>
      <SceneMenu
        scene={scene}
        production={production}
        open={menu}
        onClose={() => setMenu(false)}
        onEdit={() => setEditing(true)}
      />
    </View>
  );
}

function InBin({ scene }: { readonly scene: SceneView }) {
  const [bringBack, { isLoading }] = useUnbinMutation();
  const done = useRunAndNotify();
  return (
    <Card edge="care">
      <AppText kind="strong">In the bin since {whenInText(scene.binnedAt ?? '')}</AppText>
      <Action
        asks={SCENE_ROUTES.unbinScene}
        title="Take out of the bin"
        busy={isLoading}
        onPress={() =>
          void done(bringBack(`scenes/${scene.id}`), ({ name }) =>
            name && name !== scene.name
              ? `Out of the bin as ${name}: the old name is in use.`
              : `${scene.name} is out of the bin.`,
          )
        }
      />
    </Card>
  );
}

/** Milestone, note, tags and protection. */
function About({ scene, onEdit }: { readonly scene: SceneView; readonly onEdit: () => void }) {
  const look = useLook();
  const { milestone, note, tags, protected: safe, by } = scene;
  return (
    <View style={styles.about}>
      {milestone ? (
        <View style={styles.stamp}>
          <MilestoneBadge text={milestone} />
        </View>
      ) : null}
      <View style={styles.note}>
        <AppText tone={note ? 'ink' : 'second'} style={styles.fill}>
          {note || 'No note yet.'}
        </AppText>
        <Action asks={SCENE_ROUTES.editScene} kind="quiet" title="Edit" onPress={onEdit} />
      </View>
      {by ? (
        <AppText kind="small" tone="second">
          By {by}
        </AppText>
      ) : null}
      {tags.length > 0 || safe ? (
        <View style={styles.tags}>
          {tags.map((tag) => (
            <View key={tag} style={[styles.tag, { borderColor: look.line }]}>
              <AppText kind="small">{tag}</AppText>
            </View>
          ))}
          {safe ? (
            <AppText kind="small" tone="done">
              Protected
            </AppText>
          ) : null}
        </View>
      ) : null}
    </View>
  );
}

/** What differs from the scene it came from, or from any other that is chosen. */
function SceneChanges({
  scene,
  profile,
  production,
}: Pick<SceneProps, 'scene' | 'production'> & { readonly profile: Profile }) {
  const [against, setAgainst] = useState<string | null>(null);
  const [choosing, setChoosing] = useState(false);
  const look = useLook();
  const otherId = against ?? scene.parents[0];
  const { currentData: other, isError: isGone } = useSceneQuery(otherId ?? skipToken);
  const state = useSceneStateQuery(scene.id).data;
  const before = useSceneStateQuery(otherId ?? skipToken).currentData;
  const changes = useMemo(() => (state && before ? diffStates(profile, before, state) : []), [profile, state, before]);
  const sinceWords = () => {
    if (!otherId) return 'First scene';
    if (isGone) return 'Came from a deleted scene';
    if (!other || !before) return 'Comparing …';
    return changes.length === 0
      ? `Same as ${sceneTitle(other)}`
      : `${plural(changes.length, 'setting')} on ${countStrips(changes.map(({ strip }) => strip))} since ${sceneTitle(other)}`;
  };
  return (
    <>
      <View>
        <AppText kind="heading" testID="since">
          {sinceWords()}
        </AppText>
        <Pressable
          role="button"
          onPress={() => setChoosing(true)}
          style={[styles.choose, { borderColor: look.line, backgroundColor: look.card }]}
        >
          <AppText kind="small" tone="second">
            Compared with {against ? 'another scene' : 'the scene it came from'}
          </AppText>
          <Icon of={ChevronDown} size={16} color={look.second} />
        </Pressable>
      </View>
      {state ? <ChangeList profile={profile} names={state} changes={changes} /> : null}
      {state ? <Globals profile={profile} state={state} /> : null}
      <SceneSheet
        title="Compared with"
        production={production}
        chosen={otherId}
        without={scene.id}
        open={choosing}
        onClose={() => setChoosing(false)}
        onChoose={(chosen) => setAgainst(chosen.id)}
      />
    </>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  about: { gap: SPACE.s },
  stamp: { alignItems: 'flex-start' },
  tags: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: SPACE.s },
  tag: { borderWidth: 1, borderRadius: CORNER.small, paddingHorizontal: SPACE.s, paddingVertical: 2 },
  note: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  choose: {
    flexDirection: 'row',
    alignItems: 'center',
    alignSelf: 'flex-start',
    gap: SPACE.xs,
    minHeight: TOUCH - SPACE.m,
    marginTop: SPACE.xs,
    paddingHorizontal: SPACE.s,
    borderWidth: 1,
    borderRadius: CORNER.small,
  },
});
