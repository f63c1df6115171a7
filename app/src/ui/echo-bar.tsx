import { StyleSheet, View } from 'react-native';

import { valueToPosition } from '@old-echo/core/desk/fader-taper';
import type { NumberSpec } from '@old-echo/core/desk/setting';

import { useLook } from './theme';

const DOT = 12;
const SMALL_DOT = 8;
const HEIGHT = 24;

interface EchoLineProps {
  readonly spec: NumberSpec;
  readonly was: number;
  readonly now: number;
  /** Where the two are sides of a comparison. */
  /** As small as it can be read. */
  readonly small?: boolean;
  /** Nothing is heard of it: its dot is a ring. */
  readonly hollow?: boolean;
  readonly colours?: { readonly was: string; readonly now: string } | undefined;
}

/** A value on its line, small and only to look at: the echo where it was, solid where it is. */
export function EchoBar({ spec, was, now, small, hollow, colours }: EchoLineProps) {
  const dot = small ? SMALL_DOT : DOT;
  const height = small ? SMALL_DOT + 2 : HEIGHT;
  const round = { width: dot, height: dot, borderRadius: dot / 2, marginLeft: -dot / 2, top: (height - dot) / 2 };
  const look = useLook();
  const [from, to] = [valueToPosition(spec, was), valueToPosition(spec, now)];
  return (
    <View style={[styles.track, { height, marginHorizontal: dot / 2 }]} aria-hidden>
      <View style={[styles.rail, { backgroundColor: look.line }]} />
      <View
        style={[
          styles.way,
          {
            top: height / 2 - 1,
            left: `${Math.min(from, to) * 100}%`,
            width: `${Math.abs(to - from) * 100}%`,
            backgroundColor: look.echo,
          },
        ]}
      />
      <View
        style={[
          styles.dot,
          round,
          styles.echo,
          { left: `${from * 100}%`, borderColor: colours?.was ?? look.echo, backgroundColor: look.paper },
        ]}
      />
      <View
        style={[
          styles.dot,
          round,
          { left: `${to * 100}%`, backgroundColor: hollow ? look.paper : (colours?.now ?? look.ink) },
          hollow && { borderWidth: 2, borderColor: look.second },
        ]}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  track: { justifyContent: 'center' },
  rail: { height: 2, borderRadius: 1 },
  way: { position: 'absolute', height: 2 },
  dot: { position: 'absolute' },
  echo: { borderWidth: 2, borderStyle: 'dashed' },
});
