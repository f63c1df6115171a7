import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { clock, MIX_NOTE_STATUSES, type MixNoteStatus, type MixNoteView } from '@old-echo/core/contracts/mix-note';
import type { ProductionView, VersionView } from '@old-echo/core/contracts/production';
import { MIX_NOTE_ROUTES } from '@old-echo/core/contracts/routes/combine-routes';
import { displayName } from '@old-echo/core/desk/state';

import { compareHref } from '../components/links/compare-link';
import { Loading } from '../components/loading';
import { SceneSheet } from '../components/scene-picker-sheet';
import { useSide } from '../components/use-compare-side';
import { useProduction } from '../components/use-production';
import { addressOf } from '../store/ask';
import { useEditMixNoteMutation, useMixNotesQuery } from '../store/combine-api';
import { useSceneStateQuery } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { useMayAsk } from '../ui/allowed';
import { AppText } from '../ui/app-text';
import { Action, Chip, MainAction } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Body, Card, Empty, Header } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { MixNoteSheet } from './mix-note-sheet';

const STATE_WORDS: Readonly<Record<MixNoteStatus, string>> = {
  open: 'Open',
  tried: 'Tried',
  done: 'Done',
  declined: 'Declined',
};

/** What the client or the band asked for of a version. */
export function MixNotesScreen() {
  const { version: id } = useLocalSearchParams<{ version?: string }>();
  const { production, loaded } = useProduction();
  const version = production?.versions.find((one) => one.id === id) ?? production?.versions[0];
  if (production && version) return <MixNotes production={production} version={version} />;
  return loaded ? (
    <Empty title="This version no longer exists">It may be in the bin.</Empty>
  ) : (
    <Loading what="Loading the mix notes" />
  );
}

interface MixNotesProps {
  readonly production: ProductionView;
  readonly version: VersionView;
}

function MixNotes({ production, version }: MixNotesProps) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: mixNotes } = useMixNotesQuery(version.id);
  const newest = version.newestSceneId ?? skipToken;
  const { data: state } = useSceneStateQuery(newest);
  const profile = useSide(version.newestSceneId ?? undefined)?.profile;
  const [only, setOnly] = useState<MixNoteStatus | null>(null);
  const [sheet, setSheet] = useState<MixNoteView | 'new' | null>(null);
  const [answering, setAnswering] = useState<MixNoteView | null>(null);
  const [edit] = useEditMixNoteMutation();
  const back = () => router.navigate(`/mixes/${production.id}`);
  useShortcuts({ Escape: back, w: () => setSheet('new') });
  const nameOf = (strip: string) => (profile && state ? displayName(profile, state, strip) : strip);
  const strips = profile?.families.find(({ id }) => id === 'in')?.strips ?? [];
  const count = (of: MixNoteStatus) => mixNotes?.filter((mixNote) => mixNote.status === of).length ?? 0;
  const change = (mixNote: MixNoteView, to: { status?: MixNoteStatus; sceneId?: string | null }) =>
    void done(edit({ id: mixNote.id, edit: { ...to, revision: mixNote.revision } }), () => '');
  const shown = mixNotes?.filter((mixNote) => only === null || mixNote.status === only) ?? [];
  return (
    <View style={styles.fill}>
      <Header over={`${production.name} · ${version.name}`} title="Mix notes" onBack={back} />
      <Body tight>
        <ChipRow role="tablist">
          <Chip title={`All · ${mixNotes?.length ?? 0}`} chosen={only === null} onPress={() => setOnly(null)} />
          {MIX_NOTE_STATUSES.filter((one) => count(one) > 0).map((one) => (
            <Chip
              key={one}
              title={`${STATE_WORDS[one]} · ${count(one)}`}
              chosen={only === one}
              onPress={() => setOnly(only === one ? null : one)}
            />
          ))}
        </ChipRow>
        {!mixNotes ? <Loading what="Loading the mix notes" /> : null}
        {mixNotes?.length === 0 ? (
          <Empty title="No mix notes yet">
            Note what the client or the band asks for, then the scene that answers it.
          </Empty>
        ) : null}
        {shown.map((mixNote) => (
          <MixNote
            key={mixNote.id}
            mixNote={mixNote}
            strip={mixNote.strip ? nameOf(mixNote.strip) : null}
            onEdit={() => setSheet(mixNote)}
            onState={(to) => change(mixNote, { status: to })}
            onAnswer={() => setAnswering(mixNote)}
          />
        ))}
        {mixNotes && mixNotes.length > 0 ? (
          <ChipRow>
            <Action
              kind="small"
              title="Save as CSV"
              onPress={() =>
                globalThis.location.assign(addressOf(MIX_NOTE_ROUTES.mixNotesTable, { query: { version: version.id } }))
              }
            />
            <Action
              kind="small"
              title="Print"
              onPress={() =>
                void globalThis.open(addressOf(MIX_NOTE_ROUTES.mixNotesSheet, { query: { version: version.id } }))
              }
            />
          </ChipRow>
        ) : null}
      </Body>
      <MainAction asks={MIX_NOTE_ROUTES.addMixNote} title="Add a mix note" onPress={() => setSheet('new')} />
      {sheet ? (
        <MixNoteSheet
          version={version}
          mixNote={sheet === 'new' ? null : sheet}
          strips={strips.map((strip) => ({ strip, name: nameOf(strip) }))}
          onClose={() => setSheet(null)}
        />
      ) : null}
      {answering ? (
        <SceneSheet
          title="Which scene answers it?"
          production={production}
          chosen={answering.sceneId ?? undefined}
          open
          onClose={() => setAnswering(null)}
          onChoose={(scene) => change(answering, { sceneId: scene.id, status: 'done' })}
        />
      ) : null}
    </View>
  );
}

interface MixNoteProps {
  readonly mixNote: MixNoteView;
  readonly strip: string | null;
  readonly onEdit: () => void;
  readonly onState: (to: MixNoteStatus) => void;
  readonly onAnswer: () => void;
}

function MixNote({ mixNote, strip, onEdit, onState, onAnswer }: MixNoteProps) {
  const router = useRouter();
  const { id, text, songSeconds, requestedBy, status, sceneId, scene, beforeId } = mixNote;
  const whyNot = !useMayAsk()(MIX_NOTE_ROUTES.editMixNote) && 'Assistants and engineers answer mix notes.';
  const about = [songSeconds === null ? '' : clock(songSeconds), strip, requestedBy].filter(Boolean).join(' · ');
  return (
    <Card edge={status === 'done' ? 'done' : status === 'open' ? 'care' : undefined}>
      <View testID={`mix-note-${id}`} style={styles.mixNote}>
        {about ? (
          <AppText kind="small" tone="second">
            {about}
          </AppText>
        ) : null}
        <AppText kind="strong" style={status === 'declined' ? styles.struck : null}>
          {text}
        </AppText>
        {scene ? (
          <AppText kind="small" tone="second">
            Answered by {scene}
          </AppText>
        ) : null}
        <ChipRow role="tablist" aria-label="State">
          {MIX_NOTE_STATUSES.map((one) => (
            <Chip
              key={one}
              title={STATE_WORDS[one]}
              chosen={status === one}
              disabled={whyNot}
              onPress={() => onState(one)}
            />
          ))}
        </ChipRow>
        <ChipRow>
          <Action
            asks={MIX_NOTE_ROUTES.editMixNote}
            kind="small"
            title={scene ? 'Other scene' : 'Answer with a scene'}
            onPress={onAnswer}
          />
          {sceneId && beforeId ? (
            <Action
              kind="small"
              title="Before and after"
              onPress={() =>
                router.navigate(compareHref({ a: beforeId, others: [sceneId], at: 0, cell: null, desk: null }))
              }
            />
          ) : null}
          <Action asks={MIX_NOTE_ROUTES.editMixNote} kind="quiet" title="Edit" onPress={onEdit} />
        </ChipRow>
      </View>
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  mixNote: { gap: SPACE.s, paddingVertical: SPACE.xs },
  struck: { textDecorationLine: 'line-through' },
});
