import { Pressable, StyleSheet, View } from 'react-native';
import ArrowLeftRight from 'lucide-react-native/icons/arrow-left-right';

import { IconAction } from '../ui/menu';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';
import { Words } from '../ui/app-text';
import type { Side } from '../components/use-compare-side';

interface SidesProps {
  readonly a: Side | undefined;
  readonly b: Side | undefined;
  readonly onChoose: (letter: 'A' | 'B') => void;
  readonly onSwap: () => void;
}

/** A and B at the head of a comparison, to be chosen anew, and the swap between them. */
export function Sides({ a, b, onChoose, onSwap }: SidesProps) {
  const look = useLook();
  return (
    <View style={[styles.head, { borderColor: look.line }]}>
      <SideButton letter="A" side={a} onPress={() => onChoose('A')} />
      <IconAction of={ArrowLeftRight} name="Swap A and B" onPress={onSwap} />
      <SideButton letter="B" side={b} onPress={() => onChoose('B')} />
    </View>
  );
}

function SideButton({ letter, side, onPress }: { letter: 'A' | 'B'; side: Side | undefined; onPress: () => void }) {
  const look = useLook();
  const tone = letter === 'A' ? 'a' : 'b';
  return (
    <Pressable
      role="button"
      aria-label={`${letter}: ${side?.title ?? 'nothing'}. Choose another`}
      testID={`side-${letter}`}
      onPress={onPress}
      style={[styles.side, { borderColor: look[tone] }, letter === 'A' && styles.dashed]}
    >
      <Words kind="small" tone={tone} numberOfLines={1}>
        <Words kind="strong" tone={tone}>
          {letter}
        </Words>
        {side?.under ? `  ${side.under}` : ''}
      </Words>
      <Words kind="strong" numberOfLines={1}>
        {side?.title ?? 'Choose'}
      </Words>
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
  side: { flex: 1, minWidth: 0, minHeight: TOUCH, justifyContent: 'center', borderBottomWidth: 3 },
  dashed: { borderStyle: 'dashed' },
});
