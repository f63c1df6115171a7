import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { swapTitle } from '@old-echo/core/contracts/desk';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { CAPTURE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import type { SettingChange } from '@old-echo/core/desk/diff-states';
import { joinWithAnd, sectionNameInText } from '@old-echo/core/phrases/format-value';
import { compileScope, safeSections } from '@old-echo/core/recall/compile-scope';

import { heardAt } from '../components/heard-at';
import { SceneSheet } from '../components/scene-picker-sheet';
import { useDeskProduction } from '../components/use-desk-production';
import { ask } from '../store/ask';
import { deskHref } from '../store/desk-address';
import { useEditDeskMutation } from '../store/desk-api';
import { useProductionsQuery, useReplaceSceneMutation, useUndoMutation } from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import type { LiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import { useRevertDrift } from './use-revert-drift';

interface CurrentSceneProps {
  readonly now: LiveDesk;
  /** Undefined while it is not known. */
  readonly drift: readonly SettingChange[] | undefined;
  /** Shows what has drifted. */
  readonly onPress: () => void;
}

/** What stands on the desk, how far it has drifted from it, and what can be done about that: save it there, or put it back. */
export function CurrentSceneCard({ now, drift, onPress }: CurrentSceneProps) {
  const look = useLook();
  const { scene, baseline } = now.desk;
  const count = drift?.length;
  const { profile, desk } = now;
  const worksOn = useDeskProduction(desk);
  const { data: productions = [] } = useProductionsQuery();
  const elsewhere =
    scene && scene.productionId !== worksOn?.id ? productions.find(({ id }) => id === scene.productionId) : undefined;
  const never = useMemo(() => {
    const sections = safeSections(compileScope(profile, [], desk.safes));
    return sections.length > 0 ? `; ${joinWithAnd(sections.map(sectionNameInText))} safe` : '';
  }, [profile, desk.safes]);
  return (
    <View style={[styles.card, { backgroundColor: look.card, borderColor: look.line }]}>
      <Pressable role="button" onPress={onPress} testID="current-scene" style={styles.standing}>
        <View style={styles.fill}>
          <AppText kind="small" tone="second">
            {now.linked
              ? 'On the desk'
              : now.known
                ? `On the desk, as last read ${heardAt(now.desk.heardAt)}`
                : 'Not read yet'}
          </AppText>
          <AppText kind="strong" numberOfLines={2} testID="baseline">
            {baseline ? `${baseline.line}${scene?.binned ? ' (in the bin)' : ''}` : 'No scene yet'}
          </AppText>
          {elsewhere ? (
            <AppText kind="small" tone="second" numberOfLines={1}>
              Of {elsewhere.name}
            </AppText>
          ) : null}
        </View>
        <View style={styles.count}>
          <AppText kind="title" testID="drift-count">
            {count ?? '–'}
          </AppText>
          <AppText kind="small" tone="second">
            {baseline && count === undefined ? 'drift unknown' : count === 1 ? 'setting drifted' : 'settings drifted'}
          </AppText>
        </View>
      </Pressable>
      {baseline ? (
        <View style={styles.row}>
          <View style={styles.fill}>
            <SwapLine now={now} never={never} />
            {count === 0 ? <LastSwitchLine deskId={now.desk.id} /> : null}
          </View>
          <DriftActions now={now} drift={drift ?? []} />
        </View>
      ) : null}
    </View>
  );
}

/** Where the swap leads; a touch chooses another scene for it. */
function SwapLine({ now, never }: { readonly now: LiveDesk; readonly never: string }) {
  const { id, swap, scene } = now.desk;
  const production = useDeskProduction(now.desk);
  const done = useRunAndNotify();
  const [edit] = useEditDeskMutation();
  const [open, setOpen] = useState(false);
  const words = swap ? `Swap leads to ${swapTitle(swap)}${never}` : 'Capture a second mix to swap between the two';
  return (
    <>
      <Pressable
        role="button"
        aria-label={`${words}. Choose another`}
        disabled={!production}
        onPress={() => setOpen(true)}
      >
        <AppText kind="small" tone="second" numberOfLines={2} testID="swap-to">
          {words}
        </AppText>
      </Pressable>
      {production ? (
        <SceneSheet
          title="Swap leads to"
          production={production}
          chosen={swap?.id}
          without={scene?.id ?? ''}
          open={open}
          onClose={() => setOpen(false)}
          onChoose={(to) =>
            void done(edit({ id, edit: { swapTo: to.id } }), () => `Swap (key F) leads to ${sceneTitle(to)} and back.`)
          }
        />
      ) : null}
    </>
  );
}

/** What the last restore changed, as one would have heard it; a touch opens its report. */
function LastSwitchLine({ deskId }: { readonly deskId: string }) {
  const router = useRouter();
  const { restoreId, line } = useAppSelector((root) => root.lastSwitch);
  if (restoreId === null) return null;
  return (
    <Pressable
      role="button"
      onPress={() => router.navigate(deskHref(deskId, `restores/${restoreId}`))}
      testID="last-switch"
    >
      <AppText kind="small" numberOfLines={2} aria-live="polite">
        Last restore: {line}
      </AppText>
    </Pressable>
  );
}

/** Beside the count of what drifted. They keep their place while there is nothing to do, so that nothing moves when there is. */
function DriftActions({ now, drift }: { readonly now: LiveDesk; readonly drift: readonly SettingChange[] }) {
  const { id: deskId, scene } = now.desk;
  const done = useRunAndNotify();
  const putBack = useRevertDrift(now);
  const [replace, { isLoading: isSaving }] = useReplaceSceneMutation();
  const [takeBack, { isLoading: isUndoing }] = useUndoMutation();
  const by = useAppSelector((root) => root.place.who);
  const undo = ask(CAPTURE_ROUTES.undoReplacement, { params: { id: deskId } });
  if (!scene || !putBack) return null;
  if (drift.length === 0)
    return scene.isUndoable ? (
      <Action
        asks={CAPTURE_ROUTES.undoReplacement}
        kind="quiet"
        title="Undo save"
        busy={isUndoing}
        onPress={() =>
          void done(takeBack(undo), () => `${sceneTitle(scene)} is as it was before. What was saved is in the bin.`)
        }
      />
    ) : null;
  return (
    <>
      {scene.number > 0 && !scene.binned ? (
        <Action
          asks={CAPTURE_ROUTES.replaceScene}
          kind="quiet"
          title={`Save to ${scene.number}`}
          busy={isSaving}
          onPress={() =>
            void done(
              replace({ desk: deskId, sceneId: scene.id, revision: scene.revision, by }),
              (saved) => `${sceneTitle(saved)} saved. The scene as it was is in the bin.`,
              undo,
            )
          }
        />
      ) : null}
      <Action asks={DESK_RECALL_ROUTES.startRestore} kind="quiet" title="Put all back" onPress={() => putBack(drift)} />
    </>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  card: { marginHorizontal: SPACE.l, marginTop: SPACE.m, borderWidth: 1, borderRadius: CORNER.large },
  standing: { flexDirection: 'row', alignItems: 'center', paddingHorizontal: SPACE.m, paddingTop: SPACE.s },
  count: { alignItems: 'flex-end', paddingLeft: SPACE.s },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    minHeight: TOUCH,
    paddingLeft: SPACE.m,
    paddingRight: SPACE.xs,
    paddingBottom: SPACE.xs,
  },
});
