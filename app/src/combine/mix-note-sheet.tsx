import { useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';

import type { VersionView } from '@old-echo/core/contracts/production';
import { clock, LONGEST_WISH, readClock, type WishView } from '@old-echo/core/contracts/mix-note';
import { MAX_PERSON_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { givenBack, useEditWishMutation, useNewWishMutation, useRemoveWishMutation } from '../store/api';
import { FaultCard } from '../components/fault-card';
import { Action, Chip } from '../ui/buttons';
import { Field } from '../ui/field';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { useRunAndNotify } from '../store/use-run-and-notify';
import type { NamedStrip } from '../components/named-strip';

interface WishSheetProps {
  readonly version: VersionView;
  /** The one to edit; a new one without. */
  readonly wish: WishView | null;
  readonly strips: readonly NamedStrip[];
  readonly onClose: () => void;
}

/** Writes a wish down: what, where in the song, which strip, who asked. */
export function WishSheet({ version, wish, strips, onClose }: WishSheetProps) {
  const [text, setText] = useState(wish?.text ?? '');
  const [at, setAt] = useState(wish?.at == null ? '' : clock(wish.at));
  const [who, setWho] = useState(wish?.who ?? '');
  const [strip, setStrip] = useState(wish?.strip ?? null);
  const [add, adding] = useNewWishMutation();
  const [edit, editing] = useEditWishMutation();
  const [remove] = useRemoveWishMutation();
  const done = useRunAndNotify();
  const moment = readClock(at);
  const error = adding.error ?? editing.error;
  const save = async () => {
    const words = { text, at: moment ?? null, who, strip };
    const answer = wish
      ? await edit({ id: wish.id, edit: { ...words, revision: wish.revision } })
      : await add({ versionId: version.id, ...words });
    if (!answer.error) onClose();
  };
  const takeOff = ({ id }: WishView) =>
    done(remove(id), () => 'Taken off the list.', givenBack).then((gone) => gone && onClose());
  return (
    <Sheet title={wish ? 'Wish' : 'New wish'} open onClose={onClose}>
      <View style={styles.form}>
        <Field label="What is wished for" value={text} onChangeText={setText} multiline maxLength={LONGEST_WISH} />
        <Field
          label="When in the song, as 2:05"
          value={at}
          onChangeText={setAt}
          maxLength={10}
          error={moment === undefined}
        />
        <Field label="Who wishes it" value={who} onChangeText={setWho} maxLength={MAX_PERSON_NAME_LENGTH} />
        <ScrollView
          horizontal
          showsHorizontalScrollIndicator={false}
          contentContainerStyle={styles.chips}
          role="tablist"
        >
          <Chip title="No strip" chosen={strip === null} onPress={() => setStrip(null)} />
          {strips.map((one) => (
            <Chip key={one.strip} title={one.name} chosen={strip === one.strip} onPress={() => setStrip(one.strip)} />
          ))}
        </ScrollView>
        {error ? <FaultCard error={error} /> : null}
        <Action
          kind="main"
          title={wish ? 'Save' : 'Write it down'}
          busy={adding.isLoading || editing.isLoading}
          disabled={text.trim() === '' || moment === undefined}
          onPress={() => void save()}
        />
        {wish ? <Action title="Take it off the list" onPress={() => void takeOff(wish)} /> : null}
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  form: { gap: SPACE.m, paddingBottom: SPACE.s },
  chips: { gap: SPACE.s },
});
