import ArrowDown from 'lucide-react-native/icons/arrow-down';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';

import { IconAction } from './menu';
import { useLook } from './theme';

/** The list with the item at one place moved up or down by one. */
export function moveItem<T>(list: readonly T[], at: number, by: -1 | 1): T[] {
  const next = [...list];
  const [item] = next.splice(at, 1);
  if (item !== undefined) next.splice(at + by, 0, item);
  return next;
}

interface OrderRowProps {
  readonly name: string;
  readonly at: number;
  readonly of: number;
  readonly onMove: (by: -1 | 1) => void;
  readonly children: ReactNode;
  /** More buttons behind those that move it. */
  readonly side?: ReactNode;
}

/** A row that people put in an order of their own, by buttons that a thumb and a keyboard reach alike. */
export function OrderRow({ name, at, of, onMove, children, side }: OrderRowProps) {
  const look = useLook();
  return (
    <View style={[styles.row, { borderColor: look.line }]}>
      <View style={styles.fill}>{children}</View>
      <IconAction of={ArrowUp} name={`${name}: up`} disabled={at === 0} onPress={() => onMove(-1)} />
      <IconAction of={ArrowDown} name={`${name}: down`} disabled={at === of - 1} onPress={() => onMove(1)} />
      {side}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', borderBottomWidth: 1 },
  fill: { flex: 1, minWidth: 0 },
});
