import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { SceneView } from '@old-echo/core/contracts/scene';
import { plural } from '@old-echo/core/desk/wording';
import { drift } from '@old-echo/core/scene/drift';
import { LONGEST_NAME } from '@old-echo/core/scene/suggest-name';
import { compileScope } from '@old-echo/core/scope/compile';
import { EVERYTHING } from '@old-echo/core/scope/rules';
import { scopeSentence } from '@old-echo/core/scope/sentence';

import { useDesk } from '../../live/use-desk';
import { faultOf, useEditSceneMutation, useSceneQuery, useSceneStateQuery } from '../../store/api';
import { useAppDispatch } from '../../store/store';
import { Action, Foot } from '../../ui/actions';
import { Field } from '../../ui/field';
import { Body, Card, Head } from '../../ui/page';
import { SPACE } from '../../ui/tokens';
import { Failed, Waiting } from '../../ui/waiting';
import { Sentence, Words } from '../../ui/words';
import { useKeys } from '../shell/use-keys';
import { noticed } from '../shell/notice-slice';
import { ChangeList } from '../strip/change-list';
import { Stamp, when } from './scene-row';

/** A scene: its words, what it brings back, what changed in it; from here it is restored. */
export function ScenePage({ sceneId, onBack }: { readonly sceneId: string; readonly onBack: () => void }) {
  const { data: scene, error, refetch } = useSceneQuery(sceneId);
  if (error) return <Failed fault={faultOf(error)} onAgain={() => void refetch()} />;
  return scene ? <Scene scene={scene} onBack={onBack} /> : <Waiting what="Opening the scene" />;
}

function Scene({ scene, onBack }: { readonly scene: SceneView; readonly onBack: () => void }) {
  const router = useRouter();
  const now = useDesk();
  const [parentId] = scene.parents;
  const parent = useSceneQuery(parentId ?? skipToken).data;
  const state = useSceneStateQuery(scene.id).data;
  const before = useSceneStateQuery(parentId ?? skipToken).data;
  const [editing, setEditing] = useState(false);
  const profile = now?.profile;
  const restore = () => router.navigate(`/restore/${scene.id}`);
  useKeys({ r: () => now?.linked && restore(), e: () => setEditing(true) });
  const changes = useMemo(
    () => (profile && state && before ? drift(profile, before, state) : []),
    [profile, state, before],
  );
  const sentence = now
    ? scopeSentence(now.profile, compileScope(now.profile, scene.scope ?? EVERYTHING, now.desk.safes))
    : [];
  return (
    <View style={styles.fill}>
      <Head
        over={`${scene.kind === 'scene' ? 'Scene' : 'Kept by Old Echo'} ${scene.number} · ${when(scene.madeAt)}`}
        title={scene.name}
        onBack={onBack}
        side={
          scene.kind === 'scene' && !editing ? (
            <Action kind="quiet" title="Edit" onPress={() => setEditing(true)} />
          ) : null
        }
      />
      <Body>
        {editing ? (
          <SceneWords scene={scene} onDone={() => setEditing(false)} />
        ) : (
          <>
            {scene.milestone ? (
              <View style={styles.stamp}>
                <Stamp text={scene.milestone} />
              </View>
            ) : null}
            {scene.note ? <Words>{scene.note}</Words> : null}
          </>
        )}
        <Card>
          <Words kind="small" tone="second">
            A restore brings back, unless told otherwise
          </Words>
          <Sentence phrases={sentence} />
        </Card>
        <Words kind="heading">
          {parent === undefined
            ? 'Where the history begins'
            : changes.length === 0
              ? `Nothing differs from ${parent.number} ${parent.name}`
              : `${plural(changes.length, 'setting')} since ${parent.number} ${parent.name}`}
        </Words>
        {profile && state ? <ChangeList profile={profile} names={state} changes={changes} /> : null}
      </Body>
      <Foot>
        <Action kind="main" grow title="Restore" disabled={!now?.linked} onPress={restore} />
      </Foot>
    </View>
  );
}

function SceneWords({ scene, onDone }: { readonly scene: SceneView; readonly onDone: () => void }) {
  const dispatch = useAppDispatch();
  // The revision that was read when editing began: a change by someone else meanwhile must not be written over.
  const [{ revision }] = useState(scene);
  const [name, setName] = useState(scene.name);
  const [note, setNote] = useState(scene.note);
  const [milestone, setMilestone] = useState(scene.milestone);
  const [edit, { isLoading, error }] = useEditSceneMutation();
  const fault = error && faultOf(error);
  const save = async (over: number) => {
    const answer = await edit({ id: scene.id, edit: { name, note, milestone, revision: over } });
    if (answer.error) return;
    dispatch(noticed(`Saved ${answer.data.number} · ${answer.data.name}.`));
    onDone();
  };
  return (
    <View style={styles.form}>
      <Field label="Name" value={name} onChangeText={setName} maxLength={LONGEST_NAME} error={name.trim() === ''} />
      <Field label="Note" value={note} onChangeText={setNote} multiline maxLength={2000} />
      <Field label="Milestone, or empty" value={milestone} onChangeText={setMilestone} maxLength={LONGEST_NAME} />
      {fault ? (
        <Card edge="stop">
          <Words kind="strong">{fault.message}</Words>
          <Words>{fault.advice}</Words>
          {scene.revision === revision ? null : (
            <>
              <Words tone="second">
                It reads now: {scene.name}
                {scene.milestone ? ` · ${scene.milestone}` : ''}
                {scene.note ? ` · “${scene.note}”` : ''}
              </Words>
              <Action title="Save mine over it" onPress={() => void save(scene.revision)} />
            </>
          )}
        </Card>
      ) : null}
      <View style={styles.buttons}>
        <Action
          kind="main"
          grow
          title="Save"
          busy={isLoading}
          disabled={name.trim() === ''}
          onPress={() => void save(revision)}
        />
        <Action title="Cancel" onPress={onDone} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  stamp: { alignItems: 'flex-start' },
  form: { gap: SPACE.s },
  buttons: { flexDirection: 'row', gap: SPACE.s },
});
