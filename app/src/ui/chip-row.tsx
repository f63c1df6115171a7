import type { ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';

import { SPACE } from './tokens';

interface ChipRowProps {
  readonly children: ReactNode;
  /** `tablist` where one of the chips is chosen, not any number. */
  readonly role?: 'tablist';
  readonly 'aria-label'?: string;
}

/** Chips or small buttons side by side, in as many lines as they need. */
export function ChipRow({ children, ...named }: ChipRowProps) {
  return (
    <View style={styles.wrapped} {...named}>
      {children}
    </View>
  );
}

/** Chips of which one is chosen, in one line that scrolls: the head of a list. */
export function ChipLine({ children }: { readonly children: ReactNode }) {
  return (
    <ScrollView
      horizontal
      showsHorizontalScrollIndicator={false}
      style={styles.line}
      contentContainerStyle={styles.inLine}
      role="tablist"
    >
      {children}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  wrapped: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: SPACE.s },
  line: { flexGrow: 0 },
  inLine: { gap: SPACE.s, paddingHorizontal: SPACE.l, paddingVertical: SPACE.m },
});
