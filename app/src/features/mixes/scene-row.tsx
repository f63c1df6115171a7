import dayjs from 'dayjs';
import { memo } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import Svg, { Circle, Path } from 'react-native-svg';

import { plural } from '@old-echo/core/desk/wording';

import { useLook } from '../../ui/theme';
import { CORNER, SPACE, type Look } from '../../ui/tokens';
import { Words } from '../../ui/words';
import type { HistoryRow } from './tide-lines';

const LANE = 22;
const LEFT = 12;
const DOT_Y = 22;
export const rowHeight = (row: HistoryRow): number => (row.scene.milestone ? 96 : 66);

interface SceneRowProps {
  readonly row: HistoryRow;
  readonly lanes: number;
  /** The number of the scene it came from. */
  readonly parentNumber: number | undefined;
  readonly onDesk: boolean;
  readonly chosen: boolean;
  readonly onOpen: (sceneId: string) => void;
}

/** A scene on its tide line: milestones as stamps, way backs hollow. */
export const SceneRow = memo(function SceneRow({ row, lanes, parentNumber, onDesk, chosen, onOpen }: SceneRowProps) {
  const look = useLook();
  const { scene } = row;
  const changed = scene.changed.settings;
  const since =
    parentNumber === undefined
      ? 'Where it begins'
      : changed === 0
        ? `Same as ${parentNumber}`
        : `${plural(changed, 'setting')} since ${parentNumber}`;
  return (
    <Pressable
      role="button"
      testID={`scene-${scene.number}`}
      aria-label={`${scene.number} ${scene.name}${scene.milestone ? `, milestone: ${scene.milestone}` : ''}`}
      onPress={() => onOpen(scene.id)}
      style={[styles.row, { height: rowHeight(row) }, chosen && { backgroundColor: look.wash }]}
    >
      <Lines row={row} width={LEFT + lanes * LANE} look={look} />
      <View style={styles.words}>
        <View style={styles.name}>
          <Words kind="value" tone="second">
            {scene.number}
          </Words>
          <Words
            kind={scene.kind === 'scene' ? 'strong' : 'body'}
            tone={scene.kind === 'scene' ? 'ink' : 'second'}
            numberOfLines={1}
            style={styles.shrink}
          >
            {scene.name}
          </Words>
          {onDesk ? (
            <View style={[styles.tag, { borderColor: look.done }]}>
              <Words kind="small" tone="done">
                On the desk
              </Words>
            </View>
          ) : null}
        </View>
        <Words kind="small" tone="second" numberOfLines={1}>
          {[when(scene.madeAt), since, scene.note && `“${scene.note}”`].filter(Boolean).join(' · ')}
        </Words>
        {scene.milestone ? <Stamp text={scene.milestone} /> : null}
      </View>
    </Pressable>
  );
});

/** "Today 16:42", "Yesterday 18:20", "3 Nov 18:20". */
export function when(madeAt: string): string {
  const at = dayjs(madeAt);
  const days = dayjs().startOf('day').diff(at.startOf('day'), 'day');
  return `${days === 0 ? 'Today' : days === 1 ? 'Yesterday' : at.format('D MMM')} ${at.format('HH:mm')}`;
}

/** A milestone, as a stamp in a logbook. */
export function Stamp({ text }: { readonly text: string }) {
  const look = useLook();
  return (
    <View style={[styles.stamp, { borderColor: look.done }]}>
      <Words kind="small" tone="done">
        Milestone: {text}
      </Words>
    </View>
  );
}

const laneX = (lane: number): number => LEFT + lane * LANE;
const laneColour = (look: Look, lane: number): string =>
  [look.ink, look.done, look.care, look.second][lane % 4] ?? look.ink;

function Lines({ row, width, look }: { row: HistoryRow; width: number; look: Look }) {
  const height = rowHeight(row);
  const hollow = row.scene.kind === 'way back';
  const y = { top: 0, dot: DOT_Y, foot: height };
  return (
    <Svg width={width} height={height} aria-hidden>
      {row.strokes.map(({ lane, from, to }) => (
        <Path
          key={`${lane}${from}${to}`}
          d={`M${laneX(lane)} ${y[from]}V${y[to]}`}
          stroke={laneColour(look, lane)}
          strokeWidth={2.5}
        />
      ))}
      {row.joints.map((lane) => (
        <Path
          key={lane}
          d={`M${laneX(lane)} 0C${laneX(lane)} ${DOT_Y} ${laneX(row.lane)} ${DOT_Y - 14} ${laneX(row.lane)} ${DOT_Y}`}
          stroke={laneColour(look, lane)}
          strokeWidth={2.5}
          fill="none"
        />
      ))}
      <Circle
        cx={laneX(row.lane)}
        cy={DOT_Y}
        r={hollow ? 6 : 7}
        fill={hollow ? look.paper : laneColour(look, row.lane)}
        stroke={laneColour(look, row.lane)}
        strokeWidth={2}
      />
    </Svg>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', paddingHorizontal: SPACE.l, gap: SPACE.m },
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
