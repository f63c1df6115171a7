import { StyleSheet, View } from 'react-native';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Sheet } from '../ui/sheet';
import { TOUCH } from '../ui/tokens';

const KEYS: readonly (readonly [key: string, what: string])[] = [
  ['d', 'Desk'],
  ['m', 'Mixes'],
  ['b', 'Compare'],
  ['i', 'Library'],
  ['y', 'Switch to another song or show'],
  ['c', 'Capture a scene'],
  ['r', 'Restore: recall scope, preview, the button'],
  ['a', 'The next caution to answer, in a preview'],
  ['e', 'Edit a scene, or a song or show on its page'],
  ['.', 'What else can be done with a scene'],
  ['1 – 9', 'Preview of a scene at hand, on the desk'],
  ['← →', 'While a scope is held: the same parts of the scene before, or after'],
  ['Enter', 'While a scope is held: keep what is on the desk as a scene'],
  ['k', 'Strip safe on or off'],
  ['f', 'Swap to the other scene, and back'],
  ['l', 'Lock or unlock the show'],
  ['g', 'Restore log'],
  ['x', 'Select the highlighted strip'],
  ['w', 'Way back of the last restore'],
  ['s', 'Settings'],
  ['↑ ↓', 'Walk through strips or scenes; step through scenes while one is open'],
  ['p  n', 'Previous or next strip or difference'],
  ['[  ]', 'While comparing: A one scene older or newer; with Shift, B'],
  ['1 – 4', 'While comparing: hear that mix; with Desk follows, put it on the desk as well'],
  ['v', 'While comparing: swap A and B'],
  ['t', 'While comparing: combine A and B'],
  ['Space', 'While listening: play and pause'],
  ['a  b  x', 'While listening: hear A, hear B, hear the other'],
  ['l', 'While listening: repeat from here, to here, no more'],
  ['/', 'Search strips or scenes'],
  ['Enter', 'Open the highlighted item; in live mode, hold to restore'],
  ['← →', 'Move the highlighted control; with Shift by its finest step'],
  ['Esc', 'Back'],
  ['?', 'This list'],
];

export function ShortcutList({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  return (
    <Sheet title="Keyboard shortcuts" open={open} onClose={onClose} keys={{ '?': onClose }}>
      {KEYS.map(([key, what]) => (
        <View key={what} style={styles.row}>
          <AppText kind="value" style={styles.key}>
            {key}
          </AppText>
          <AppText style={styles.what}>{what}</AppText>
        </View>
      ))}
      <Action title="Close" onPress={onClose} />
    </Sheet>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH - 8 },
  key: { width: 72 },
  what: { flex: 1 },
});
