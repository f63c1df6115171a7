import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { describeBlindTest } from '@old-echo/core/phrases/describe-blind-test';
import { blindTestP, MAX_TRIALS, MIN_TRIALS } from '@old-echo/core/sound/blind-test';

import { toApiFault } from '../../store/api';
import { useSaveBlindTestMutation } from '../../store/sound-api';
import { AppText } from '../../ui/app-text';
import { Action, Chip } from '../../ui/buttons';
import { Sheet } from '../../ui/sheet';
import { SPACE } from '../../ui/tokens';
import type { WhyNot } from '../../ui/why-not';
import type { AbPlayer, AbSide } from './ab-player';
import { BlindResults, blindTestKey } from './blind-test-results';
import { listeningLabel } from './listening-label';
import type { Audition } from './use-audition';

/** One trial: which of A and B hides behind X, and which one was heard in it. */
interface Trial {
  readonly hidden: AbSide;
  readonly said: AbSide;
}

interface BlindSheetProps {
  readonly players: AbPlayer;
  readonly audition: Audition;
  /** The part that repeats, or nothing. */
  readonly part: string;
  readonly onClose: () => void;
}

const draw = (): AbSide => (Math.random() < 0.5 ? 'A' : 'B');

/** A blind test: X is A or B, drawn anew each time. Whether one was right is told at the end only. */
export function BlindTestSheet({ players, audition, part, onClose }: BlindSheetProps) {
  const [keep, { error }] = useSaveBlindTestMutation();
  const [trials, setTrials] = useState<readonly Trial[]>([]);
  const [hidden, setHidden] = useState(draw);
  const [heard, setHeard] = useState<AbSide | 'X'>('X');
  const [shown, setShown] = useState(false);
  const ended: WhyNot =
    (shown && 'It has ended: close it to begin another.') ||
    (trials.length >= MAX_TRIALS && `${MAX_TRIALS} answers are all it takes.`);
  const right = trials.filter((trial) => trial.said === trial.hidden).length;
  const hear = (what: AbSide | 'X') => {
    setHeard(what);
    players.hear(what === 'X' ? hidden : what);
    if (!players.playing) void players.play();
  };
  const say = (said: AbSide) => {
    const next = draw();
    setTrials([...trials, { hidden, said }]);
    setHidden(next);
    setHeard('X');
    players.hear(next);
  };
  const show = () => {
    setShown(true);
    players.pause();
    const { productionId } = audition;
    const heardIn = [listeningLabel(audition), part].filter(Boolean).join(', ');
    void keep({ productionId, ...blindTestKey(audition), heard: heardIn, trials: [...trials] });
  };
  return (
    <Sheet title="Blind test" open onClose={onClose}>
      <View style={styles.body}>
        <AppText>
          X is A or B, chosen at random each time. Listen to all three, level-matched, then say which one X is. Results
          after {MIN_TRIALS} answers.
        </AppText>
        <View style={styles.row} role="tablist">
          {(['A', 'X', 'B'] as const).map((what) => (
            <Chip key={what} title={`Hear ${what}`} chosen={heard === what} onPress={() => hear(what)} />
          ))}
        </View>
        <View style={styles.row}>
          <Action title="X is A" grow onPress={() => say('A')} disabled={ended} />
          <Action title="X is B" grow onPress={() => say('B')} disabled={ended} />
        </View>
        <AppText tone="second" testID="blind-trials">
          {trials.length === 0 ? 'No answer yet.' : `${trials.length} answered.`}
        </AppText>
        {shown ? (
          <View testID="blind-result" accessibilityLiveRegion="polite">
            <AppText kind="strong">
              {right} of {trials.length} right (p = {blindTestP(right, trials.length).toFixed(3)})
            </AppText>
            <AppText>{describeBlindTest(right, trials.length)}</AppText>
            {error ? <AppText tone="stop">It could not be saved: {toApiFault(error).message}</AppText> : null}
          </View>
        ) : (
          <Action
            title={
              trials.length < MIN_TRIALS ? `${MIN_TRIALS - trials.length} more before a result` : 'Show the result'
            }
            disabled={trials.length < MIN_TRIALS && `There is a result after ${MIN_TRIALS} answers.`}
            onPress={show}
          />
        )}
        {trials.length === 0 ? <BlindResults audition={audition} /> : null}
        <Action kind="quiet" title="Close" onPress={onClose} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  body: { gap: SPACE.m },
  row: { flexDirection: 'row', gap: SPACE.s },
});
