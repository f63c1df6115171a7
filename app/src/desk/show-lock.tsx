import Lock from 'lucide-react-native/icons/lock';
import LockOpen from 'lucide-react-native/icons/lock-open';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';

import { FaultCard } from '../components/fault-card';
import { useEditDeskMutation } from '../store/desk-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { useMayAsk } from '../ui/allowed';
import { AppText } from '../ui/app-text';
import { Action, HoldButton } from '../ui/buttons';
import { Field } from '../ui/field';
import { IconAction } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';

/** The show lock: put on with one tap, lifted only by holding; with its PIN, where it was put on with one. */
export function ShowLock({ desk }: { readonly desk: DeskView }) {
  const [open, setOpen] = useState(false);
  const mayAsk = useMayAsk();
  const { showLock } = desk;
  useShortcuts({ l: () => mayAsk(DESK_ROUTES.editDesk) && setOpen(true) });
  return (
    <>
      <IconAction
        of={showLock ? Lock : LockOpen}
        name={showLock ? 'The show is locked' : 'The show is not locked'}
        asks={DESK_ROUTES.editDesk}
        onPress={() => setOpen(true)}
      />
      {open ? <LockSheet desk={desk} onClose={() => setOpen(false)} /> : null}
    </>
  );
}

const PIN = /^\d{4,8}$/;

function LockSheet({ desk, onClose }: { readonly desk: DeskView; readonly onClose: () => void }) {
  const { showLock, hasPin, name } = desk;
  const done = useRunAndNotify();
  const [edit, { isLoading, error }] = useEditDeskMutation();
  const [pin, setPin] = useState('');
  const set = async (on: boolean) => {
    const change = { showLock: on, ...(pin === '' ? {} : { pin }) };
    // What is wrong with a PIN is said beside it.
    if (hasPin && !on) {
      if ((await edit({ id: desk.id, edit: change })).error) return;
    } else
      await done(edit({ id: desk.id, edit: change }), () =>
        on ? `The show on ${name} is locked.` : `The show on ${name} is unlocked.`,
      );
    onClose();
  };
  const badPin = !PIN.test(pin) && 'A PIN has 4 to 8 digits.';
  return (
    <Sheet title="Show lock" open onClose={onClose}>
      <View style={styles.ask}>
        <AppText>
          {`While locked, nothing is sent to ${name}, and its scenes, mode, thresholds and safes stay as they are. You can still capture.`}
        </AppText>
        {!showLock || hasPin ? (
          <Field
            label={showLock ? 'PIN' : 'PIN to unlock it with, if you like'}
            inputMode="numeric"
            secureTextEntry
            value={pin}
            onChangeText={setPin}
            maxLength={8}
            testID="lock-pin"
          />
        ) : null}
        {error && hasPin ? <FaultCard error={error} /> : null}
        {showLock ? (
          <View style={styles.hold}>
            <HoldButton
              title="Hold to unlock"
              disabled={(isLoading && 'It is being unlocked.') || (hasPin && badPin)}
              onDone={() => void set(false)}
            />
          </View>
        ) : (
          <Action
            kind="main"
            title="Lock"
            busy={isLoading}
            disabled={pin !== '' && badPin}
            onPress={() => void set(true)}
          />
        )}
        <Action title="Cancel" onPress={onClose} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ ask: { gap: SPACE.m, paddingBottom: SPACE.s }, hold: { flexDirection: 'row' } });
