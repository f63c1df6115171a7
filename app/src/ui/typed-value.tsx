import { type ReactNode, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { HelperText } from 'react-native-paper';

import { isNumberSpec, type SettingSpec, type Value } from '@old-echo/core/desk/setting';
import { formatValue } from '@old-echo/core/phrases/format-value';
import { describeRange, readValue } from '@old-echo/core/phrases/read-value';

import { Action } from './buttons';
import { Field } from './field';
import { Sheet } from './sheet';
import { SPACE, TOUCH } from './tokens';
import { useDescription } from './use-description';

interface TypedValueProps {
  readonly spec: SettingSpec;
  readonly value: Value;
  readonly name: string;
  /** Takes the room that a large value needs. */
  readonly wide?: boolean;
  /** Without it the value only shows. */
  readonly onMove: ((value: Value, done: boolean) => void) | undefined;
  /** The value as it is shown. */
  readonly children: ReactNode;
}

/** A value that can be tapped and typed. */
export function TypedValue({ spec, value, name, wide, onMove, children }: TypedValueProps) {
  const [open, setOpen] = useState(false);
  // By all that stands in it: where it was, too.
  const { control, text } = useDescription();
  const size = [styles.value, wide && styles.wide];
  if (!onMove) return <View style={size}>{children}</View>;
  return (
    <>
      <Pressable
        role="button"
        aria-label={`${name}: ${formatValue(spec, value)}, type it`}
        {...control}
        {...text}
        onPress={() => setOpen(true)}
        style={size}
      >
        {children}
      </Pressable>
      {open ? <TypedValueSheet {...{ spec, value, name, onMove }} onClose={() => setOpen(false)} /> : null}
    </>
  );
}

interface TypedValueSheetProps extends Omit<TypedValueProps, 'children' | 'onMove' | 'wide'> {
  /** What else is chosen there, and what is done with it once all is set. */
  readonly children?: ReactNode;
  readonly onSet?: () => void;
  readonly onMove: (value: Value, done: boolean) => void;
  readonly onClose: () => void;
}

/** Types a value, with its range beside it; what cannot be is told at once, and not sent. */
export function TypedValueSheet({ spec, value, name, onMove, onClose, children, onSet }: TypedValueSheetProps) {
  const [typed, setTyped] = useState(isNumberSpec(spec) ? formatValue(spec, value) : String(value));
  const [shown, setShown] = useState(false);
  const read = readValue(spec, typed);
  const submit = () => {
    setShown(true);
    if (!read.ok) return;
    onClose();
    if (read.value !== value) onMove(read.value, true);
    onSet?.();
  };
  return (
    <Sheet title={name} open onClose={onClose}>
      <View style={styles.form}>
        <View>
          <Field
            label={name}
            value={typed}
            onChangeText={setTyped}
            onSubmitEditing={submit}
            error={shown && !read.ok}
            {...(spec.kind === 'text' ? { maxLength: spec.longest } : {})}
            autoFocus
            selectTextOnFocus
            testID="typed-value"
          />
          <HelperText type={shown && !read.ok ? 'error' : 'info'}>
            {shown && !read.ok ? read.why : isNumberSpec(spec) ? describeRange(spec) : ' '}
          </HelperText>
        </View>
        {children}
        <View style={styles.actions}>
          <Action kind="main" grow title="Set" onPress={submit} />
          <Action title="Cancel" onPress={onClose} />
        </View>
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  value: { width: 84, minHeight: TOUCH, alignItems: 'flex-end', justifyContent: 'center' },
  wide: { width: 148, alignItems: 'center' },
  form: { gap: SPACE.s, paddingTop: SPACE.s },
  actions: { flexDirection: 'row', gap: SPACE.s },
});
