import { StyleSheet, View } from 'react-native';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';

/** Says that a form holds what was typed into it before one left, and lets go of that. */
export function KeptDraft({ draft }: { readonly draft: { readonly wasKept: boolean; readonly forget: () => void } }) {
  if (!draft.wasKept) return null;
  return (
    <View style={styles.row} role="status">
      <AppText kind="small" tone="second" style={styles.fill}>
        What you typed before is still here.
      </AppText>
      <Action kind="quiet" title="Start over" onPress={draft.forget} />
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center' },
  fill: { flex: 1, minWidth: 0 },
});
