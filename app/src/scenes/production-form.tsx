import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { PRODUCTION_KINDS, type ProductionView } from '@old-echo/core/contracts/production';
import { MAX_NAME_LENGTH, MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';

import { SaveConflict } from '../components/save-conflict';
import { useDesksQuery } from '../store/desk-api';
import { useEditProductionMutation, useNewProductionMutation } from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { SPACE } from '../ui/tokens';

interface ProductionFormProps {
  /** The production to edit; without one a new one is made. */
  readonly production?: ProductionView;
  readonly onDone: (id: string) => void;
}

/** What a production is called, what it is, and for a new one the desk it is made on. */
export function ProductionForm({ production, onDone }: ProductionFormProps) {
  const { data: desks = [] } = useDesksQuery();
  const followed = useAppSelector((root) => root.place.deskId) ?? '';
  const [{ revision, ...before }] = useState({ name: '', note: '', kind: 'song' as const, revision: 0, ...production });
  const [name, setName] = useState(before.name);
  const [note, setNote] = useState(before.note);
  const [kind, setKind] = useState<ProductionView['kind']>(before.kind);
  const [deskId, setDeskId] = useState(followed);
  const [edit, editing] = useEditProductionMutation();
  const [make, making] = useNewProductionMutation();
  const error = editing.error ?? making.error;
  const save = async (over: number) => {
    if (production) {
      const answer = await edit({ id: production.id, edit: { name, note, kind, revision: over } });
      if (!answer.error) onDone(production.id);
      return;
    }
    const answer = await make({ deskId, name, kind, note });
    if (answer.data) onDone(answer.data.id);
  };
  const changed = production && production.revision !== revision;
  return (
    <View style={styles.form}>
      <Field
        label="Name"
        value={name}
        onChangeText={setName}
        maxLength={MAX_NAME_LENGTH}
        error={production && name.trim() === ''}
      />
      <ChipRow role="tablist">
        {PRODUCTION_KINDS.map((one) => (
          <Chip key={one} title={one === 'song' ? 'Song' : 'Show'} chosen={kind === one} onPress={() => setKind(one)} />
        ))}
      </ChipRow>
      {production ? null : (
        <>
          <AppText kind="strong">Desk</AppText>
          <ChipRow role="tablist">
            {desks.map((desk) => (
              <Chip key={desk.id} title={desk.name} chosen={deskId === desk.id} onPress={() => setDeskId(desk.id)} />
            ))}
          </ChipRow>
        </>
      )}
      <Field label="Description" value={note} onChangeText={setNote} multiline maxLength={MAX_NOTE_LENGTH} />
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
        disabled={name.trim() === ''}
        onPress={() => void save(revision)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  form: { gap: SPACE.m, paddingBottom: SPACE.s },
});
