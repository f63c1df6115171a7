import {
  DndContext,
  DragOverlay,
  MouseSensor,
  pointerWithin,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { type ReactNode, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { AppText } from './app-text';
import { useLook } from './theme';
import { CORNER, SPACE } from './tokens';
import { useElementRef, webStyle } from './web-only';

interface DragSpaceProps {
  /** What is told while something is carried: its name. */
  readonly nameOf: (id: string) => string;
  readonly onDrop: (id: string, onto: string) => void;
  readonly children: ReactNode;
}

/** Inside it things can be dragged onto one another, with the mouse at once, with a finger after a moment. */
export function DragSpace({ nameOf, onDrop, children }: DragSpaceProps) {
  const look = useLook();
  const [carried, setCarried] = useState<string | null>(null);
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 180, tolerance: 6 } }),
  );
  return (
    <DndContext
      sensors={sensors}
      // What is under the finger counts, however large the name that is carried.
      collisionDetection={pointerWithin}
      onDragStart={({ active }) => setCarried(String(active.id))}
      onDragCancel={() => setCarried(null)}
      onDragEnd={({ active, over }) => {
        setCarried(null);
        if (over && over.id !== active.id) onDrop(String(active.id), String(over.id));
      }}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {carried === null ? null : (
          <View style={[styles.carried, { backgroundColor: look.card, borderColor: look.ink }]}>
            <AppText kind="strong">{nameOf(carried)}</AppText>
          </View>
        )}
      </DragOverlay>
    </DndContext>
  );
}

/** The part of a thing by which it is dragged. */
export function DragHandle({ id, children }: { readonly id: string; readonly children: ReactNode }) {
  const { setNodeRef, listeners } = useDraggable({ id });
  const ref = useElementRef(setNodeRef);
  return (
    <View ref={ref} {...listeners} style={styles.grip} testID={`grip-${id}`}>
      {children}
    </View>
  );
}

/** Where something can be dropped. */
export function DropTarget({ id, children }: { readonly id: string; readonly children: ReactNode }) {
  const look = useLook();
  const { setNodeRef, isOver } = useDroppable({ id });
  const ref = useElementRef(setNodeRef);
  return (
    <View ref={ref} style={isOver && { backgroundColor: look.wash }} testID={`drop-${id}`}>
      {children}
    </View>
  );
}

const styles = StyleSheet.create({
  carried: { borderWidth: 2, borderRadius: CORNER.small, padding: SPACE.s, ...webStyle({ width: 'max-content' }) },
  grip: webStyle({ touchAction: 'none', cursor: 'grab' }),
});
