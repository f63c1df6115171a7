import type { ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { Modal, Portal } from 'react-native-paper';

import { AllowedContext, useMayAsk } from './allowed';
import { AppText } from './app-text';
import { useLook } from './theme';
import { CORNER, SPACE } from './tokens';
import { useLayer } from './use-layer';
import { useShortcuts } from './use-shortcuts';

interface SheetProps {
  readonly title: string;
  readonly open: boolean;
  readonly onClose: () => void;
  /** Keys of its own, besides Escape. */
  readonly keys?: Readonly<Record<string, () => void>>;
  /** Stays in place above what scrolls. */
  readonly above?: ReactNode;
  readonly children: ReactNode;
}

/** Something to choose from, over the screen. */
export function Sheet({ title, open, onClose, keys, above, children }: SheetProps) {
  const look = useLook();
  const mayAsk = useMayAsk();
  useLayer(open, onClose);
  useShortcuts(open ? { Escape: onClose, ...keys } : {}, open);
  return (
    <Portal>
      {/* It is drawn elsewhere, where what is allowed is not known. */}
      <AllowedContext value={mayAsk}>
        <Modal
          visible={open}
          onDismiss={onClose}
          contentContainerStyle={[styles.sheet, { backgroundColor: look.card }]}
        >
          <View role="dialog" aria-label={title} aria-modal style={styles.dialog}>
            <AppText kind="heading" style={styles.title} role="heading">
              {title}
            </AppText>
            {above}
            <ScrollView>{children}</ScrollView>
          </View>
        </Modal>
      </AllowedContext>
    </Portal>
  );
}

const styles = StyleSheet.create({
  sheet: {
    alignSelf: 'center',
    width: 400,
    maxWidth: '92%',
    maxHeight: '80%',
    padding: SPACE.l,
    borderRadius: CORNER.large,
  },
  dialog: { flexShrink: 1, minHeight: 0 },
  title: { marginBottom: SPACE.s },
});
