import { StyleSheet, View } from 'react-native';

import { valueToPosition } from '@old-echo/core/desk/fader-taper';
import type { NumberSpec } from '@old-echo/core/desk/setting';

import { useLook } from './theme';

const DOT = 12;
const HEIGHT = 24;

interface EchoLineProps {
  readonly spec: NumberSpec;
  readonly was: number;
  readonly now: number;
  /** Where the two are sides of a comparison. */
  readonly colours?: { readonly was: string; readonly now: string } | undefined;
}

/** A value on its line, small and only to look at: the echo where it was, solid where it is. */
export function EchoBar({ spec, was, now, colours }: EchoLineProps) {
  const look = useLook();
  const [from, to] = [valueToPosition(spec, was), valueToPosition(spec, now)];
  return (
    <View style={styles.track} aria-hidden>
      <View style={[styles.rail, { backgroundColor: look.line }]} />
      <View
        style={[
          styles.way,
          { left: `${Math.min(from, to) * 100}%`, width: `${Math.abs(to - from) * 100}%`, backgroundColor: look.echo },
        ]}
      />
      <View
        style={[
          styles.dot,
          styles.echo,
          { left: `${from * 100}%`, borderColor: colours?.was ?? look.echo, backgroundColor: look.paper },
        ]}
      />
      <View style={[styles.dot, { left: `${to * 100}%`, backgroundColor: colours?.now ?? look.ink }]} />
    </View>
  );
}

const styles = StyleSheet.create({
  track: { height: HEIGHT, marginHorizontal: DOT / 2, justifyContent: 'center' },
  rail: { height: 2, borderRadius: 1 },
  way: { position: 'absolute', height: 2, top: (HEIGHT - 2) / 2 },
  dot: {
    position: 'absolute',
    width: DOT,
    height: DOT,
    borderRadius: DOT / 2,
    marginLeft: -DOT / 2,
    top: (HEIGHT - DOT) / 2,
  },
  echo: { borderWidth: 2, borderStyle: 'dashed' },
});
