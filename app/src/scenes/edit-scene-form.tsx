import { StyleSheet, View } from 'react-native';

import type { SceneView } from '@old-echo/core/contracts/scene';
import { MAX_NAME_LENGTH, MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';

import { KeptDraft } from '../components/kept-draft';
import { parseTags } from '../components/parse-tags';
import { SaveConflict } from '../components/save-conflict';
import { useEditSceneMutation } from '../store/scenes-api';
import { useDraft } from '../store/use-draft';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { Action } from '../ui/buttons';
import { Field } from '../ui/field';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';

/** What is written about a scene, to be changed. */
export function EditSceneForm({ scene, onDone }: { readonly scene: SceneView; readonly onDone: () => void }) {
  const draft = useDraft(`scene/${scene.id}`, {
    name: scene.name,
    note: scene.note,
    milestone: scene.milestone,
    tags: scene.tags.join(', '),
    // Read when editing began: a change by someone else meanwhile must not be written over.
    revision: scene.revision,
  });
  const { name, note, milestone, tags, revision } = draft.values;
  const leave = () => {
    draft.forget();
    onDone();
  };
  const [edit, { isLoading, error }] = useEditSceneMutation();
  const done = useRunAndNotify();
  const save = async (over: number) => {
    // A kept scene becomes one's own by being named, so its name is sent only when it was typed.
    const words = { ...(name === scene.name ? {} : { name }), note, milestone, tags: parseTags(tags), revision: over };
    const answer = await edit({ id: scene.id, edit: words });
    if (!answer.error) {
      await done(Promise.resolve(answer), (saved) => `Saved ${saved.number} ${saved.name}.`);
      leave();
    }
  };
  const reads = [scene.name, scene.milestone, scene.tags.join(', '), scene.note && `“${scene.note}”`];
  return (
    <View style={styles.form}>
      <KeptDraft draft={draft} />
      <Field
        label="Name"
        value={name}
        onChangeText={(text) => draft.set({ name: text })}
        maxLength={MAX_NAME_LENGTH}
        error={name.trim() === ''}
      />
      <Field
        label="Note"
        value={note}
        onChangeText={(text) => draft.set({ note: text })}
        multiline
        maxLength={MAX_NOTE_LENGTH}
      />
      <Field label="Tags, separated by commas" value={tags} onChangeText={(text) => draft.set({ tags: text })} />
      <Field
        label="Milestone (optional)"
        value={milestone}
        onChangeText={(text) => draft.set({ milestone: text })}
        maxLength={MAX_NAME_LENGTH}
      />
      {error ? (
        <SaveConflict
          error={error}
          now={scene.revision === revision ? undefined : reads.filter(Boolean).join(' · ')}
          onOver={() => void save(scene.revision)}
        />
      ) : null}
      <View style={styles.buttons}>
        <Action
          kind="main"
          grow
          title="Save"
          busy={isLoading}
          disabled={withoutName(name)}
          onPress={() => void save(revision)}
        />
        <Action title="Cancel" onPress={leave} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  form: { gap: SPACE.m },
  buttons: { flexDirection: 'row', gap: SPACE.s },
});
