import ListFilter from 'lucide-react-native/icons/list-filter';
import Pin from 'lucide-react-native/icons/pin';
import X from 'lucide-react-native/icons/x';
import { useState } from 'react';
import { Pressable, ScrollView, StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { sceneTitle } from '@old-echo/core/contracts/scene';

import { useTouchRecall } from '../components/restore-at-once';
import { useDeskProduction } from '../components/use-desk-production';
import { useSetScenesAtHandMutation } from '../store/desk-api';
import { useProductionsQuery } from '../store/scenes-api';
import type { LiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Empty } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { OrderList } from '../ui/order-list';
import { Sheet } from '../ui/sheet';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { HoldScopeSheet } from './hold-scope-sheet';
import type { HeldScope } from './use-held-scope';

interface ScenesAtHandProps {
  readonly now: LiveDesk;
  /** Of a scene only that comes back, where something is held. */
  readonly held: HeldScope | undefined;
}

/** The scenes at hand of a desk: a touch, or a key from 1 to 9, brings one back in the studio, and opens its preview at a show. */
export function ScenesAtHand({ now, held }: ScenesAtHandProps) {
  const { desk } = now;
  const look = useLook();
  const touch = useTouchRecall(desk);
  const [ordering, setOrdering] = useState(false);
  const [holding, setHolding] = useState(false);
  const recall = (scene: DeskView['atHand'][number]) => {
    if (held) held.take(scene);
    else touch(sceneRecall(desk.id, scene.id, scene.scope));
  };
  // Those of the song or show that the desk works on; where it has none of them, all.
  const on = useDeskProduction(desk);
  const { data: productions = [] } = useProductionsQuery();
  const own = desk.atHand.filter(({ productionId }) => productionId === on?.id);
  const atHand = own.length > 0 ? own : desk.atHand;
  useShortcuts(Object.fromEntries(atHand.slice(0, 9).map((scene, i) => [String(i + 1), () => recall(scene)])));
  const verb = desk.mode === 'live' ? 'Preview of' : held ? 'Take it from' : 'Restore';
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
            aria-label={`${verb} ${sceneTitle(scene)}`}
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
            <View style={styles.name}>
              <AppText numberOfLines={1}>{scene.name}</AppText>
              {scene.productionId === on?.id ? null : (
                <AppText kind="small" tone="second" numberOfLines={1}>
                  {productions.find(({ id }) => id === scene.productionId)?.name}
                </AppText>
              )}
            </View>
          </Pressable>
        ))}
        <IconAction
          asks={DESK_ROUTES.setScenesAtHand}
          of={Pin}
          name="Edit scenes at hand"
          onPress={() => setOrdering(true)}
        />
        <IconAction
          asks={DESK_RECALL_ROUTES.startRestore}
          of={ListFilter}
          name="Step through scenes with only some parts"
          onPress={() => setHolding(true)}
        />
      </ScrollView>
      {holding ? <HoldScopeSheet now={now} onClose={() => setHolding(false)} /> : null}
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
      <OrderList
        asks={DESK_ROUTES.setScenesAtHand}
        items={atHand}
        onOrder={(next, { name }) => set(next, `${name} moved.`)}
        row={(scene) => <AppText numberOfLines={1}>{sceneTitle(scene)}</AppText>}
        side={(scene) => (
          <IconAction
            asks={DESK_ROUTES.setScenesAtHand}
            of={X}
            name={`Remove ${scene.name}`}
            onPress={() =>
              set(
                atHand.filter(({ id }) => id !== scene.id),
                `${scene.name} removed from at hand.`,
              )
            }
          />
        )}
      />
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
});
