import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import ArrowDown from 'lucide-react-native/icons/arrow-down';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { diffStates } from '@old-echo/core/desk/diff-states';
import { partWords, sentenceOfScene } from '@old-echo/core/phrases/describe-scope';
import { countStrips, plural } from '@old-echo/core/phrases/format-value';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { ChangeList } from '../components/change-list';
import { when } from '../components/format-time';
import { LoadError, Loading } from '../components/loading';
import { restoresAtOnce, useTouchRecall } from '../components/restore-at-once';
import { SceneSheet } from '../components/scene-picker-sheet';
import { toApiFault } from '../store/api';
import { deskHref } from '../store/desk-address';
import { useSceneQuery, useSceneStateQuery, useUnbinMutation } from '../store/scenes-api';
import { useLiveDesk } from '../store/use-live-desk';
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
  const { data: scene, error, refetch } = useSceneQuery(sceneId);
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  return scene ? <Scene key={scene.id} scene={scene} {...rest} /> : <Loading what="Loading the scene" />;
}

const KEPT = {
  'way back': 'Way back',
  rested: 'Autosaved while idle',
  'link ended': 'Autosaved when the desk disconnected',
} as const;

function Scene({ scene, production, onBack, step }: Omit<ScenePageProps, 'sceneId'> & { readonly scene: SceneView }) {
  const router = useRouter();
  const now = useLiveDesk(production.deskId);
  const [editing, setEditing] = useState(false);
  const [menu, setMenu] = useState(false);
  const touch = useTouchRecall(now?.desk);
  const choose = () => router.navigate(deskHref(production.deskId, `restore/${scene.id}`));
  const isAtOnce = restoresAtOnce(now?.desk);
  // At a show it is chosen first what comes back.
  const restore = () =>
    isAtOnce ? touch(sceneRecall(production.deskId, scene.id, scene.scope ?? ALL_EXCEPT_GLOBALS)) : choose();
  const open = scene.binnedAt === null;
  useShortcuts({
    r: () => now?.known && open && void restore(),
    e: () => setEditing(true),
    '.': () => setMenu(true),
  });
  const version = [...production.versions, ...production.binnedVersions].find((v) => v.id === scene.versionId);
  const state = useSceneStateQuery(scene.id).data;
  const sentence =
    now && state ? sentenceOfScene(now.profile, scene.scope ?? ALL_EXCEPT_GLOBALS, state, now.desk.safes) : [];
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
          {scene.partial && now && state ? (
            <AppText kind="small" tone="second">
              Part of a desk only: {partWords(now.profile, state)}. Nothing else is touched.
            </AppText>
          ) : null}
        </Card>
        <SceneOrigins scene={scene} />
        <SceneChanges scene={scene} production={production} />
      </Body>
      <Footer>
        <IconAction of={ArrowUp} name="Newer scene" disabled={!above} onPress={() => above?.()} />
        <IconAction of={ArrowDown} name="Older scene" disabled={!below} onPress={() => below?.()} />
        {/* What it does depends on the desk: it comes with it, so that it does not move away under a finger. */}
        {now && isAtOnce ? <Action title="Choose parts …" disabled={!now.known || !open} onPress={choose} /> : null}
        {now ? (
          <Action kind="main" grow title="Restore" disabled={!now.known || !open} onPress={() => void restore()} />
        ) : null}
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
      <AppText kind="strong">In the bin since {when(scene.binnedAt ?? '')}</AppText>
      <Action
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
  const { milestone, note, tags, protected: safe } = scene;
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
        <Action kind="quiet" title="Edit" onPress={onEdit} />
      </View>
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
function SceneChanges({ scene, production }: { readonly scene: SceneView; readonly production: ProductionView }) {
  const profile = useLiveDesk(production.deskId)?.profile;
  const [against, setAgainst] = useState<string | null>(null);
  const [choosing, setChoosing] = useState(false);
  const look = useLook();
  const otherId = against ?? scene.parents[0];
  const other = useSceneQuery(otherId ?? skipToken).data;
  const state = useSceneStateQuery(scene.id).data;
  const before = useSceneStateQuery(otherId ?? skipToken).data;
  const changes = useMemo(
    () => (profile && state && before ? diffStates(profile, before, state) : []),
    [profile, state, before],
  );
  return (
    <>
      <View>
        <AppText kind="heading" testID="since">
          {other === undefined
            ? 'First scene'
            : changes.length === 0
              ? `Same as ${sceneTitle(other)}`
              : `${plural(changes.length, 'setting')} on ${countStrips(changes.map(({ strip }) => strip))} since ${sceneTitle(other)}`}
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
      {profile && state ? <ChangeList profile={profile} names={state} changes={changes} /> : null}
      {profile && state ? <Globals profile={profile} state={state} /> : null}
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
