import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { PRODUCTION_KINDS, type ProductionView } from '@old-echo/core/contracts/production';
import { MAX_NAME_LENGTH, MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';

import { KeptDraft } from '../components/kept-draft';
import { SaveConflict } from '../components/save-conflict';
import { useDesksQuery } from '../store/desk-api';
import { wentToProduction } from '../store/preferences-slice';
import { useEditProductionMutation, useNewProductionMutation } from '../store/scenes-api';
import { useAppDispatch, useAppSelector } from '../store/store';
import { useDraft } from '../store/use-draft';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';
import { BeginWith, EMPTY_BEGINNING } from './begin-with';

interface ProductionFormProps {
  /** The production to edit; without one a new one is made. */
  readonly production?: ProductionView;
  readonly onDone: (id: string) => void;
}

/** What a production is called, what it is, and for a new one the desk it is made on. */
export function ProductionForm({ production, onDone }: ProductionFormProps) {
  const { data: desks = [] } = useDesksQuery();
  const dispatch = useAppDispatch();
  const router = useRouter();
  const followed = useAppSelector((root) => root.place.deskId) ?? '';
  const begin = { name: '', note: '', kind: 'song' as ProductionView['kind'], revision: 0, ...production };
  const draft = useDraft(`production/${production?.id ?? 'new'}`, {
    name: begin.name,
    note: begin.note,
    kind: begin.kind,
    deskId: followed,
    begins: EMPTY_BEGINNING,
    revision: begin.revision,
  });
  const { name, note, kind, deskId, begins, revision } = draft.values;
  const desk = desks.find(({ id }) => id === deskId);
  const [edit, editing] = useEditProductionMutation();
  const [make, making] = useNewProductionMutation();
  const error = editing.error ?? making.error;
  const sent = (id: string) => {
    draft.forget();
    onDone(id);
  };
  const save = async (over: number) => {
    if (production) {
      const answer = await edit({ id: production.id, edit: { name, note, kind, revision: over } });
      if (!answer.error) sent(production.id);
      return;
    }
    const fromSceneId = begins.from === 'scene' ? begins.id : null;
    const answer = await make({ deskId, name, kind, note, fromSceneId });
    if (!answer.data) return;
    dispatch(wentToProduction({ id: answer.data.id, deskId }));
    sent(answer.data.id);
    if (begins.from === 'template') router.navigate(`/library/apply?preset=${begins.id}`);
  };
  const changed = production && production.revision !== revision;
  return (
    <View style={styles.form}>
      <KeptDraft draft={draft} />
      <Field
        label="Name"
        value={name}
        onChangeText={(text) => draft.set({ name: text })}
        maxLength={MAX_NAME_LENGTH}
        error={production && name.trim() === ''}
      />
      <ChipRow role="tablist">
        {PRODUCTION_KINDS.map((one) => (
          <Chip
            key={one}
            title={one === 'song' ? 'Song' : 'Show'}
            chosen={kind === one}
            onPress={() => draft.set({ kind: one })}
          />
        ))}
      </ChipRow>
      {production ? null : (
        <>
          <AppText kind="strong">Desk</AppText>
          <ChipRow role="tablist">
            {desks
              .filter(({ removedAt }) => !removedAt)
              .map(({ id, name: title, profileId }) => (
                <Chip
                  key={id}
                  title={title}
                  chosen={deskId === id}
                  onPress={() =>
                    // A scene of another desk model cannot stand there.
                    draft.set({
                      deskId: id,
                      ...(begins.from === 'scene' && profileId !== desk?.profileId ? { begins: EMPTY_BEGINNING } : {}),
                    })
                  }
                />
              ))}
          </ChipRow>
          <BeginWith desk={desk} begins={begins} onChange={(chosen) => draft.set({ begins: chosen })} />
        </>
      )}
      <Field
        label="Description"
        value={note}
        onChangeText={(text) => draft.set({ note: text })}
        multiline
        maxLength={MAX_NOTE_LENGTH}
      />
      {error ? (
        <SaveConflict
          error={error}
          now={changed ? `${production.name}${production.note && ` · “${production.note}”`}` : undefined}
          onOver={() => void save(production?.revision ?? 0)}
        />
      ) : null}
      <Action
        kind="main"
        title={production ? 'Save' : 'Create'}
        busy={editing.isLoading || making.isLoading}
        disabled={withoutName(name)}
        onPress={() => void save(revision)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  form: { gap: SPACE.m, paddingBottom: SPACE.s },
});
