import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { type ProductionView, VERSION_STATUSES, type VersionView } from '@old-echo/core/contracts/production';
import { VERSION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { MAX_NAME_LENGTH, MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';

import { KeptDraft } from '../components/kept-draft';
import { SaveConflict } from '../components/save-conflict';
import { ask } from '../store/ask';
import { filtered } from '../store/scene-list-slice';
import { useBinMutation, useEditVersionMutation, useNewVersionMutation } from '../store/scenes-api';
import { useAppDispatch } from '../store/store';
import { useDraft } from '../store/use-draft';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';
import { STATUS_NAMES } from './version-status';

/** What versions are often called. */
const USUAL = ['Main mix', 'Instrumental', 'Clean', 'Broadcast edit', 'Remix'];

interface VersionSheetProps {
  readonly production: ProductionView;
  /** The version to edit; without one a new one is made. */
  readonly version?: VersionView;
  /** The scene a new one begins with. */
  readonly from?: SceneView;
  readonly open: boolean;
  readonly onClose: () => void;
}

export function VersionSheet(props: VersionSheetProps) {
  const { version, from, open, onClose } = props;
  const title = version ? `Version ${version.name}` : from ? `New version from ${sceneTitle(from)}` : 'New version';
  return (
    <Sheet title={title} open={open} onClose={onClose}>
      {open ? <VersionForm {...props} /> : null}
    </Sheet>
  );
}

function VersionForm({ production, version, from, onClose }: VersionSheetProps) {
  const dispatch = useAppDispatch();
  const router = useRouter();
  const done = useRunAndNotify();
  const draft = useDraft(`version/${version?.id ?? `new/${production.id}/${from?.id ?? ''}`}`, {
    name: version?.name ?? '',
    note: version?.note ?? '',
    status: version?.status ?? 'working',
    follows: version ? version.followsId : (from?.versionId ?? null),
    revision: version?.revision ?? 0,
  });
  const { name, note, status, follows, revision } = draft.values;
  const leave = () => {
    draft.forget();
    onClose();
  };
  const [edit, editing] = useEditVersionMutation();
  const [make, making] = useNewVersionMutation();
  const [bin] = useBinMutation();
  const error = editing.error ?? making.error;
  const save = async (over: number) => {
    if (version) {
      const answer = await edit({ id: version.id, edit: { name, note, status, followsId: follows, revision: over } });
      if (!answer.error) leave();
      return;
    }
    const answer = await make({
      production: production.id,
      version: { name, note, fromSceneId: from?.id ?? null, followsId: follows },
    });
    if (!answer.data) return;
    dispatch(filtered({ versionId: answer.data.id }));
    leave();
    router.navigate(`/mixes/${production.id}`);
  };
  const taken = [...production.versions].map((v) => v.name);
  // One that begins empty has nothing in common with any.
  const leaders = version || from ? production.versions.filter((v) => v.id !== version?.id) : [];
  return (
    <View style={styles.form}>
      <KeptDraft draft={draft} />
      <Field
        label="Name"
        value={name}
        onChangeText={(text) => draft.set({ name: text })}
        maxLength={MAX_NAME_LENGTH}
        error={version && name.trim() === ''}
      />
      {version ? (
        <>
          <AppText kind="strong">Status</AppText>
          <ChipRow role="tablist">
            {VERSION_STATUSES.map((state) => (
              <Chip
                key={state}
                title={STATUS_NAMES[state]}
                chosen={status === state}
                onPress={() => draft.set({ status: state })}
              />
            ))}
          </ChipRow>
        </>
      ) : (
        <ChipRow role="tablist">
          {USUAL.filter((usual) => !taken.includes(usual)).map((usual) => (
            <Chip key={usual} title={usual} chosen={name === usual} onPress={() => draft.set({ name: usual })} />
          ))}
        </ChipRow>
      )}
      {leaders.length > 0 ? (
        <>
          <AppText kind="strong">Follows</AppText>
          <ChipRow role="tablist">
            <Chip title="None" chosen={follows === null} onPress={() => draft.set({ follows: null })} />
            {leaders.map(({ id, name: leader }) => (
              <Chip key={id} title={leader} chosen={follows === id} onPress={() => draft.set({ follows: id })} />
            ))}
          </ChipRow>
        </>
      ) : null}
      <Field
        label="Note"
        value={note}
        onChangeText={(text) => draft.set({ note: text })}
        multiline
        maxLength={MAX_NOTE_LENGTH}
      />
      {error ? (
        <SaveConflict
          error={error}
          now={
            version && version.revision !== revision
              ? `${version.name}${version.note && ` · “${version.note}”`}`
              : undefined
          }
          onOver={() => void save(version?.revision ?? 0)}
        />
      ) : null}
      <Action
        asks={VERSION_ROUTES.editVersion}
        kind="main"
        title={version ? 'Save' : 'Create version'}
        busy={editing.isLoading || making.isLoading}
        disabled={withoutName(name)}
        onPress={() => void save(revision)}
      />
      {version ? (
        <Action
          asks={VERSION_ROUTES.binVersion}
          title="Move to the bin, with its scenes"
          onPress={() => {
            const undo = ask(VERSION_ROUTES.unbinVersion, { params: { id: version.id } });
            void done(bin(`versions/${version.id}`), () => `${version.name} is in the bin.`, undo).then((went) => {
              if (!went) return;
              dispatch(filtered({ versionId: undefined }));
              leave();
            });
          }}
        />
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  form: { gap: SPACE.m, paddingBottom: SPACE.s },
});
