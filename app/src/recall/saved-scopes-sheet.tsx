import { useRouter } from 'expo-router';
import X from 'lucide-react-native/icons/x';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { DESK_RECALL_ROUTES, SCOPE_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { SCENE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';
import { MAX_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';
import { sentenceOfScene } from '@old-echo/core/phrases/describe-scope';
import { plainText } from '@old-echo/core/phrases/phrase';
import { ALL_EXCEPT_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';

import { givenBack } from '../store/api';
import { deskHref } from '../store/desk-address';
import { scopeHeld } from '../store/held-scope-slice';
import { useRemoveScopeMutation, useSavedScopesQuery, useSaveScopeMutation } from '../store/recall-api';
import { useEditSceneMutation } from '../store/scenes-api';
import { useAppDispatch } from '../store/store';
import type { LiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Field } from '../ui/field';
import { IconAction, MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';

interface ScopesSheetProps {
  readonly now: LiveDesk;
  readonly scene: SceneView;
  /** What the scene holds. */
  readonly state: State;
  readonly scope: Scope;
  readonly onClose: () => void;
  readonly onChoose: (scope: Scope) => void;
}

/** Saved scopes: what is saved with the scene and under names, to be taken, written back, or saved anew. */
export function ScopesSheet({ now, scene, state, scope, onClose, onChoose }: ScopesSheetProps) {
  const { profile } = now;
  const done = useRunAndNotify();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { data: scopes = [] } = useSavedScopesQuery(profile.id);
  const [edit] = useEditSceneMutation();
  const [save, { isLoading }] = useSaveScopeMutation();
  const [remove] = useRemoveScopeMutation();
  const [name, setName] = useState('');
  const taken = scopes.some((saved) => saved.name === name.trim());
  const say = (what: Scope) => plainText(sentenceOfScene(profile, what, state, [], now.state));
  const choose = (what: Scope) => {
    onChoose(what);
    onClose();
  };
  const called = sceneTitle(scene);
  return (
    <Sheet title="Recall scopes" open onClose={onClose}>
      <MenuRow
        title={`As saved with ${called}`}
        under={say(scene.scope ?? ALL_EXCEPT_GLOBALS)}
        onPress={() => choose(scene.scope ?? ALL_EXCEPT_GLOBALS)}
      />
      <MenuRow title="Everything" under={say(ALL_EXCEPT_GLOBALS)} onPress={() => choose(ALL_EXCEPT_GLOBALS)} />
      {scopes.map((saved) => (
        <View key={saved.id} style={styles.row}>
          <View style={styles.fill}>
            <MenuRow title={saved.name} under={say(saved.scope)} onPress={() => choose(saved.scope)} />
          </View>
          <IconAction
            asks={SCOPE_ROUTES.removeScope}
            of={X}
            name={`Remove the recall scope ${saved.name}`}
            onPress={() => void done(remove(saved.id), () => `Recall scope ${saved.name} removed.`, givenBack)}
          />
        </View>
      ))}
      <View style={styles.save}>
        <AppText kind="heading">This scope</AppText>
        <AppText tone="second">{say(scope)}</AppText>
        <Action
          asks={DESK_RECALL_ROUTES.startRestore}
          title="Step through scenes with it"
          onPress={() => {
            dispatch(scopeHeld({ deskId: now.desk.id, scope: [...scope] }));
            router.navigate(deskHref(now.desk.id));
          }}
        />
        <Action
          asks={SCENE_ROUTES.editScene}
          title={`Save with ${called}`}
          onPress={() =>
            void done(
              edit({ id: scene.id, edit: { scope: [...scope], revision: scene.revision } }),
              () => `Saved with ${called}.`,
            ).then(onClose)
          }
        />
        <Field label="Name" value={name} onChangeText={setName} maxLength={MAX_NAME_LENGTH} testID="scope-name" />
        <Action
          asks={SCOPE_ROUTES.saveScope}
          title={taken ? 'Replace' : 'Save under this name'}
          busy={isLoading}
          disabled={withoutName(name)}
          onPress={() =>
            void done(save({ profileId: profile.id, name: name.trim(), scope: [...scope] }), (saved) => {
              setName('');
              return `Recall scope ${saved.name} saved.`;
            })
          }
        />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center' },
  save: { gap: SPACE.s, paddingTop: SPACE.l },
});
