import ArrowLeft from 'lucide-react-native/icons/arrow-left';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import Pencil from 'lucide-react-native/icons/pencil';
import type { ReactNode } from 'react';
import { Pressable, ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';

import { AppText } from './app-text';
import { Icon } from './icon';
import { useLook } from './theme';
import { CORNER, LIST_WIDTH, LOW, MAX_TEXT_WIDTH, SPACE, TOUCH, WIDE } from './tokens';
import { useShortcuts } from './use-shortcuts';

export const useIsWide = (): boolean => useWindowDimensions().width >= WIDE;

/** A phone held sideways: there is room beside, and none to spare above. */
export const useIsLow = (): boolean => useWindowDimensions().height < LOW;

interface HeadProps {
  readonly title: string;
  /** A line above the title. */
  readonly over?: string | undefined;
  /** A line below it. */
  readonly under?: string;
  readonly onBack?: (() => void) | undefined;
  /** Makes the title a button that chooses another, or does what `titleDoes` says. */
  readonly onTitle?: (() => void) | undefined;
  readonly titleDoes?: 'choose another' | 'rename';
  readonly side?: ReactNode;
}

/** The head of a screen. */
export function Header({ title, over, under, onBack, onTitle, titleDoes = 'choose another', side }: HeadProps) {
  const look = useLook();
  const low = useIsLow();
  // Whatever can be gone back from answers to Escape.
  useShortcuts(onBack ? { Escape: onBack } : {});
  return (
    <View style={[styles.head, low && styles.low, { borderColor: look.line }]}>
      {onBack ? (
        <Pressable role="button" aria-label="Back" onPress={onBack} style={styles.back}>
          <Icon of={ArrowLeft} />
        </Pressable>
      ) : null}
      <View style={[styles.names, low && styles.beside]}>
        {over ? (
          <AppText kind="small" tone="second" numberOfLines={1}>
            {over}
          </AppText>
        ) : null}
        {onTitle ? (
          <Pressable role="button" aria-label={`${title}: ${titleDoes}`} onPress={onTitle} style={styles.titleRow}>
            <AppText kind="title" numberOfLines={1}>
              {title}
            </AppText>
            <Icon
              of={titleDoes === 'rename' ? Pencil : ChevronDown}
              size={titleDoes === 'rename' ? 18 : 24}
              color={look.second}
            />
          </Pressable>
        ) : (
          <AppText kind="title" numberOfLines={2}>
            {title}
          </AppText>
        )}
        {under ? (
          <AppText kind="small" tone="second" numberOfLines={1}>
            {under}
          </AppText>
        ) : null}
      </View>
      {side}
    </View>
  );
}

/** A scrolling body between head and foot. */
export function Body({ children, tight }: { readonly children: ReactNode; readonly tight?: boolean }) {
  return (
    <ScrollView style={styles.fill} contentContainerStyle={[styles.body, tight && styles.closer]}>
      {children}
    </ScrollView>
  );
}

interface CardProps {
  readonly children: ReactNode;
  /** A coloured edge: what it says is done, needs care, or stops. */
  readonly edge?: 'care' | 'stop' | 'done' | undefined;
  readonly tight?: boolean;
}

export function Card({ children, edge, tight }: CardProps) {
  const look = useLook();
  return (
    <View
      style={[
        styles.card,
        { backgroundColor: look.card, borderColor: look.line },
        edge && { borderLeftWidth: 6, borderLeftColor: look[edge] },
        tight && styles.tight,
      ]}
    >
      {children}
    </View>
  );
}

/** A band that names the rows under it. */
export function SectionHeading({ title, side }: { readonly title: string; readonly side?: ReactNode }) {
  const look = useLook();
  return (
    <View style={[styles.band, { backgroundColor: look.wash, borderColor: look.line }]}>
      <AppText kind="small" tone="second" role="heading" aria-level={2} style={styles.fill}>
        {title}
      </AppText>
      {side}
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
      <AppText kind="heading" role="heading" aria-level={2} style={styles.centred}>
        {title}
      </AppText>
      <AppText tone="second" style={styles.centred}>
        {children}
      </AppText>
    </View>
  );
}

/** List and detail: side by side where there is room, else whichever is asked for. */
export function Split({ list, detail, showDetail }: { list: ReactNode; detail: ReactNode; showDetail: boolean }) {
  const wide = useIsWide();
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
  low: { minHeight: TOUCH + SPACE.xs, paddingVertical: 0 },
  beside: { flexDirection: 'row', alignItems: 'baseline', gap: SPACE.m, overflow: 'hidden' },
  back: { width: TOUCH, height: TOUCH, marginLeft: -SPACE.m, alignItems: 'center', justifyContent: 'center' },
  names: { flex: 1, minWidth: 0 },
  titleRow: { flexDirection: 'row', alignItems: 'center', gap: SPACE.xs },
  body: { padding: SPACE.l, gap: SPACE.m },
  card: {
    borderWidth: 1,
    borderRadius: CORNER.large,
    paddingHorizontal: SPACE.m,
    paddingVertical: SPACE.s,
    gap: SPACE.xs,
  },
  tight: { paddingVertical: 0, gap: 0 },
  closer: { gap: SPACE.s, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  band: {
    flexDirection: 'row',
    alignItems: 'center',
    minHeight: 34,
    paddingHorizontal: SPACE.l,
    paddingVertical: 2,
    borderBottomWidth: 1,
  },
  empty: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: SPACE.xl, gap: SPACE.s, minHeight: 160 },
  centred: { textAlign: 'center' },
  split: { flex: 1, flexDirection: 'row' },
  list: { width: LIST_WIDTH, maxWidth: '50%', borderRightWidth: 1 },
});
