import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { sceneTitle } from '@old-echo/core/contracts/scene';
import { MAX_NAME_LENGTH, MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';

import { FaultCard } from '../components/fault-card';
import { useSaveCombinationMutation } from '../store/combine-api';
import { useUniqueNameQuery } from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { Action } from '../ui/buttons';
import { Field } from '../ui/field';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';
import type { Combination } from './use-combination';

interface KeepSheetProps {
  readonly combination: Combination;
  /** What comes from where, as its first note. */
  readonly note: string;
  readonly onClose: () => void;
}

/** Keeps what was combined as a scene, and restores it straight away if that is wanted. */
export function SaveCombinationSheet({ combination: { saved, base }, note: suggested, onClose }: KeepSheetProps) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: free } = useUniqueNameQuery({
    version: saved.versionId,
    name: `${base.scene.name}, combined`.slice(0, MAX_NAME_LENGTH - 4),
  });
  const [own, setName] = useState<string | null>(null);
  const [note, setNote] = useState(suggested.slice(0, MAX_NOTE_LENGTH));
  const [keep, { isLoading, error }] = useSaveCombinationMutation();
  const by = useAppSelector((root) => root.place.who);
  const name = own ?? free?.name ?? '';
  const save = (restore: boolean) =>
    void done(
      keep({ id: saved.id, keep: { name, note, revision: saved.revision, by } }),
      (scene) => `${sceneTitle(scene)} saved.`,
    ).then((scene) => {
      if (!scene) return;
      router.replace(restore ? `/restore/${scene.id}` : `/mixes/${scene.productionId}/scene/${scene.id}`);
    });
  return (
    <Sheet title="Save as a scene" open onClose={onClose}>
      <View style={styles.form}>
        <Field
          label="Name"
          value={name}
          onChangeText={setName}
          // From here on it is the person's: a suggestion that came under the fingers would be typed into.
          onFocus={() => setName(name)}
          maxLength={MAX_NAME_LENGTH}
          error={own !== null && name.trim() === ''}
        />
        <Field label="Note" value={note} onChangeText={setNote} multiline maxLength={MAX_NOTE_LENGTH} />
        {error ? <FaultCard error={error} /> : null}
        <Action kind="main" title="Save" busy={isLoading} disabled={withoutName(name)} onPress={() => save(false)} />
        <Action title="Save and restore" busy={isLoading} disabled={withoutName(name)} onPress={() => save(true)} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ form: { gap: SPACE.m, paddingBottom: SPACE.s } });
