import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Lock from 'lucide-react-native/icons/lock';
import LockOpen from 'lucide-react-native/icons/lock-open';

import type { DeskView } from '@old-echo/core/contracts/desk';

import { useEditDeskMutation } from '../store/api';
import { Action, HoldButton } from '../ui/buttons';
import { IconAction } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { AppText } from '../ui/app-text';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { useShortcuts } from '../ui/use-shortcuts';

/** The show lock: put on with one tap, lifted only by holding. */
export function ShowLock({ desk }: { readonly desk: DeskView }) {
  const done = useRunAndNotify();
  const [edit, { isLoading }] = useEditDeskMutation();
  const [open, setOpen] = useState(false);
  const { showLock, name } = desk;
  useShortcuts({ l: () => setOpen(true) });
  const set = (on: boolean) =>
    void done(edit({ id: desk.id, edit: { showLock: on } }), () =>
      on ? `The show lock of ${name} is on.` : `The show lock of ${name} is lifted.`,
    ).then(() => setOpen(false));
  return (
    <>
      <IconAction
        of={showLock ? Lock : LockOpen}
        name={showLock ? 'Show lock is on' : 'Show lock is off'}
        onPress={() => setOpen(true)}
      />
      <Sheet title="Show lock" open={open} onClose={() => setOpen(false)}>
        <View style={styles.ask}>
          <AppText>
            {showLock
              ? `Until it is lifted nothing can be restored to ${name}, replaced or removed, and mode, thresholds and safes stay. Capturing and moving single controls go on.`
              : `While it is on, nothing can be restored to ${name}, no scene made on it can be replaced or removed, and mode, thresholds and safes stay as they are.`}
          </AppText>
          {showLock ? (
            <View style={styles.hold}>
              <HoldButton title="Hold to lift the lock" disabled={isLoading} onDone={() => set(false)} />
            </View>
          ) : (
            <Action kind="main" title="Lock" busy={isLoading} onPress={() => set(true)} />
          )}
          <Action title="Cancel" onPress={() => setOpen(false)} />
        </View>
      </Sheet>
    </>
  );
}

const styles = StyleSheet.create({ ask: { gap: SPACE.m, paddingBottom: SPACE.s }, hold: { flexDirection: 'row' } });
