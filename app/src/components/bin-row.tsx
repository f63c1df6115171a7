import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { SCENE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Sheet } from '../ui/sheet';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';

interface BinnedRowProps {
  readonly name: string;
  readonly under: string;
  readonly onBack: () => void;
  /** For good; asked for once more before. */
  readonly onRemove: () => void;
}

/** Something in the bin: it comes back, or goes for good. */
export function BinnedRow({ name, under, onBack, onRemove }: BinnedRowProps) {
  const look = useLook();
  const [asking, setAsking] = useState(false);
  return (
    <View style={[styles.row, { borderColor: look.line }]}>
      <AppText kind="strong">{name}</AppText>
      <AppText kind="small" tone="second">
        {under}
      </AppText>
      <View style={styles.actions}>
        <Action asks={SCENE_ROUTES.unbinScene} kind="quiet" title="Take out" onPress={onBack} />
        <Action asks={SCENE_ROUTES.deleteScene} kind="quiet" title="Delete for good" onPress={() => setAsking(true)} />
      </View>
      <ConfirmDeletion
        title={`Delete ${name} for good?`}
        open={asking}
        onClose={() => setAsking(false)}
        onRemove={onRemove}
      />
    </View>
  );
}

interface ForeverProps {
  readonly title: string;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onRemove: () => void;
}

/** Asks before what cannot be taken back. */
export function ConfirmDeletion({ title, open, onClose, onRemove }: ForeverProps) {
  return (
    <Sheet title={title} open={open} onClose={onClose}>
      <View style={styles.ask}>
        <AppText>This cannot be undone. Nothing else changes.</AppText>
        <Action
          kind="main"
          title="Delete for good"
          onPress={() => {
            onClose();
            onRemove();
          }}
        />
        <Action title="Cancel" onPress={onClose} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  row: { borderBottomWidth: 1, paddingTop: SPACE.s },
  actions: { flexDirection: 'row', marginLeft: -SPACE.s },
  ask: { gap: SPACE.m, paddingBottom: SPACE.s },
});
