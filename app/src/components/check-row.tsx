import Shield from 'lucide-react-native/icons/shield';
import Square from 'lucide-react-native/icons/square';
import SquareCheck from 'lucide-react-native/icons/square-check';
import SquareMinus from 'lucide-react-native/icons/square-minus';
import { type ReactNode, useId } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { AppText } from '../ui/app-text';
import { Icon } from '../ui/icon';
import { NameLines } from '../ui/name-lines';
import { useLook } from '../ui/theme';
import { ROW, SPACE } from '../ui/tokens';
import { WhyNotAround } from '../ui/why-not';

const TICKS = {
  all: { icon: SquareCheck, checked: true },
  some: { icon: SquareMinus, checked: 'mixed' },
  none: { icon: Square, checked: false },
  safe: { icon: Shield, checked: false },
} as const;

export type CheckState = keyof typeof TICKS;

interface TickRowProps {
  readonly name: string;
  readonly under: string;
  readonly tick: CheckState;
  readonly side?: string;
  readonly indent?: boolean;
  readonly testID: string;
  readonly onPress: () => void;
  /** Stands behind the row. */
  readonly more?: ReactNode;
}

/** Something that comes back whole, in part or not at all, or that is held safe. */
export function CheckRow({ name, under, tick, side, indent, testID, onPress, more }: TickRowProps) {
  const look = useLook();
  const { icon, checked } = TICKS[tick];
  const [underId, sideId] = [useId(), useId()];
  const colour = tick === 'safe' ? look.stop : tick === 'none' ? look.echo : look.ink;
  return (
    <View style={styles.whole}>
      <WhyNotAround why={tick === 'safe' && `${name} is safe: no restore touches it.`} style={styles.around}>
        <Pressable
          role="checkbox"
          aria-checked={checked}
          aria-label={tick === 'safe' ? `${name}, safe` : name}
          aria-describedby={`${underId} ${sideId}`}
          disabled={tick === 'safe'}
          testID={testID}
          onPress={onPress}
          style={[styles.tick, { borderColor: look.line }, indent && styles.indent]}
        >
          <Icon of={icon} color={colour} />
          <NameLines name={name} under={under} lines={2} underId={underId} />
          {side ? (
            <AppText kind="value" tone={tick === 'safe' ? 'stop' : 'second'} nativeID={sideId}>
              {side}
            </AppText>
          ) : null}
        </Pressable>
      </WhyNotAround>
      {more}
    </View>
  );
}

const styles = StyleSheet.create({
  around: { flex: 1 },
  whole: { flexDirection: 'row', alignItems: 'center' },
  tick: {
    flex: 1,
    minHeight: ROW,
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.s,
    borderBottomWidth: 1,
    paddingVertical: SPACE.xs,
  },
  indent: { paddingLeft: SPACE.xl },
});
