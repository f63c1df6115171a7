import { ScrollView, StyleSheet, View } from 'react-native';

import { clock, MAX_MIX_NOTE_LENGTH, type MixNoteView, readClock } from '@old-echo/core/contracts/mix-note';
import type { VersionView } from '@old-echo/core/contracts/production';
import { MAX_PERSON_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { FaultCard } from '../components/fault-card';
import { KeptDraft } from '../components/kept-draft';
import type { NamedStrip } from '../components/named-strip';
import { givenBack } from '../store/api';
import { useAddMixNoteMutation, useEditMixNoteMutation, useRemoveMixNoteMutation } from '../store/combine-api';
import { useDraft } from '../store/use-draft';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { Action, Chip } from '../ui/buttons';
import { Field } from '../ui/field';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';

interface MixNoteSheetProps {
  readonly version: VersionView;
  /** The one to edit; a new one without. */
  readonly mixNote: MixNoteView | null;
  readonly strips: readonly NamedStrip[];
  readonly onClose: () => void;
}

/** Writes a mix note down: what, where in the song, which strip, who asked. */
export function MixNoteSheet({ version, mixNote, strips, onClose }: MixNoteSheetProps) {
  const draft = useDraft(`mix-note/${mixNote?.id ?? `new/${version.id}`}`, {
    text: mixNote?.text ?? '',
    at: mixNote?.songSeconds == null ? '' : clock(mixNote.songSeconds),
    requestedBy: mixNote?.requestedBy ?? '',
    strip: mixNote?.strip ?? null,
    revision: mixNote?.revision ?? 0,
  });
  const { text, at, requestedBy, strip, revision } = draft.values;
  const leave = () => {
    draft.forget();
    onClose();
  };
  const [add, adding] = useAddMixNoteMutation();
  const [edit, editing] = useEditMixNoteMutation();
  const [remove] = useRemoveMixNoteMutation();
  const done = useRunAndNotify();
  const moment = readClock(at);
  const error = adding.error ?? editing.error;
  const save = async () => {
    const words = { text, songSeconds: moment ?? null, requestedBy, strip };
    const answer = mixNote
      ? await edit({ id: mixNote.id, edit: { ...words, revision } })
      : await add({ versionId: version.id, ...words });
    if (!answer.error) leave();
  };
  const removeRow = ({ id }: MixNoteView) =>
    done(remove(id), () => 'Removed from the list.', givenBack).then((gone) => gone && leave());
  return (
    <Sheet title={mixNote ? 'Mix note' : 'New mix note'} open onClose={onClose}>
      <View style={styles.form}>
        <KeptDraft draft={draft} />
        <Field
          label="Note"
          value={text}
          onChangeText={(typed) => draft.set({ text: typed })}
          multiline
          maxLength={MAX_MIX_NOTE_LENGTH}
        />
        <Field
          label="Time in the song, e.g. 2:05"
          value={at}
          onChangeText={(typed) => draft.set({ at: typed })}
          maxLength={10}
          error={moment === undefined}
        />
        <Field
          label="Asked by"
          value={requestedBy}
          onChangeText={(typed) => draft.set({ requestedBy: typed })}
          maxLength={MAX_PERSON_NAME_LENGTH}
        />
        <ScrollView
          horizontal
          showsHorizontalScrollIndicator={false}
          contentContainerStyle={styles.chips}
          role="tablist"
        >
          <Chip title="No strip" chosen={strip === null} onPress={() => draft.set({ strip: null })} />
          {strips.map((one) => (
            <Chip
              key={one.strip}
              title={one.name}
              chosen={strip === one.strip}
              onPress={() => draft.set({ strip: one.strip })}
            />
          ))}
        </ScrollView>
        {error ? <FaultCard error={error} /> : null}
        <Action
          kind="main"
          title={mixNote ? 'Save' : 'Add'}
          busy={adding.isLoading || editing.isLoading}
          disabled={
            text.trim() === ''
              ? 'Write the note first.'
              : moment === undefined && 'Write the time as minutes and seconds, such as 2:05.'
          }
          onPress={() => void save()}
        />
        {mixNote ? <Action title="Remove from the list" onPress={() => void removeRow(mixNote)} /> : null}
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  form: { gap: SPACE.m, paddingBottom: SPACE.s },
  chips: { gap: SPACE.s },
});
