import { StyleSheet, View } from 'react-native';

import type { ClientNote, ClientPage } from '@old-echo/core/contracts/client-link';
import { clock, MAX_MIX_NOTE_LENGTH } from '@old-echo/core/contracts/mix-note';
import { plural } from '@old-echo/core/phrases/format-value';

import { FaultCard } from '../components/fault-card';
import { useAddClientNoteMutation } from '../store/client-api';
import { useAppSelector } from '../store/store';
import { useDraft } from '../store/use-draft';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Field } from '../ui/field';
import { Card } from '../ui/layout';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';

interface ClientNotesProps {
  readonly token: string;
  readonly page: ClientPage;
  /** The mix that is heard, and where in the song. */
  readonly at: { readonly mix: number; readonly seconds: number };
}

/** What became of a note, as whoever wrote it reads it. */
const STATUS: Readonly<Record<ClientNote['status'], string>> = {
  open: 'open',
  tried: 'tried',
  done: 'done',
  declined: 'not done',
};

/** Notes at moments of the song, and what became of them. */
export function ClientNotes({ token, page: { mixes, notes }, at }: ClientNotesProps) {
  const look = useLook();
  const done = useRunAndNotify();
  const [add, { error, isLoading }] = useAddClientNoteMutation();
  const who = useAppSelector((root) => root.place.who).trim();
  const { values, set, forget } = useDraft(`client/${token}`, { text: '' });
  const moment = clock(at.seconds);
  const letter = (mix: number) => (mixes.length === 1 ? '' : (['A', 'B'][mix] ?? ''));
  const whyNot =
    (values.text.trim() === '' && 'Write the note first.') ||
    (values.text.length > MAX_MIX_NOTE_LENGTH && 'It is too long.') ||
    (who === '' && 'Say who you are first.');
  const write = async () => {
    if (whyNot) return;
    const note = { mix: at.mix, songSeconds: Math.floor(at.seconds), text: values.text.trim(), name: who };
    if (await done(add({ token, note }), () => `Noted at ${moment}.`)) forget();
  };
  const answered = notes.filter(({ status }) => status === 'done').length;
  return (
    <Card>
      <AppText kind="strong">
        {notes.length === 0 ? 'Notes' : `${plural(notes.length, 'note')}, ${answered} of ${notes.length} done`}
      </AppText>
      <Field
        label={`Note at ${moment}${letter(at.mix) && ` on ${letter(at.mix)}`}`}
        value={values.text}
        onChangeText={(text) => set({ text })}
        multiline
        maxLength={MAX_MIX_NOTE_LENGTH}
        testID="client-note"
      />
      {error ? <FaultCard error={error} /> : null}
      <Action title={`Note it at ${moment}`} busy={isLoading} disabled={whyNot} onPress={() => void write()} />
      <View role="list" style={styles.list}>
        {notes.map(({ id, mix, songSeconds, text, by, status }) => (
          <View key={id} role="listitem" style={[styles.note, { borderColor: look.line }]}>
            <AppText>{text}</AppText>
            <AppText kind="small" tone={status === 'done' ? 'done' : 'second'}>
              {[songSeconds === null ? '' : clock(songSeconds), letter(mix), by, STATUS[status]]
                .filter(Boolean)
                .join(' · ')}
            </AppText>
          </View>
        ))}
      </View>
    </Card>
  );
}

const styles = StyleSheet.create({
  list: { paddingTop: SPACE.xs },
  note: { paddingVertical: SPACE.s, borderTopWidth: 1 },
});
