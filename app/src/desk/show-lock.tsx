import Lock from 'lucide-react-native/icons/lock';
import LockOpen from 'lucide-react-native/icons/lock-open';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';

import { useEditDeskMutation } from '../store/desk-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, HoldButton } from '../ui/buttons';
import { IconAction } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
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
      on ? `The show on ${name} is locked.` : `The show on ${name} is unlocked.`,
    ).then(() => setOpen(false));
  return (
    <>
      <IconAction
        of={showLock ? Lock : LockOpen}
        name={showLock ? 'The show is locked' : 'The show is not locked'}
        onPress={() => setOpen(true)}
      />
      <Sheet title="Show lock" open={open} onClose={() => setOpen(false)}>
        <View style={styles.ask}>
          <AppText>
            {`While locked, nothing is sent to ${name}, and its scenes, mode, thresholds and safes stay as they are. You can still capture.`}
          </AppText>
          {showLock ? (
            <View style={styles.hold}>
              <HoldButton
                title="Hold to unlock"
                disabled={isLoading && 'It is being unlocked.'}
                onDone={() => set(false)}
              />
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
