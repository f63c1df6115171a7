import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { Candidate } from '@old-echo/core/desk/learn/learn-mapping';
import {
  latestOf,
  type LearnedPlace,
  type LearnedRule,
  learnPlace,
  learnRule,
  type MovedNeighbour,
  type Shown,
} from '@old-echo/core/desk/learn/learn-rule';
import { fewValues, type Lesson } from '@old-echo/core/desk/learn/lessons';
import type { Profile } from '@old-echo/core/desk/profile';
import { formatValue } from '@old-echo/core/phrases/format-value';

import { useAskDeskMutation } from '../store/desk-api';
import { AppText } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { AskedHow } from './asked-how';
import { HeardMessages } from './heard-messages';
import type { Asked, LearnedControl } from './learned-control';
import { controlName, lessonName } from './lesson-name';
import type { Listening } from './use-listening';

interface LessonPaneProps {
  readonly profile: Profile;
  readonly lesson: Lesson;
  readonly listening: Listening;
  /** How the same control of other strips stands on the wire. */
  readonly known: Candidate | undefined;
  readonly onClose: () => void;
  readonly onLearned: (control: LearnedControl) => void;
}

/** How far a lesson is. */
interface Progress {
  readonly shown: readonly Shown[];
  readonly place: LearnedPlace | undefined;
  readonly moved: readonly MovedNeighbour[];
  readonly rule: LearnedRule | undefined;
  /** What was heard since is looked at: all of the lesson, or of one neighbour. */
  readonly since: number;
  readonly why: string;
}

/** One control is shown at some of its values, then moved on neighbours: what follows it on the wire is its rule. */
export function LessonPane({ profile, lesson, listening, known, onClose, onLearned }: LessonPaneProps) {
  const values = known ? fewValues(lesson.spec) : lesson.values;
  const newest = listening.heard.at(-1)?.packet ?? 0;
  const begin = (why = ''): Progress => ({
    shown: [],
    place: undefined,
    moved: [],
    rule: undefined,
    since: newest,
    why,
  });
  const [progress, setProgress] = useState<Progress>(() => begin());
  const [isLooking, setLooking] = useState(false);
  const [isSilent, setSilent] = useState(false);
  const [askDesk, asking] = useAskDeskMutation();
  const { shown, place, moved, rule, since, why } = progress;
  const value = values[shown.length];
  const neighbour = place && lesson.neighbours[moved.length];

  /** What was heard since the step began; nothing said of it means that nothing was. */
  const heardNow = async () => {
    setLooking(true);
    const all = await listening.look();
    setLooking(false);
    return { heard: latestOf(all.filter(({ packet }) => packet > since)), last: all.at(-1)?.packet ?? 0 };
  };
  const stands = async () => {
    if (value === undefined) return;
    const { heard, last } = await heardNow();
    if (heard.length === 0)
      return setProgress({ ...progress, why: 'Nothing arrived. Move it away and back again, then say so once more.' });
    const all = [...shown, { value, heard }];
    if (all.length < values.length) return setProgress({ ...progress, shown: all, why: '' });
    const found = learnPlace(lesson.spec, all, known ? [known] : []);
    if (!found) return setProgress(begin('Nothing that arrived follows this control. Show it once more, or skip it.'));
    const next = { ...progress, shown: all, place: found, since: last, why: '' };
    setProgress({ ...next, rule: lesson.neighbours.length === 0 ? learnRule(lesson, found, []) : undefined });
  };
  const wasMoved = async () => {
    if (!place || !neighbour) return;
    const { heard, last } = await heardNow();
    if (heard.length === 0) return setProgress({ ...progress, why: 'Nothing arrived. Move it by any amount.' });
    const all = [...moved, { neighbour, heard }];
    const isLast = all.length === lesson.neighbours.length;
    const found = learnRule(lesson, place, all);
    if (!found)
      return setProgress({
        ...progress,
        since: last,
        why: 'What arrived does not follow from the first one. Move this one alone.',
      });
    setProgress({ ...progress, moved: all, since: last, why: '', rule: isLast ? found : undefined });
  };
  const learn = (all: LearnedRule, asked: Asked | null) => {
    if (place) onLearned({ rule: all, mapping: place.mapping, asked });
  };
  const keep = async () => {
    if (!rule || !place || listening.id === undefined) return;
    const question = { address: place.address, arguments: [] };
    const answer = await askDesk({ id: listening.id, ...question });
    const answeredIn = answer.data?.answeredIn ?? null;
    if (answeredIn === null) setSilent(true);
    else learn(rule, { ...question, answer: place.address, answeredIn });
  };
  useShortcuts({ Escape: onClose });
  return (
    <View style={styles.fill}>
      <Header
        over="Learn its language"
        title={lessonName(profile, lesson)}
        under={
          rule
            ? isSilent
              ? 'What asks for it'
              : 'Learned'
            : place
              ? 'Its neighbours'
              : `Value ${shown.length + 1} of ${values.length}`
        }
        onBack={onClose}
      />
      {rule && isSilent ? (
        <AskedHow
          profile={profile}
          lesson={lesson}
          rule={rule}
          shown={shown}
          moved={moved}
          listening={listening}
          onAsked={learn}
          onSendOnly={() => learn({ ...rule, ask: false }, null)}
        />
      ) : (
        <>
          <Body>
            <View style={styles.column} testID="lesson">
              {rule && place ? (
                <Card edge="done">
                  <AppText kind="strong">{rule.address}</AppText>
                  <AppText tone="second">{meaningOf(rule)}</AppText>
                </Card>
              ) : neighbour ? (
                <>
                  <AppText tone="second">Now move the same control elsewhere, by any amount:</AppText>
                  <AppText kind="title">{controlName(profile, neighbour)}</AppText>
                </>
              ) : value === undefined ? null : (
                <>
                  <AppText tone="second">Set {controlName(profile, lesson.shown)} to</AppText>
                  <AppText kind="figure">{formatValue(lesson.spec, value)}</AppText>
                </>
              )}
              {why ? (
                <AppText tone="stop" aria-live="polite">
                  {why}
                </AppText>
              ) : null}
              {rule ? null : (
                <HeardMessages messages={listening.heard.filter(({ packet }) => packet > since)} most={6} />
              )}
            </View>
          </Body>
          <Footer>
            {rule ? (
              <Action kind="main" grow title="Keep it" busy={asking.isLoading} onPress={() => void keep()} />
            ) : (
              <Action
                kind="main"
                grow
                title={neighbour ? 'Moved' : 'It stands there'}
                busy={isLooking}
                onPress={() => void (neighbour ? wasMoved() : stands())}
              />
            )}
            <Action title="Again" onPress={() => setProgress(begin())} />
            <Action title="Skip" onPress={onClose} />
          </Footer>
        </>
      )}
    </View>
  );
}

/** "A whole number, argument 2": how it stands on the wire. */
function meaningOf({ type, argument, value }: LearnedRule): string {
  const types = { i: 'a whole number', f: 'a number', s: 'text', 'T/F': 'true or false' } as const;
  const mapped =
    value === undefined ? 'as it is' : JSON.stringify(value).replaceAll(/[{}"]/g, '').replaceAll(/[:,]/g, '$& ');
  return `Sent as ${types[type]}, ${mapped}${argument === undefined ? '' : `; argument ${argument}`}`;
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
