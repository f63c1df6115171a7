import { StyleSheet, View } from 'react-native';
import { Modal, Portal } from 'react-native-paper';

import { Action } from '../../ui/actions';
import { useLook } from '../../ui/theme';
import { CORNER, SPACE } from '../../ui/tokens';
import { Words } from '../../ui/words';

const KEYS: readonly (readonly [key: string, what: string])[] = [
  ['d', 'Desk'],
  ['m', 'Mixes'],
  ['c', 'Capture a scene'],
  ['w', 'Way back of the last restore'],
  ['s', 'Desks and appearance'],
  ['↑ ↓', 'Walk through strips or scenes'],
  ['Enter', 'Open what is marked'],
  ['← →', 'Move a control that is marked; with Shift by its finest step'],
  ['Esc', 'Back'],
  ['?', 'This list'],
];

export function KeyList({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const look = useLook();
  return (
    <Portal>
      <Modal visible={open} onDismiss={onClose} contentContainerStyle={[styles.sheet, { backgroundColor: look.card }]}>
        <Words kind="title">Keys</Words>
        {KEYS.map(([key, what]) => (
          <View key={key} style={styles.row}>
            <Words kind="value" style={styles.key}>
              {key}
            </Words>
            <Words style={styles.what}>{what}</Words>
          </View>
        ))}
        <Action title="Close" onPress={onClose} />
      </Modal>
    </Portal>
  );
}

const styles = StyleSheet.create({
  sheet: { alignSelf: 'center', width: 400, maxWidth: '92%', padding: SPACE.xl, borderRadius: CORNER.large, gap: SPACE.s },
  row: { flexDirection: 'row' },
  key: { width: 72 },
  what: { flex: 1 },
});
