import { StyleSheet, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';

import { useLook } from '../ui/theme';
import type { Look } from '../ui/tokens';
import type { RowGraph } from './version-graph';

const LANE = 22;
const LEFT = 12;
const STROKE = 2.5;
/** How far below a row's top its dot is, in pixels. */
const DOT_Y = 22;

interface LinesProps {
  readonly lines: RowGraph;
  readonly lane: number;
  readonly lanes: number;
  readonly height: number;
  /** Kept by itself. */
  readonly hollow: boolean;
  /** A small dot: a run that is folded away. */
  readonly small?: boolean;
}

const laneX = (lane: number): number => LEFT + lane * LANE;
const laneColour = (look: Look, lane: number): string =>
  [look.ink, look.done, look.care, look.second][lane % 4] ?? look.ink;

/** The part of the tide lines that runs through one row, with the row's dot. Only a bend needs more than boxes. */
export function GraphLines({ lines, lane, lanes, height, hollow, small }: LinesProps) {
  const look = useLook();
  const y = { top: 0, dot: small ? height / 2 : DOT_Y, foot: height };
  const x = laneX(lane);
  const radius = small ? 5 : 8;
  return (
    <View style={{ width: LEFT + lanes * LANE, height }} aria-hidden>
      {lines.strokes.map((stroke) => (
        <View
          key={`${stroke.lane}${stroke.from}`}
          style={[
            styles.stroke,
            {
              left: laneX(stroke.lane) - STROKE / 2,
              top: y[stroke.from],
              height: y[stroke.to] - y[stroke.from],
              backgroundColor: laneColour(look, stroke.lane),
            },
          ]}
        />
      ))}
      {lines.joints.length > 0 ? (
        <Svg width={LEFT + lanes * LANE} height={height} style={StyleSheet.absoluteFill}>
          {lines.joints.map((joint) => (
            <Path
              key={joint}
              d={`M${laneX(joint)} 0C${laneX(joint)} ${y.dot} ${x} ${y.dot - 14} ${x} ${y.dot}`}
              stroke={laneColour(look, joint)}
              strokeWidth={STROKE}
              fill="none"
            />
          ))}
        </Svg>
      ) : null}
      <View
        style={[
          styles.dot,
          {
            left: x - radius,
            top: y.dot - radius,
            width: 2 * radius,
            height: 2 * radius,
            borderRadius: radius,
            borderColor: laneColour(look, lane),
            backgroundColor: hollow ? look.paper : laneColour(look, lane),
          },
        ]}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  stroke: { position: 'absolute', width: STROKE },
  dot: { position: 'absolute', borderWidth: 2 },
});
