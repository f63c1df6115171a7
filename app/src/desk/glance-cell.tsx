import Shield from 'lucide-react-native/icons/shield';
import VolumeX from 'lucide-react-native/icons/volume-x';
import { memo } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { isNumberSpec, isOff } from '@old-echo/core/desk/setting';
import type { StripState } from '@old-echo/core/desk/state';
import { formatValue, plural } from '@old-echo/core/phrases/format-value';

import { stripColourName } from '../components/strip-colour-name';
import type { SafeExtent } from '../components/strip-safety';
import { toggled } from '../store/selection-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { stripDrift } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { EchoBar } from '../ui/echo-bar';
import { Icon } from '../ui/icon';
import { type Modifiers, modifiersOf } from '../ui/modifiers';
import { StripColour } from '../ui/strip-colour';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';
import { usePressOrHold } from '../ui/use-press-or-hold';

interface GlanceCellProps {
  readonly profile: Profile;
  readonly strip: string;
  /** What the desk is meant to hold. */
  readonly was: StripState | undefined;
  readonly safe: SafeExtent;
  readonly height: number;
  /** Whether there is room for its digits. */
  readonly digits: boolean;
  readonly onOpen: (strip: string, modifiers: Modifiers) => void;
}

/** A strip among all others: its name, its level on its line with where it was, whether it is muted, safe, or has drifted. */
export const GlanceCell = memo(function GlanceCell(props: GlanceCellProps) {
  const { profile, strip, was, safe, height, digits, onOpen } = props;
  const look = useLook();
  const dispatch = useAppDispatch();
  const now = useAppSelector((root) => root.live.state?.[strip]);
  const press = usePressOrHold({
    onPress: ({ nativeEvent }) => onOpen(strip, modifiersOf(nativeEvent)),
    onHold: () => dispatch(toggled(strip)),
  });
  const picked = useAppSelector((root) => root.selection.strips.includes(strip));
  const switched = useAppSelector((root) => root.lastSwitch.before[strip]);
  const spec = stripFamily(profile, strip)?.settings['fader/level'];
  const then = switched ?? was;
  const moved = then && now ? stripDrift(profile, strip, { [strip]: then }, { [strip]: now }).length : 0;
  const level = Number(now?.['fader/level']);
  const before = Number(then?.['fader/level'] ?? level);
  const muted = now?.['mute/on'] === true;
  const name = String(now?.['label/name'] ?? profile.plainNames[strip] ?? strip);
  const off = spec === undefined || isOff(spec, now?.['fader/level']);
  const value = spec && now ? formatValue(spec, level, false) : '';
  const words = [
    name,
    value && `${value} dB`,
    muted && 'muted',
    safe === 'all' && 'safe',
    moved > 0 && `${plural(moved, 'setting')} ${switched ? 'changed' : 'drifted'}`,
    picked && 'selected',
  ];
  return (
    <Pressable
      role="button"
      aria-label={words.filter(Boolean).join(', ')}
      testID={`glance-${strip}`}
      {...press}
      style={[
        styles.cell,
        { height, borderBottomColor: look.line, borderLeftColor: look.paper },
        picked && { backgroundColor: look.wash, borderLeftColor: look.ink },
        switched && { backgroundColor: look.wash, borderLeftColor: look.done },
      ]}
    >
      <View style={styles.row}>
        {picked ? <AppText kind="small">✓</AppText> : null}
        <StripColour name={stripColourName(profile, strip, now)} small />
        <AppText kind="small" tone={muted ? 'second' : 'ink'} numberOfLines={1} style={styles.name}>
          {name}
        </AppText>
        {safe === 'all' ? <Icon of={Shield} size={12} color={look.stop} /> : null}
        {muted ? <Icon of={VolumeX} size={12} color={look.second} /> : null}
        {moved > 0 ? (
          <AppText kind="value" tone="care">
            •{moved}
          </AppText>
        ) : null}
        {digits && !off ? (
          <AppText kind="value" tone={muted ? 'second' : 'ink'}>
            {value}
          </AppText>
        ) : null}
      </View>
      {spec && isNumberSpec(spec) && now ? <EchoBar spec={spec} was={before} now={level} small hollow={muted} /> : null}
    </Pressable>
  );
});

const styles = StyleSheet.create({
  cell: {
    justifyContent: 'center',
    paddingHorizontal: SPACE.xs,
    borderBottomWidth: 1,
    borderLeftWidth: 3,
    overflow: 'hidden',
  },
  row: { flexDirection: 'row', alignItems: 'center', gap: 3 },
  name: { flex: 1, minWidth: 0 },
});
