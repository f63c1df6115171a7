import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { filledQuestion, learnAsk, learnQuestion, type QuestionAnswer } from '@old-echo/core/desk/learn/learn-question';
import {
  latestOf,
  type LearnedRule,
  type MovedNeighbour,
  type Shown,
  standsAt,
} from '@old-echo/core/desk/learn/learn-rule';
import type { Lesson } from '@old-echo/core/desk/learn/lessons';
import { fillTemplate } from '@old-echo/core/desk/link-map/template';
import type { Profile } from '@old-echo/core/desk/profile';

import { FaultBelow } from '../components/fault-card';
import { useAskDeskMutation } from '../store/desk-api';
import { AppText } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Field } from '../ui/field';
import { Body, Card } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { HeardMessages } from './heard-messages';
import type { Asked } from './learned-control';
import { controlName } from './lesson-name';
import type { Listening } from './use-listening';

interface AskedHowProps {
  readonly profile: Profile;
  readonly lesson: Lesson;
  readonly rule: LearnedRule;
  readonly shown: readonly Shown[];
  readonly moved: readonly MovedNeighbour[];
  readonly listening: Listening;
  readonly onAsked: (rule: LearnedRule, asked: Asked) => void;
  readonly onSendOnly: () => void;
}

/** A control does not answer at its own address: whoever has the desk's list of messages says what it is asked by. */
export function AskedHow(props: AskedHowProps) {
  const { profile, lesson, rule, shown, moved, listening, onAsked, onSendOnly } = props;
  const [text, setText] = useState('');
  const [why, setWhy] = useState('');
  const [since, setSince] = useState(Infinity);
  const [askDesk, asking] = useAskDeskMutation();
  const question = learnQuestion(lesson, text);
  const controls = [
    { ...lesson.shown, heard: shown.at(-1)?.heard ?? [] },
    ...moved.map(({ neighbour, heard }) => ({ ...neighbour, heard })),
  ];
  const ask = async () => {
    const { id } = listening;
    if (!question || id === undefined) return;
    setWhy('');
    const answers: QuestionAnswer[] = [];
    for (const control of controls) {
      const stands = standsAt(rule, control.numbers, control.heard);
      if (stands === undefined) continue;
      const before = (await listening.look()).at(-1)?.packet ?? 0;
      setSince(before);
      const sent = await askDesk({ id, ...filledQuestion(question, control.numbers) });
      if (sent.error) return;
      const heard = latestOf((await listening.look()).filter(({ packet }) => packet > before));
      const answer = { numbers: control.numbers, stands, heard };
      if (!learnAsk(question, [answer]))
        return setWhy(`Nothing that arrived says how ${controlName(profile, control)} stands.`);
      answers.push(answer);
    }
    const found = learnAsk(question, answers);
    if (!found) return setWhy('It is answered in another place for each of them, which follows no rule.');
    const { numbers } = lesson.shown;
    const own = { ...filledQuestion(question, numbers), answer: fillTemplate(found.answer, numbers) };
    const { data } = await askDesk({ id, ...own });
    if (typeof data?.answeredIn !== 'number') return setWhy('It answered once, and then no more. Ask it again.');
    onAsked({ ...rule, ask: found }, { ...own, answeredIn: data.answeredIn });
  };
  return (
    <>
      <Body>
        <View style={styles.column} testID="asked-how">
          <Card edge="care">
            <AppText kind="strong">It does not answer at {rule.address}</AppText>
            <AppText tone="second">
              Its list of messages may say what it is asked by. Without that it is only ever sent, and never called
              confirmed.
            </AppText>
          </Card>
          <Field
            label={`What asks for ${controlName(profile, lesson.shown)}`}
            placeholder="/tell/level 2"
            value={text}
            onChangeText={setText}
            onSubmitEditing={() => void ask()}
            maxLength={200}
            testID="question"
          />
          {why ? (
            <AppText tone="stop" aria-live="polite">
              {why}
            </AppText>
          ) : null}
          {why ? <HeardMessages messages={listening.heard.filter(({ packet }) => packet > since)} most={6} /> : null}
        </View>
      </Body>
      <FaultBelow error={asking.error} />
      <Footer>
        <Action
          kind="main"
          grow
          title="Ask"
          busy={asking.isLoading}
          disabled={!question?.address.startsWith('/') && 'A question begins with its address: /tell/level 2.'}
          onPress={() => void ask()}
        />
        <Action title="Only send it" onPress={onSendOnly} />
      </Footer>
    </>
  );
}

const styles = StyleSheet.create({
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
