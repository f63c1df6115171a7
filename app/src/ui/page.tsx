import type { ReactNode } from 'react';
import { Pressable, ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import ArrowLeft from 'lucide-react-native/icons/arrow-left';

import { Icon } from './icon';
import { useLook } from './theme';
import { CORNER, LIST_WIDTH, SPACE, TOUCH, WIDE } from './tokens';
import { Words } from './words';

export const useWide = (): boolean => useWindowDimensions().width >= WIDE;

interface HeadProps {
  readonly title: string;
  /** A line above the title. */
  readonly over?: string;
  /** A line below it. */
  readonly under?: string;
  readonly onBack?: (() => void) | undefined;
  readonly side?: ReactNode;
}

/** The head of a screen. */
export function Head({ title, over, under, onBack, side }: HeadProps) {
  const look = useLook();
  return (
    <View style={[styles.head, { borderColor: look.line }]}>
      {onBack ? (
        <Pressable role="button" aria-label="Back" onPress={onBack} style={styles.back}>
          <Icon of={ArrowLeft} />
        </Pressable>
      ) : null}
      <View style={styles.names}>
        {over ? (
          <Words kind="small" tone="second" numberOfLines={1}>
            {over}
          </Words>
        ) : null}
        <Words kind="title" numberOfLines={2}>
          {title}
        </Words>
        {under ? (
          <Words kind="small" tone="second" numberOfLines={1}>
            {under}
          </Words>
        ) : null}
      </View>
      {side}
    </View>
  );
}

/** A scrolling body between head and foot. */
export function Body({ children }: { readonly children: ReactNode }) {
  return (
    <ScrollView style={styles.fill} contentContainerStyle={styles.body}>
      {children}
    </ScrollView>
  );
}

export function Card({ children, edge }: { readonly children: ReactNode; readonly edge?: 'care' | 'stop' | 'done' }) {
  const look = useLook();
  return (
    <View
      style={[
        styles.card,
        { backgroundColor: look.card, borderColor: look.line },
        edge && { borderLeftWidth: 6, borderLeftColor: look[edge] },
      ]}
    >
      {children}
    </View>
  );
}

/** A band that names the rows under it. */
export function Band({ title }: { readonly title: string }) {
  const look = useLook();
  return (
    <View style={[styles.band, { backgroundColor: look.wash, borderColor: look.line }]}>
      <Words kind="small" tone="second" role="heading" aria-level={2}>
        {title}
      </Words>
    </View>
  );
}

interface EmptyProps {
  readonly title: string;
  readonly children: ReactNode;
}

/** What an empty screen says: what is missing, and what to do first. */
export function Empty({ title, children }: EmptyProps) {
  return (
    <View style={styles.empty}>
      <Words kind="heading">{title}</Words>
      <Words tone="second" style={styles.centred}>
        {children}
      </Words>
    </View>
  );
}

/** List and detail: side by side where there is room, else whichever is asked for. */
export function Split({ list, detail, showDetail }: { list: ReactNode; detail: ReactNode; showDetail: boolean }) {
  const wide = useWide();
  const look = useLook();
  if (!wide) return <View style={styles.fill}>{showDetail ? detail : list}</View>;
  return (
    <View style={styles.split}>
      <View style={[styles.list, { borderColor: look.line }]}>{list}</View>
      <View style={styles.fill}>{detail}</View>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  head: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.s,
    minHeight: 70,
    paddingHorizontal: SPACE.l,
    paddingVertical: SPACE.s,
    borderBottomWidth: 1,
  },
  back: { width: TOUCH, height: TOUCH, marginLeft: -SPACE.m, alignItems: 'center', justifyContent: 'center' },
  names: { flex: 1, minWidth: 0 },
  body: { padding: SPACE.l, gap: SPACE.m },
  card: { borderWidth: 1, borderRadius: CORNER.large, padding: SPACE.m, gap: SPACE.xs },
  band: { paddingHorizontal: SPACE.l, paddingVertical: SPACE.s, borderBottomWidth: 1 },
  empty: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: SPACE.xl, gap: SPACE.s, minHeight: 160 },
  centred: { textAlign: 'center' },
  split: { flex: 1, flexDirection: 'row' },
  list: { width: LIST_WIDTH, maxWidth: '50%', borderRightWidth: 1 },
});
