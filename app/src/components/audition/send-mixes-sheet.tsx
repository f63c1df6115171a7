import { skipToken } from '@reduxjs/toolkit/query';
import dayjs from 'dayjs';
import { StyleSheet, View } from 'react-native';

import type { VersionEdit, VersionView } from '@old-echo/core/contracts/production';
import { VERSION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { RENDER_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import type { RenderView } from '@old-echo/core/contracts/sound';
import { MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';
import { joinWithAnd } from '@old-echo/core/phrases/format-value';
import { type BitDepth, DEPTHS } from '@old-echo/core/signal/wav';

import { addressOf, ask } from '../../store/ask';
import { useEditVersionMutation, useProductionsQuery, useSceneQuery } from '../../store/scenes-api';
import { useDraft } from '../../store/use-draft';
import { useRunAndNotify } from '../../store/use-run-and-notify';
import { AppText } from '../../ui/app-text';
import { Action, Chip } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';
import { Field } from '../../ui/field';
import { Sheet } from '../../ui/sheet';
import { SPACE } from '../../ui/tokens';
import { KeptDraft } from '../kept-draft';
import type { Audition } from './use-audition';

interface SendMixesSheetProps {
  readonly audition: Audition;
  readonly views: readonly [RenderView, RenderView];
  readonly names: { readonly a: string; readonly b: string };
  readonly onClose: () => void;
}

/** What a version is edited to once a mix of it was sent: an approved one stays approved. */
const sentEdit = ({ status, note, revision }: VersionView, line: string): VersionEdit => ({
  status: status === 'approved' ? status : 'sent',
  note: [note, line].filter(Boolean).join('\n'),
  revision,
});

/** Both mixes as files, what was sent written down with their versions, and these marked as sent: in one step. */
export function SendMixesSheet({ audition, views, names, onClose }: SendMixesSheetProps) {
  const done = useRunAndNotify();
  const [edit, { isLoading }] = useEditVersionMutation();
  const { data: productions = [] } = useProductionsQuery();
  const scenes = [
    useSceneQuery(audition.a.sceneId ?? skipToken).data,
    useSceneQuery(audition.b.sceneId ?? skipToken).data,
  ];
  const all = productions.flatMap(({ versions }) => versions);
  const versions = all.filter(({ id }) => scenes.some((scene) => scene?.versionId === id));
  const draft = useDraft<{ note: string; depth: BitDepth }>(`send/${audition.productionId}`, { note: '', depth: '24' });
  const { note, depth } = draft.values;
  const files = [`A ${names.a}`, `B ${names.b}`];
  const send = async () => {
    const line = `Sent ${dayjs().format('D MMM YYYY')}: ${files.join(', ')}.${note.trim() === '' ? '' : ` ${note.trim()}`}`;
    for (const version of versions) {
      const { id, status, note: before, revision } = version;
      const undo = ask(VERSION_ROUTES.editVersion, {
        params: { id },
        body: { status, note: before, revision: revision + 1 },
      });
      const marked = await done(
        edit({ id, edit: sentEdit(version, line) }),
        () => `${version.name} is marked as sent.`,
        undo,
      );
      if (!marked) return;
    }
    const file = views.map(({ id }, i) => `${id} ${files[i]}`);
    window.location.assign(
      addressOf(RENDER_ROUTES.rendersArchive, { query: { depth, name: `${names.a} and ${names.b}`, file } }),
    );
    draft.forget();
    onClose();
  };
  return (
    <Sheet title="Send both mixes" open onClose={onClose}>
      <View style={styles.form}>
        <KeptDraft draft={draft} />
        <AppText tone="second">
          {versions.length === 0
            ? 'Neither is a scene, so no version is marked.'
            : `Both as WAV files in one download; ${joinWithAnd(versions.map(({ name }) => name))} marked as sent, with the date, what was sent, and your note.`}
        </AppText>
        <ChipRow role="tablist" aria-label="Bit depth">
          {DEPTHS.map((one) => (
            <Chip
              key={one}
              title={one === 'float' ? '32-bit float' : `${one}-bit`}
              chosen={depth === one}
              onPress={() => draft.set({ depth: one })}
            />
          ))}
        </ChipRow>
        <Field
          label="Note, e.g. what to listen for"
          value={note}
          onChangeText={(typed) => draft.set({ note: typed })}
          multiline
          maxLength={MAX_NOTE_LENGTH}
        />
        <Action
          kind="main"
          title={versions.length === 0 ? 'Download both' : 'Download and mark as sent'}
          busy={isLoading}
          onPress={() => void send()}
        />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ form: { gap: SPACE.m, paddingBottom: SPACE.s } });
