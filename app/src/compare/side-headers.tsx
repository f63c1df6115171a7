import ArrowLeftRight from 'lucide-react-native/icons/arrow-left-right';
import { Pressable, StyleSheet, View } from 'react-native';

import type { CompareSide } from '../components/use-compare-side';
import { AppText } from '../ui/app-text';
import { IconAction } from '../ui/menu';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';

interface SidesProps {
  readonly a: CompareSide | undefined;
  readonly b: CompareSide | undefined;
  readonly onChoose: (letter: 'A' | 'B') => void;
  readonly onSwap: () => void;
}

/** A and B at the head of a comparison, to be chosen anew, and the swap between them. */
export function SideHeaders({ a, b, onChoose, onSwap }: SidesProps) {
  const look = useLook();
  return (
    <View style={[styles.head, { borderColor: look.line }]}>
      <AppText kind="title" style={styles.heard}>
        Comparison
      </AppText>
      <SideButton letter="A" side={a} onPress={() => onChoose('A')} />
      <IconAction of={ArrowLeftRight} name="Swap A and B" onPress={onSwap} />
      <SideButton letter="B" side={b} onPress={() => onChoose('B')} />
    </View>
  );
}

function SideButton({
  letter,
  side,
  onPress,
}: {
  letter: 'A' | 'B';
  side: CompareSide | undefined;
  onPress: () => void;
}) {
  const look = useLook();
  const tone = letter === 'A' ? 'a' : 'b';
  return (
    <Pressable
      role="button"
      aria-label={`${letter}: ${side?.title ?? 'nothing'}${side?.under ? `, ${side.under}` : ''}. Choose another`}
      testID={`side-${letter}`}
      onPress={onPress}
      style={[styles.side, { borderColor: look[tone] }, letter === 'A' && styles.dashed]}
    >
      <AppText kind="small" tone={tone} numberOfLines={1}>
        <AppText kind="strong" tone={tone}>
          {letter}
        </AppText>
        {side?.under ? `  ${side.under}` : ''}
      </AppText>
      <AppText kind="strong" numberOfLines={1}>
        {side?.title ?? 'Choose'}
      </AppText>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  head: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.xs,
    minHeight: 70,
    paddingHorizontal: SPACE.l,
    borderBottomWidth: 1,
  },
  // A heading that is only heard: what is seen are the two sides.
  heard: { position: 'absolute', width: 1, height: 1, overflow: 'hidden' },
  side: { flex: 1, minWidth: 0, minHeight: TOUCH, justifyContent: 'center', borderBottomWidth: 3 },
  dashed: { borderStyle: 'dashed' },
});
