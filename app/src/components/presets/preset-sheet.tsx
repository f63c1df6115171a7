import { StyleSheet, View } from 'react-native';

import type { PresetView } from '@old-echo/core/contracts/preset';
import { MAX_NAME_LENGTH, MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';
import type { PresetContent, PresetKind } from '@old-echo/core/library/preset';

import { useEditPresetMutation, useNewPresetMutation, usePresetsQuery } from '../../store/library-api';
import { useAppSelector } from '../../store/store';
import { useDraft } from '../../store/use-draft';
import { useRunAndNotify } from '../../store/use-run-and-notify';
import { AppText } from '../../ui/app-text';
import { Action, Chip } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';
import { Field } from '../../ui/field';
import { Card } from '../../ui/layout';
import { Sheet } from '../../ui/sheet';
import { SPACE } from '../../ui/tokens';
import { withoutName } from '../../ui/why-not';
import { KeptDraft } from '../kept-draft';
import { parseTags } from '../parse-tags';
import { SaveConflict } from '../save-conflict';

/** What is to be saved, and the name it suggests. */
export interface PresetDraft {
  readonly kind: PresetKind;
  readonly name: string;
  readonly profileId: string;
  readonly madeOn: string;
  readonly content: PresetContent;
}

interface PresetSheetProps {
  /** The one whose words are edited; without it something new is saved. */
  readonly preset?: PresetView;
  readonly savable?: PresetDraft;
  readonly onClose: () => void;
}

/** Name, folder, tags and note of a preset; when something new is saved under a name that exists, asks what is meant. */
export function PresetSheet({ preset, savable, onClose }: PresetSheetProps) {
  const draft = useDraft(`preset/${preset?.id ?? `new/${savable?.madeOn}/${savable?.kind}/${savable?.name}`}`, {
    name: preset?.name ?? savable?.name ?? '',
    folder: preset?.folder ?? '',
    tags: (preset?.tags ?? []).join(', '),
    note: preset?.note ?? '',
    revision: preset?.revision ?? 0,
  });
  const { name, folder, tags, note, revision } = draft.values;
  const { data: all = [] } = usePresetsQuery();
  const by = useAppSelector((root) => root.place.who);
  const [make, making] = useNewPresetMutation();
  const [edit, editing] = useEditPresetMutation();
  const done = useRunAndNotify();
  const kind = preset?.kind ?? savable?.kind;
  const taken = all.some(
    (one) => one.binnedAt === null && one.kind === kind && one.name === name.trim() && one.id !== preset?.id,
  );
  const folders = [...new Set(all.map((one) => one.folder).filter(Boolean))];
  const error = making.error ?? editing.error;
  const words = { name, folder, tags: parseTags(tags), note };
  const save = async (how: 'ask' | 'replace' | 'keep both', over = revision) => {
    const asked = preset
      ? edit({ id: preset.id, edit: { ...words, revision: over } })
      : savable && make({ ...savable, ...words, by, taken: how });
    const saved = asked && (await done(asked, (now) => (preset ? '' : `Saved ${now.name} to the library.`)));
    if (!saved) return;
    draft.forget();
    onClose();
  };
  const busy = making.isLoading || editing.isLoading;
  return (
    <Sheet title={preset ? `Edit ${preset.name}` : 'Save to the library'} open onClose={onClose}>
      <View style={styles.form}>
        <KeptDraft draft={draft} />
        <Field
          label="Name"
          value={name}
          onChangeText={(typed) => draft.set({ name: typed })}
          maxLength={MAX_NAME_LENGTH}
          selectTextOnFocus
        />
        {taken && !preset ? (
          <Card edge="care">
            <AppText kind="strong">{name.trim()} exists already</AppText>
            <AppText tone="second">If replaced, the old one goes to the bin.</AppText>
            <View style={styles.row}>
              <Action title="Replace" busy={busy} onPress={() => void save('replace')} />
              <Action title="Keep both" busy={busy} onPress={() => void save('keep both')} />
            </View>
          </Card>
        ) : null}
        <Field label="Folder" value={folder} onChangeText={(typed) => draft.set({ folder: typed })} maxLength={60} />
        <ChipRow>
          {folders.map((one) => (
            <Chip
              key={one}
              title={one}
              chosen={folder === one}
              onPress={() => draft.set({ folder: folder === one ? '' : one })}
            />
          ))}
        </ChipRow>
        <Field label="Tags, separated by commas" value={tags} onChangeText={(typed) => draft.set({ tags: typed })} />
        <Field
          label="Why it is set this way"
          value={note}
          onChangeText={(typed) => draft.set({ note: typed })}
          multiline
          maxLength={MAX_NOTE_LENGTH}
        />
        {error ? (
          <SaveConflict
            error={error}
            now={
              preset && preset.revision !== revision
                ? `${preset.name}${preset.note && ` · “${preset.note}”`}`
                : undefined
            }
            onOver={() => void save('ask', preset?.revision)}
          />
        ) : null}
        {taken ? null : (
          <Action kind="main" title="Save" busy={busy} disabled={withoutName(name)} onPress={() => void save('ask')} />
        )}
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  form: { gap: SPACE.m, paddingBottom: SPACE.s },
  row: { flexDirection: 'row', gap: SPACE.s },
});
