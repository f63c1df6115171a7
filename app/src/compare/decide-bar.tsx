import { Pressable, StyleSheet, View } from 'react-native';

import { LIVE_DESK } from '../components/links/compare-link';
import type { CompareSide } from '../components/use-compare-side';
import { AppText } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { useIsLow } from '../ui/layout';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import type { PutOnDesk } from './use-put-on-desk';

interface DecideBarProps {
  readonly a: CompareSide;
  readonly b: CompareSide;
  readonly desk: PutOnDesk;
  readonly onPut: (side: CompareSide) => void;
  /** Whether the desk goes along with what is heard. */
  readonly follows: boolean;
  readonly onFollows: (follows: boolean) => void;
}

/** From hearing to deciding: A or B onto the desk at a touch, or the desk going along with what is heard. */
export function DecideBar({ a, b, desk, onPut, follows, onFollows }: DecideBarProps) {
  const look = useLook();
  const low = useIsLow();
  return (
    <View
      style={[styles.bar, low && styles.low, { backgroundColor: look.card, borderColor: look.line }]}
      testID="decide"
    >
      <AppText kind="small" tone="second" style={styles.fill} numberOfLines={2} aria-live="polite">
        {desk.why ?? (desk.told || `${desk.isAtOnce ? 'Put on' : 'Preview on'} ${desk.deskName}`)}
      </AppText>
      {desk.why ? null : (
        <>
          <SideButtons a={a} b={b} standing={desk.standing} verb={`on ${desk.deskName}`} onPress={onPut} />
          {desk.isAtOnce ? (
            <Chip toggle title="Desk follows" chosen={follows} onPress={() => onFollows(!follows)} />
          ) : null}
        </>
      )}
    </View>
  );
}

interface SideButtonsProps extends Pick<DecideBarProps, 'a' | 'b'> {
  /** What is there already. */
  readonly standing?: string | undefined;
  /** Where it is put: "on Boathouse". */
  readonly verb: string;
  readonly onPress: (side: CompareSide) => void;
}

/** A button each for A and for B, in their colours; none for what is on the desk as it is. */
export function SideButtons({ a, b, standing, verb, onPress }: SideButtonsProps) {
  const look = useLook();
  return (['A', 'B'] as const).map((letter) => {
    const [side, tone] = letter === 'A' ? ([a, 'a'] as const) : ([b, 'b'] as const);
    const isThere = side.of === standing;
    if (side.of === LIVE_DESK) return null;
    return (
      <Pressable
        key={letter}
        role="button"
        aria-label={`Put ${letter} ${verb}: ${side.title}${isThere ? ', there now' : ''}`}
        onPress={() => onPress(side)}
        style={[styles.letter, { borderColor: look[tone] }, letter === 'A' && styles.dashed]}
      >
        <AppText kind="strong" tone={tone}>
          {isThere ? '● ' : ''}
          {letter}
        </AppText>
      </Pressable>
    );
  });
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  bar: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.s,
    paddingHorizontal: SPACE.l,
    paddingTop: SPACE.s,
    borderTopWidth: 1,
  },
  low: { paddingTop: 0, maxWidth: 340 },
  letter: {
    minWidth: TOUCH + SPACE.s,
    minHeight: TOUCH,
    borderWidth: 2,
    borderRadius: CORNER.large,
    alignItems: 'center',
    justifyContent: 'center',
    paddingHorizontal: SPACE.s,
  },
  dashed: { borderStyle: 'dashed' },
});
