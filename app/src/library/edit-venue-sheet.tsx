import { StyleSheet, View } from 'react-native';

import { MAX_VENUE_NAME_LENGTH, type VenueView } from '@old-echo/core/contracts/part';
import { VENUE_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';

import { KeptDraft } from '../components/kept-draft';
import { ask } from '../store/ask';
import { useEditVenueMutation } from '../store/library-api';
import { useDraft } from '../store/use-draft';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { Action } from '../ui/buttons';
import { Field } from '../ui/field';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';

interface EditVenueSheetProps {
  readonly venue: VenueView;
  readonly production: string;
  readonly onClose: () => void;
}

/** The name of a venue, and a note about it. */
export function EditVenueSheet({ venue, production, onClose }: EditVenueSheetProps) {
  const done = useRunAndNotify();
  const [edit, { isLoading }] = useEditVenueMutation();
  const before = { name: venue.name, note: venue.note };
  const draft = useDraft(`venue/${venue.id}`, before);
  const { name, note } = draft.values;
  const params = { production, id: venue.id };
  const save = () =>
    void done(
      edit({ ...params, words: { name: name.trim(), note } }),
      () => `${name.trim()} was saved.`,
      ask(VENUE_ROUTES.editVenue, { params, body: before }),
    ).then((saved) => {
      if (!saved) return;
      draft.forget();
      onClose();
    });
  return (
    <Sheet title={`About ${venue.name}`} open onClose={onClose}>
      <View style={styles.body}>
        <KeptDraft draft={draft} />
        <Field
          label="Name"
          value={name}
          onChangeText={(typed) => draft.set({ name: typed })}
          maxLength={MAX_VENUE_NAME_LENGTH}
        />
        <Field
          label="Note"
          value={note}
          onChangeText={(typed) => draft.set({ note: typed })}
          multiline
          maxLength={MAX_NOTE_LENGTH}
        />
        <Action kind="main" title="Save" busy={isLoading} disabled={withoutName(name)} onPress={save} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ body: { gap: SPACE.m } });
