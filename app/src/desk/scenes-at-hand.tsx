import Pin from 'lucide-react-native/icons/pin';
import X from 'lucide-react-native/icons/x';
import { useState } from 'react';
import { Pressable, ScrollView, StyleSheet } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { sceneTitle } from '@old-echo/core/contracts/scene';

import { useTouchRecall } from '../components/restore-at-once';
import { useSetScenesAtHandMutation } from '../store/desk-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Icon } from '../ui/icon';
import { Empty } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { moveItem, OrderRow } from '../ui/reorder-row';
import { Sheet } from '../ui/sheet';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';

/** The scenes at hand of a desk: a touch, or a key from 1 to 9, brings one back in the studio, and opens its preview at a show. */
export function ScenesAtHand({ desk }: { readonly desk: DeskView }) {
  const look = useLook();
  const touch = useTouchRecall(desk);
  const [ordering, setOrdering] = useState(false);
  const recall = ({ id, scope }: DeskView['atHand'][number]) => touch(sceneRecall(desk.id, id, scope));
  // Those of the song or show that the desk is on; where it has none of them, all.
  const own = desk.atHand.filter(({ productionId }) => productionId === desk.scene?.productionId);
  const atHand = own.length > 0 ? own : desk.atHand;
  useShortcuts(Object.fromEntries(atHand.slice(0, 9).map((scene, i) => [String(i + 1), () => recall(scene)])));
  if (desk.atHand.length === 0) return null;
  return (
    <>
      <ScrollView
        horizontal
        showsHorizontalScrollIndicator={false}
        style={styles.row}
        contentContainerStyle={styles.atHand}
        aria-label="Scenes at hand"
      >
        {atHand.map((scene) => (
          <Pressable
            key={scene.id}
            role="button"
            testID={`at-hand-${scene.number}`}
            aria-label={`${desk.mode === 'live' ? 'Preview of' : 'Restore'} ${sceneTitle(scene)}`}
            aria-current={scene.id === desk.scene?.id}
            onPress={() => recall(scene)}
            style={[
              styles.scene,
              scene.id === desk.scene?.id
                ? { borderColor: look.done, backgroundColor: look.wash }
                : { borderColor: look.line, backgroundColor: look.card },
            ]}
          >
            <AppText kind="value" tone="second">
              {scene.number}
            </AppText>
            <AppText numberOfLines={1} style={styles.name}>
              {scene.name}
            </AppText>
          </Pressable>
        ))}
        <Pressable
          role="button"
          aria-label="Edit scenes at hand"
          onPress={() => setOrdering(true)}
          style={styles.order}
        >
          <Icon of={Pin} size={20} color={look.second} />
        </Pressable>
      </ScrollView>
      <AtHandSheet desk={desk} open={ordering} onClose={() => setOrdering(false)} />
    </>
  );
}

function AtHandSheet({ desk, open, onClose }: { desk: DeskView; open: boolean; onClose: () => void }) {
  const done = useRunAndNotify();
  const [setScenesAtHand] = useSetScenesAtHandMutation();
  const { atHand } = desk;
  const set = (next: DeskView['atHand'], words: string) =>
    void done(setScenesAtHand({ desk: desk.id, ids: next.map(({ id }) => id) }), () => words);
  return (
    <Sheet title="Scenes at hand" open={open} onClose={onClose}>
      {atHand.map((scene, at) => (
        <OrderRow
          key={scene.id}
          name={scene.name}
          at={at}
          of={atHand.length}
          onMove={(by) => set(moveItem(atHand, at, by), `${scene.name} moved.`)}
          side={
            <IconAction
              of={X}
              name={`Remove ${scene.name}`}
              onPress={() =>
                set(
                  atHand.filter(({ id }) => id !== scene.id),
                  `${scene.name} removed from at hand.`,
                )
              }
            />
          }
        >
          <AppText numberOfLines={1}>{sceneTitle(scene)}</AppText>
        </OrderRow>
      ))}
      {atHand.length === 0 ? <Empty title="No scenes at hand">Choose “Keep at hand” on a scene’s page.</Empty> : null}
    </Sheet>
  );
}

const styles = StyleSheet.create({
  row: { flexGrow: 0 },
  atHand: { gap: SPACE.s, paddingHorizontal: SPACE.l, paddingTop: SPACE.s },
  scene: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.xs,
    minHeight: TOUCH,
    paddingHorizontal: SPACE.m,
    borderWidth: 1,
    borderRadius: CORNER.large,
    maxWidth: 200,
  },
  name: { flexShrink: 1 },
  order: { width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center' },
});
