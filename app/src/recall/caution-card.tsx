import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { displayName } from '@old-echo/core/desk/state';
import { describeCaution, describeCautionItem } from '@old-echo/core/phrases/describe-caution';
import type { Caution, CautionItem } from '@old-echo/core/recall/caution';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { useFocusTarget } from '../ui/focus-registry';
import { Icon } from '../ui/icon';
import { Card } from '../ui/layout';
import { SPACE, TOUCH } from '../ui/tokens';
import { type Answers, DEFAULT_FADE_SECONDS } from './use-caution-answers';
import type { Plan } from './use-recall-plan';

interface CautionCardProps {
  readonly caution: Caution;
  readonly plan: Plan;
  readonly answers: Answers;
  /** Has what was accepted before asked again. */
  readonly onForget: () => void;
}

/** One thing that can hurt: what, where, how much, and the ways to be rid of it. */
export function CautionCard({ caution, plan, answers, onForget }: CautionCardProps) {
  const { weight, items, waysOut } = caution;
  const [open, setOpen] = useState(false);
  const check = useFocusTarget('caution to check');
  const { now, preview } = plan;
  const reading = { profile: now.profile, before: now.state, after: plan.after, changes: preview.changes };
  const { title, detail } = describeCaution(caution, reading);
  const name = (strip: string) => displayName(now.profile, plan.after, strip);
  const way = answers.wayOf(caution);
  const causes = items.flatMap((item) => item.causes);
  const unmuted = items.map((item) => item.strip).filter((strip) => !preview.guarded.includes(strip));
  const fade = answers.fade || DEFAULT_FADE_SECONDS;
  const tone = way ? 'done' : weight === 'note' ? undefined : weight;
  return (
    <Card edge={tone}>
      <View testID={`caution-${caution.kind}`}>
        <AppText kind="small" tone={tone ?? 'second'}>
          {way === 'fade' ? `Fades over ${answers.fade} s` : way ? ANSWERED[way] : WEIGHTS[weight]}
        </AppText>
        <AppText kind="strong">{title}</AppText>
        {detail ? <AppText tone="second">{detail}</AppText> : null}
        {items.length > 1 ? (
          <Pressable role="button" aria-expanded={open} onPress={() => setOpen(!open)} style={styles.more}>
            <Icon of={open ? ChevronDown : ChevronRight} size={18} />
            <AppText>{open ? 'Hide strips' : `Show ${items.length} strips`}</AppText>
          </Pressable>
        ) : null}
        {open
          ? items.map((item) => (
              <View key={item.strip} style={styles.item}>
                <View style={styles.fill}>
                  <AppText numberOfLines={1}>{name(item.strip)}</AppText>
                  <AppText kind="value" tone="second" numberOfLines={1}>
                    {whatOf(item, describeCautionItem(item, reading), name)}
                  </AppText>
                </View>
                <Action kind="quiet" title="Leave out" onPress={() => answers.leaveOut(item.causes)} />
              </View>
            ))
          : null}
        <View style={styles.ways}>
          {way === 'accepted before' ? (
            <Action kind="small" title="Ask again" onPress={onForget} />
          ) : way ? (
            <Action kind="small" title="Undo answer" onPress={() => answers.answer(caution, undefined)} />
          ) : (
            <>
              <Action
                kind="small"
                title="Leave out"
                disabled={causes.length === 0 && 'No single change causes it.'}
                onPress={() => answers.leaveOut(causes)}
              />
              {waysOut.includes('mute first') && unmuted.length > 0 ? (
                <Action kind="small" title="Mute first" onPress={() => answers.muteFirst(unmuted)} />
              ) : null}
              {waysOut.includes('fade') ? (
                <Action kind="small" title={`Fade over ${fade} s`} onPress={() => answers.answer(caution, 'fade')} />
              ) : null}
              {weight === 'note' ? null : (
                <View ref={check} testID="check">
                  <Action kind="small" title="I have checked" onPress={() => answers.answer(caution, 'checked')} />
                </View>
              )}
            </>
          )}
        </View>
      </View>
    </Card>
  );
}

/** "opens in Main L/R and 3 more", "+9.4 dB in Wren ears". */
function whatOf({ strip, fact, outputs = [] }: CautionItem, what: string, name: (strip: string) => string): string {
  const [first, second, ...more] = outputs.filter((output) => output !== strip);
  if (first === undefined || fact.is === 'leaves') return what;
  const where =
    second === undefined
      ? name(first)
      : more.length > 0
        ? `${name(first)} and ${more.length + 1} more`
        : `${name(first)} and ${name(second)}`;
  return `${what} in ${where}`;
}

const ANSWERED = {
  checked: 'Checked',
  'accepted before': 'Accepted before between these two scenes',
} as const;

const WEIGHTS = { stop: 'Stop: answer first', care: 'Caution', note: 'Note' } as const;

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  more: { flexDirection: 'row', alignItems: 'center', gap: SPACE.xs, minHeight: TOUCH },
  item: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH, paddingLeft: SPACE.xl },
  ways: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s, paddingTop: SPACE.s },
});
