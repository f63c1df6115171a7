import ArrowDown from 'lucide-react-native/icons/arrow-down';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import GripVertical from 'lucide-react-native/icons/grip-vertical';
import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';

import { type Asking, useIsAllowed } from './allowed';
import { DragHandle, DragSpace, DropTarget } from './drag';
import { Icon } from './icon';
import { IconAction } from './menu';
import { useLook } from './theme';
import { TOUCH } from './tokens';

interface Named {
  readonly id: string;
  readonly name: string;
}

/** The list with one item where another is now; those between move up or down by one. */
export function movedTo<T extends Named>(list: readonly T[], id: string, onto: string): T[] {
  const [item, to] = [list.find((one) => one.id === id), list.findIndex((one) => one.id === onto)];
  if (!item || to < 0) return [...list];
  const next = list.filter((one) => one !== item);
  next.splice(to, 0, item);
  return next;
}

interface OrderListProps<T extends Named> extends Asking {
  readonly items: readonly T[];
  /** Called with the list in its new order, and with what was moved. */
  readonly onOrder: (next: readonly T[], moved: T) => void;
  readonly row: (item: T) => ReactNode;
  /** More buttons behind those that move it. */
  readonly side?: (item: T) => ReactNode;
}

/** A list that people put in an order of their own: dragged by the grip, or by buttons that a thumb and a keyboard reach alike. */
export function OrderList<T extends Named>({ items, onOrder, row, side, asks }: OrderListProps<T>) {
  const look = useLook();
  const isAllowed = useIsAllowed({ asks });
  const move = (id: string, onto: string | undefined) => {
    const moved = items.find((item) => item.id === id);
    if (moved && onto !== undefined) onOrder(movedTo(items, id, onto), moved);
  };
  return (
    <DragSpace nameOf={(id) => items.find((item) => item.id === id)?.name ?? ''} onDrop={move}>
      {items.map((item, at) => (
        <DropTarget key={item.id} id={item.id}>
          <View style={[styles.row, { borderColor: look.line }]}>
            {items.length > 1 && isAllowed ? (
              <DragHandle id={item.id}>
                <View style={styles.grip}>
                  <Icon of={GripVertical} size={20} color={look.second} />
                </View>
              </DragHandle>
            ) : null}
            <View style={styles.fill}>{row(item)}</View>
            <IconAction
              asks={asks}
              of={ArrowUp}
              name={`${item.name}: up`}
              disabled={at === 0 && `${item.name} is the first.`}
              onPress={() => move(item.id, items[at - 1]?.id)}
            />
            <IconAction
              asks={asks}
              of={ArrowDown}
              name={`${item.name}: down`}
              disabled={at === items.length - 1 && `${item.name} is the last.`}
              onPress={() => move(item.id, items[at + 1]?.id)}
            />
            {side?.(item)}
          </View>
        </DropTarget>
      ))}
    </DragSpace>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', borderBottomWidth: 1 },
  fill: { flex: 1, minWidth: 0 },
  grip: { width: TOUCH - 12, height: TOUCH, justifyContent: 'center' },
});
