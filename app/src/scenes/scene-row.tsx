import Lock from 'lucide-react-native/icons/lock';
import RotateCcw from 'lucide-react-native/icons/rotate-ccw';
import { memo } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { plural } from '@old-echo/core/phrases/format-value';

import { when } from '../components/format-time';
import { AppText } from '../ui/app-text';
import { useFocusTarget } from '../ui/focus-registry';
import { Icon } from '../ui/icon';
import { IconAction } from '../ui/menu';
import { useLook } from '../ui/theme';
import { CORNER, SPACE } from '../ui/tokens';
import { useDescription } from '../ui/use-description';
import { graphInRow, type Lane } from './version-graph';
import { GraphLines } from './version-graph-lines';

/** The height of a scene's row, in pixels. */
export const sceneHeight = (scene: SceneView): number => (scene.milestone ? 96 : 66);

interface SceneRowProps {
  readonly scene: SceneView;
  readonly lane: number;
  /** How many lanes there is room for. */
  readonly room: number;
  /** The lines to draw. */
  readonly lanes: readonly Lane[];
  readonly onDesk: boolean;
  /** Its version by name, where those of several stand together. */
  readonly version?: string | undefined;
  readonly chosen: boolean;
  readonly onOpen: (sceneId: string) => void;
  /** Restores it at a touch, where that can be done. */
  readonly onRestore: ((scene: SceneView) => void) | undefined;
}

/** How far a scene is from the one it came from: "23 settings since 16". */
function changeSummary({ parents, parentNumber, joins, changed }: SceneView): string {
  if (parents.length === 0) return 'First scene';
  if (parentNumber === null) return changed.settings === 0 ? 'Same as before' : plural(changed.settings, 'setting');
  const joined = joins.length > 0 ? `, with ${joins.join(', ')}` : '';
  return changed.settings === 0
    ? `Same as ${parentNumber}${joined}`
    : `${plural(changed.settings, 'setting')} since ${parentNumber}${joined}`;
}

/** A scene on its tide line: milestones as stamps, kept ones hollow. */
export const SceneRow = memo(function SceneRow(props: SceneRowProps) {
  const { scene, lane, room, lanes, onDesk, version, chosen, onOpen, onRestore } = props;
  const look = useLook();
  const own = scene.kind === 'scene';
  const target = useFocusTarget('scene');
  const height = sceneHeight(scene);
  const { control, text } = useDescription();
  return (
    <View style={[styles.around, { height }, chosen && { backgroundColor: look.wash }]}>
      <Pressable
        role="button"
        {...control}
        ref={target}
        testID={`scene-${scene.number || scene.id}`}
        aria-label={`${sceneTitle(scene)}${onDesk ? ', on the desk' : ''}${scene.milestone ? `, milestone: ${scene.milestone}` : ''}`}
        aria-current={chosen}
        onPress={() => onOpen(scene.id)}
        style={styles.row}
      >
        <GraphLines
          lines={graphInRow(lanes, { lane, high: scene.place, low: scene.place })}
          lane={lane}
          lanes={room}
          height={height}
          hollow={!own}
        />
        <View style={styles.words}>
          <View style={styles.name}>
            {scene.number > 0 ? (
              <AppText kind="value" tone="second">
                {scene.number}
              </AppText>
            ) : null}
            <AppText
              kind={own ? 'strong' : 'body'}
              tone={own ? 'ink' : 'second'}
              numberOfLines={1}
              style={styles.shrink}
            >
              {scene.name}
            </AppText>
            {scene.protected ? <Icon of={Lock} size={14} color={look.second} /> : null}
            {onDesk ? (
              <View style={[styles.tag, { borderColor: look.done }]}>
                <AppText kind="small" tone="done" numberOfLines={1}>
                  On the desk
                </AppText>
              </View>
            ) : null}
          </View>
          <AppText {...text} kind="small" tone="second" numberOfLines={1}>
            {[version, when(scene.madeAt), changeSummary(scene), scene.tags.join(', '), scene.note && `“${scene.note}”`]
              .filter(Boolean)
              .join(' · ')}
          </AppText>
          {scene.milestone ? <MilestoneBadge text={scene.milestone} /> : null}
        </View>
      </Pressable>
      {onRestore ? (
        <IconAction
          asks={DESK_RECALL_ROUTES.startRestore}
          of={RotateCcw}
          name={`Restore ${sceneTitle(scene)}`}
          onPress={() => onRestore(scene)}
        />
      ) : null}
    </View>
  );
});

/** A milestone, as a stamp in a logbook. */
export function MilestoneBadge({ text }: { readonly text: string }) {
  const look = useLook();
  return (
    <View style={[styles.stamp, { borderColor: look.done }]}>
      <AppText kind="small" tone="done">
        Milestone: {text}
      </AppText>
    </View>
  );
}

const styles = StyleSheet.create({
  around: { flexDirection: 'row', alignItems: 'center', paddingRight: SPACE.s },
  row: {
    flex: 1,
    minWidth: 0,
    height: '100%',
    flexDirection: 'row',
    paddingLeft: SPACE.l,
    paddingRight: SPACE.s,
    gap: SPACE.m,
  },
  words: { flex: 1, minWidth: 0, paddingTop: SPACE.m, gap: 2, alignItems: 'flex-start' },
  name: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, maxWidth: '100%' },
  shrink: { flexShrink: 1 },
  tag: { borderWidth: 1, borderRadius: CORNER.small, paddingHorizontal: SPACE.s },
  stamp: {
    borderWidth: 2,
    borderRadius: CORNER.small / 2,
    paddingHorizontal: SPACE.s,
    marginTop: SPACE.xs,
    transform: [{ rotate: '-1.5deg' }],
  },
});
