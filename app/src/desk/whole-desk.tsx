import { useMemo, useState } from 'react';
import { type LayoutChangeEvent, ScrollView, StyleSheet, View } from 'react-native';

import { GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import { stripsInUse } from '@old-echo/core/desk/strips-in-use';

import { safeExtents } from '../components/strip-safety';
import { useAppSelector } from '../store/store';
import { type LiveDesk, useBaseline } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Empty, useIsWide } from '../ui/layout';
import type { Modifiers } from '../ui/modifiers';
import { SPACE } from '../ui/tokens';
import { GlanceCell } from './glance-cell';
import { glanceColumns, type GlanceEntry } from './glance-columns';

/** On a small screen held sideways strips are as small as they can be read. */
const LEAST = { wide: { width: 104, height: 32 }, small: { width: 68, height: 26 } } as const;
/** From this width on a strip has its digits. */
const DIGITS = 100;

interface WholeDeskProps {
  readonly now: LiveDesk;
  readonly onOpen: (strip: string, modifiers: Modifiers) => void;
}

/** The whole desk at a glance: all strips on one screen, families in order; where one sees a switch happen. */
export function WholeDesk({ now, onOpen }: WholeDeskProps) {
  const { profile, desk, state } = now;
  const wide = useIsWide();
  const was = useBaseline();
  const inUseOnly = useAppSelector((root) => root.place.inUseOnly);
  const [room, setRoom] = useState<{ width: number; height: number } | null>(null);
  const safe = useMemo(() => safeExtents(profile, desk.safes), [profile, desk.safes]);
  const used = inUseOnly ? stripsInUse(profile, state).join() : null;
  const entries = useMemo(() => {
    const shown = used === null ? null : new Set(used.split(','));
    return profile.families.flatMap(({ id, name, strips }): GlanceEntry[] => {
      const own = id === GLOBAL_FAMILY ? [] : strips.filter((strip) => shown?.has(strip) ?? true);
      return own.length > 0 ? [{ heading: name }, ...own.map((strip) => ({ strip }))] : [];
    });
  }, [profile, used]);
  const layout = room && glanceColumns(entries, room.width, room.height, wide ? LEAST.wide : LEAST.small);
  const digits = room !== null && layout !== null && room.width / layout.columns.length >= DIGITS;
  const measure = ({ nativeEvent }: LayoutChangeEvent) => {
    const { width, height } = nativeEvent.layout;
    setRoom({ width, height });
  };
  return (
    <View style={styles.fill} onLayout={measure} testID="whole-desk">
      {entries.length === 0 ? <Empty title="No strip is in use">Show all strips instead.</Empty> : null}
      <ScrollView style={styles.fill} contentContainerStyle={styles.columns}>
        {layout?.columns.map((column, i) => (
          <View key={i} style={styles.column}>
            {column.map((entry) =>
              'heading' in entry ? (
                <View key={entry.heading} style={[styles.heading, { height: layout.height }]}>
                  <AppText kind="small" tone="second" role="heading" aria-level={2} numberOfLines={1}>
                    {entry.heading}
                  </AppText>
                </View>
              ) : (
                <GlanceCell
                  key={entry.strip}
                  profile={profile}
                  strip={entry.strip}
                  was={was?.[entry.strip]}
                  safe={safe[entry.strip] ?? 'none'}
                  height={layout.height}
                  digits={digits}
                  onOpen={onOpen}
                />
              ),
            )}
          </View>
        ))}
      </ScrollView>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  columns: { flexDirection: 'row' },
  column: { flex: 1, minWidth: 0 },
  heading: { justifyContent: 'flex-end', paddingHorizontal: SPACE.xs, paddingBottom: 2 },
});
