import { skipToken } from '@reduxjs/toolkit/query';
import dayjs from 'dayjs';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { LINK_DAYS, type MadeClientLink } from '@old-echo/core/contracts/client-link';
import type { VersionEdit, VersionView } from '@old-echo/core/contracts/production';
import { CLIENT_LINK_ROUTES } from '@old-echo/core/contracts/routes/client-routes';
import { VERSION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { RENDER_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import type { RenderView } from '@old-echo/core/contracts/sound';
import { MAX_NAME_LENGTH, MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';
import { joinWithAnd } from '@old-echo/core/phrases/format-value';
import { type BitDepth, DEPTHS } from '@old-echo/core/signal/wav-header';

import { addressOf, ask } from '../../store/ask';
import { useMakeClientLinkMutation } from '../../store/client-api';
import { useEditVersionMutation, useProductionsQuery, useSceneQuery } from '../../store/scenes-api';
import { useAppSelector } from '../../store/store';
import { useDraft } from '../../store/use-draft';
import { useRunAndNotify } from '../../store/use-run-and-notify';
import { AppText } from '../../ui/app-text';
import { Action, Chip } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';
import { Field } from '../../ui/field';
import { Sheet } from '../../ui/sheet';
import { SPACE } from '../../ui/tokens';
import { withoutName } from '../../ui/why-not';
import { FaultCard } from '../fault-card';
import { KeptDraft } from '../kept-draft';
import { AddressOfLink } from './address-of-link';
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

interface Typed {
  readonly way: 'files' | 'link';
  readonly note: string;
  readonly depth: BitDepth;
  readonly name: string;
  readonly days: number;
  readonly word: string;
  readonly mayDownload: boolean;
}

const NOTHING_TYPED: Typed = {
  ...{ way: 'files', note: '', depth: '24', name: '', days: LINK_DAYS.usual, word: '', mayDownload: false },
};

/** Both mixes as files, or a link that plays them; what was sent written down with their versions, and these marked as sent: in one step. */
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
  const draft = useDraft(`send/${audition.productionId}`, NOTHING_TYPED);
  const { note, depth, way, name, days, word, mayDownload } = draft.values;
  const by = useAppSelector((root) => root.place.who);
  const [makeLink, { isLoading: isMaking, error }] = useMakeClientLinkMutation();
  const [made, setMade] = useState<MadeClientLink | null>(null);
  const files = [`A ${names.a}`, `B ${names.b}`];
  const markAsSent = async (to: string): Promise<boolean> => {
    const line = `Sent ${dayjs().format('D MMM YYYY')}${to}: ${files.join(', ')}.${note.trim() === '' ? '' : ` ${note.trim()}`}`;
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
      if (!marked) return false;
    }
    return true;
  };
  const send = async () => {
    if (!(await markAsSent(''))) return;
    const file = views.map(({ id }, i) => `${id} ${files[i]}`);
    window.location.assign(
      addressOf(RENDER_ROUTES.rendersArchive, { query: { depth, name: `${names.a} and ${names.b}`, file } }),
    );
    draft.forget();
    onClose();
  };
  const sendLink = async () => {
    const mixes = views.map(({ id: sound }, i) => ({
      ...{ sound, name: [names.a, names.b][i] ?? '', sceneId: scenes[i]?.id ?? null },
    }));
    const link = {
      ...{ name: name.trim(), note: note.trim(), mixes, days, mayDownload, by },
      ...(word.trim() === '' ? {} : { word: word.trim() }),
    };
    const { data } = await makeLink({ production: audition.productionId, link });
    if (!data) return;
    setMade(data);
    draft.forget();
    await markAsSent(` to ${data.link.name} as a link`);
  };
  const marked = joinWithAnd(versions.map((version) => version.name));
  const noLink =
    withoutName(name) || (word.trim() !== '' && word.trim().length < 4 && 'A word has 4 characters at least.');
  if (made)
    return (
      <Sheet title={`Link for ${made.link.name}`} open onClose={onClose}>
        <AddressOfLink made={made} onClose={onClose} />
      </Sheet>
    );
  return (
    <Sheet title="Send both mixes" open onClose={onClose}>
      <View style={styles.form}>
        <KeptDraft draft={draft} />
        <ChipRow role="tablist" aria-label="How">
          <Chip title="As files" chosen={way === 'files'} onPress={() => draft.set({ way: 'files' })} />
          <Chip
            asks={CLIENT_LINK_ROUTES.makeClientLink}
            title="As a link"
            chosen={way === 'link'}
            onPress={() => draft.set({ way: 'link' })}
          />
        </ChipRow>
        <AppText tone="second">
          {way === 'files'
            ? 'Both as WAV files in one download'
            : 'A page that plays both, in step and as loud as one another'}
          {versions.length === 0
            ? '. Neither is a scene, so no version is marked.'
            : `; ${marked} marked as sent, with the date, what was sent, and your note.`}
        </AppText>
        {way === 'link' ? (
          <>
            <Field
              label="For whom"
              placeholder="The band"
              value={name}
              onChangeText={(typed) => draft.set({ name: typed })}
              maxLength={MAX_NAME_LENGTH}
              testID="link-name"
            />
            <ChipRow role="tablist" aria-label="Good for">
              {[7, LINK_DAYS.usual, 90].map((one) => (
                <Chip key={one} title={`${one} days`} chosen={days === one} onPress={() => draft.set({ days: one })} />
              ))}
            </ChipRow>
            <Field
              label="Word it asks for, if you like"
              value={word}
              onChangeText={(typed) => draft.set({ word: typed })}
              maxLength={60}
              testID="link-word"
            />
            <ChipRow>
              <Chip
                toggle
                title="Mixes may be saved"
                chosen={mayDownload}
                onPress={() => draft.set({ mayDownload: !mayDownload })}
              />
            </ChipRow>
          </>
        ) : (
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
        )}
        <Field
          label="Note, e.g. what to listen for"
          value={note}
          onChangeText={(typed) => draft.set({ note: typed })}
          multiline
          maxLength={MAX_NOTE_LENGTH}
        />
        {error && way === 'link' ? <FaultCard error={error} /> : null}
        {way === 'link' ? (
          <Action
            asks={CLIENT_LINK_ROUTES.makeClientLink}
            kind="main"
            title={versions.length === 0 ? 'Make the link' : 'Make the link and mark as sent'}
            busy={isMaking || isLoading}
            disabled={noLink}
            onPress={() => void sendLink()}
          />
        ) : (
          <Action
            kind="main"
            title={versions.length === 0 ? 'Download both' : 'Download and mark as sent'}
            busy={isLoading}
            onPress={() => void send()}
          />
        )}
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ form: { gap: SPACE.m, paddingBottom: SPACE.s } });
