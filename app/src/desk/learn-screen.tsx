import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { listeningShape, type NewListening } from '@old-echo/core/contracts/listening';
import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import type { Candidate } from '@old-echo/core/desk/learn/learn-mapping';
import { typedMessage } from '@old-echo/core/desk/learn/learn-question';
import { type Lesson, lessonsOf } from '@old-echo/core/desk/learn/lessons';
import { wiredPart } from '@old-echo/core/desk/manual';
import type { Profile } from '@old-echo/core/desk/profile';
import { plural } from '@old-echo/core/phrases/format-value';

import { FaultBelow } from '../components/fault-card';
import { KeptDraft } from '../components/kept-draft';
import { Loading } from '../components/loading';
import { useProfileQuery, useProfilesQuery } from '../store/desk-api';
import { useDraft } from '../store/use-draft';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { Body, Card, Header } from '../ui/layout';
import { NameLines } from '../ui/name-lines';
import { useLook } from '../ui/theme';
import { MAX_TEXT_WIDTH, ROW, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { AddressFields } from './address-fields';
import { DeskModels } from './desk-models';
import { firstWrong } from './first-wrong';
import { HeardMessages } from './heard-messages';
import type { LearnedControls } from './learned-control';
import { LearnedDesk } from './learned-desk';
import { lessonName } from './lesson-name';
import { LessonPane } from './lesson-pane';
import { useListening } from './use-listening';

interface LearnDraft {
  readonly profileId: string;
  readonly host: string;
  readonly port: string;
  readonly transport: 'udp' | 'tcp';
  readonly say: string;
  readonly isListening: boolean;
  readonly learned: LearnedControls;
}

const BLANK: LearnDraft = {
  profileId: '',
  host: '',
  port: '',
  transport: 'udp',
  say: '',
  isListening: false,
  learned: {},
};

/** Learns how a desk with an OSC of its own is spoken to: its controls are moved, and what arrives is made a map. */
export function LearnScreen() {
  const draft = useDraft<LearnDraft>('learn', BLANK);
  const { profileId, host, port, transport, say, isListening } = draft.values;
  const { data: profile } = useProfileQuery(profileId, { skip: profileId === '' });
  const { data: models } = useProfilesQuery();
  const message = typedMessage(say);
  const place: NewListening = {
    host: host.trim(),
    port: Number(port),
    transport,
    say: message ? [message] : [],
    every: 2000,
  };
  // Drawn once they are here, so that nothing moves away under a finger.
  if (!models || (isListening && !profile)) return <Loading what="Loading the models" />;
  return isListening && profile ? (
    <Lessons
      profile={wiredPart(profile)}
      place={place}
      learned={draft.values.learned}
      onLearned={(learned) => draft.set({ learned })}
      onStop={() => draft.set({ isListening: false })}
      onDone={draft.forget}
    />
  ) : (
    <WhereItIs draft={draft} place={place} models={models} />
  );
}

interface WhereItIsProps {
  readonly draft: ReturnType<typeof useDraft<LearnDraft>>;
  readonly place: NewListening;
  readonly models: readonly ProfileSummary[];
}

function WhereItIs({ draft, place, models }: WhereItIsProps) {
  const router = useRouter();
  const { profileId, host, port, transport, say } = draft.values;
  const back = () => router.navigate('/add-desk');
  useShortcuts({ Escape: back });
  const model = models.find(({ id }) => id === profileId);
  const whyNot = !model
    ? 'Choose a model first.'
    : model.manual
      ? 'No wire leads to a manual desk.'
      : firstWrong(listeningShape, place);
  return (
    <View style={styles.fill}>
      <Header over="Add a desk" title="Learn its language" onBack={back} />
      <Body>
        <View style={styles.column}>
          <KeptDraft draft={draft} />
          <AppText tone="second">
            For a desk with an OSC of its own. You move its controls one by one; Old Echo hears what arrives, and makes
            a map of it. Nothing on the desk is moved.
          </AppText>
          <DeskModels chosen={profileId} onChoose={({ id }) => draft.set({ profileId: id, learned: {} })} />
          <AddressFields host={host} port={port} onChange={draft.set} />
          <ChipRow role="tablist" aria-label="How it is reached">
            <Chip title="UDP" chosen={transport === 'udp'} onPress={() => draft.set({ transport: 'udp' })} />
            <Chip title="TCP" chosen={transport === 'tcp'} onPress={() => draft.set({ transport: 'tcp' })} />
          </ChipRow>
          <Field
            label="Message that makes it tell of moves, if it needs one"
            placeholder="/subscribe"
            value={say}
            onChangeText={(text) => draft.set({ say: text })}
            maxLength={200}
            testID="learn-say"
          />
        </View>
      </Body>
      <Footer>
        <Action kind="main" grow title="Listen" disabled={whyNot} onPress={() => draft.set({ isListening: true })} />
        <Action title="Cancel" onPress={back} />
      </Footer>
    </View>
  );
}

interface LessonsProps {
  readonly profile: Profile;
  readonly place: NewListening;
  readonly learned: LearnedControls;
  readonly onLearned: (learned: LearnedControls) => void;
  readonly onStop: () => void;
  readonly onDone: () => void;
}

function Lessons({ profile, place, learned, onLearned, onStop, onDone }: LessonsProps) {
  const listening = useListening(place);
  const lessons = useMemo(() => lessonsOf(profile), [profile]);
  const [open, setOpen] = useState<Lesson>();
  const [isEnding, setEnding] = useState(false);
  const next = lessons.find(({ pattern }) => !learned[pattern]);
  useShortcuts({ Escape: () => (open ? setOpen(undefined) : onStop()), n: () => !open && setOpen(next) });
  if (isEnding)
    return (
      <LearnedDesk profile={profile} place={place} learned={learned} onBack={() => setEnding(false)} onDone={onDone} />
    );
  if (open)
    return (
      <LessonPane
        key={open.pattern}
        profile={profile}
        lesson={open}
        listening={listening}
        known={knownFor(open, learned)}
        onClose={() => setOpen(undefined)}
        onLearned={(control) => {
          onLearned({ ...learned, [open.pattern]: control });
          setOpen(lessons.slice(lessons.indexOf(open) + 1).find(({ pattern }) => !learned[pattern]));
        }}
      />
    );
  const count = lessons.filter(({ pattern }) => learned[pattern]).length;
  return (
    <View style={styles.fill}>
      <Header
        over={`${profile.name} · ${place.host}:${place.port}`}
        title="Learn its language"
        under={`${count} of ${plural(lessons.length, 'kind')} of control learned`}
        onBack={onStop}
      />
      <Body>
        <View style={styles.column}>
          <Card>
            <AppText kind="strong">{listening.heard.length > 0 ? 'It is heard' : 'Nothing is heard yet'}</AppText>
            <AppText tone="second">
              {listening.heard.length > 0
                ? 'The last of what arrived:'
                : 'Move any control of the desk. If nothing arrives, look at its address, or at the message that makes it tell.'}
            </AppText>
            <HeardMessages messages={listening.heard} most={4} />
          </Card>
          {lessons.map((lesson) => (
            <LessonRow
              key={lesson.pattern}
              name={lessonName(profile, lesson)}
              address={learned[lesson.pattern]?.rule.address}
              onPress={() => setOpen(lesson)}
            />
          ))}
        </View>
      </Body>
      <FaultBelow error={listening.error} />
      <Footer>
        <Action
          kind="main"
          grow
          title={next ? `Next: ${lessonName(profile, next)}` : 'Use what was learned'}
          onPress={() => (next ? setOpen(next) : setEnding(true))}
        />
        {next ? (
          <Action title="Use it" disabled={count === 0 && 'Nothing is learned yet.'} onPress={() => setEnding(true)} />
        ) : null}
      </Footer>
    </View>
  );
}

interface LessonRowProps {
  readonly name: string;
  /** Where it is on the wire; undefined before it was learned. */
  readonly address: string | undefined;
  readonly onPress: () => void;
}

function LessonRow({ name, address, onPress }: LessonRowProps) {
  const look = useLook();
  return (
    <Pressable role="button" onPress={onPress} style={[styles.lesson, { borderColor: look.line }]}>
      <NameLines name={name} under={address ?? 'Not learned yet'} />
      <AppText tone="done">{address === undefined ? '' : '✓'}</AppText>
    </Pressable>
  );
}

/** How the same control of other strips stands on the wire. */
const knownFor = (lesson: Lesson, learned: LearnedControls): Candidate | undefined =>
  Object.entries(learned).find(([pattern]) => keyOf(pattern) === keyOf(lesson.pattern))?.[1].mapping;

const keyOf = (pattern: string): string => pattern.slice(pattern.indexOf('/'));

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  lesson: { flexDirection: 'row', alignItems: 'center', minHeight: ROW, borderTopWidth: 1 },
});
