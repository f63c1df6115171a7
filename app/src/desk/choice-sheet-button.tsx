import { useState } from 'react';
import { Pressable, StyleSheet } from 'react-native';

import type { ChoiceSpec } from '@old-echo/core/desk/setting';

import { AppText } from '../ui/app-text';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';

interface ChoiceProps {
  readonly spec: ChoiceSpec;
  readonly value: string;
  readonly name: string;
  /** Undefined while it cannot be moved. */
  readonly onChoose: ((value: string) => void) | undefined;
}

/** One of a few ways of working, or one of what a desk has: its button opens the sheet it is chosen from. */
export function ChoiceSheetButton({ spec, value, name, onChoose }: ChoiceProps) {
  const look = useLook();
  const [open, setOpen] = useState(false);
  const choose = (option: string) => {
    setOpen(false);
    if (option !== value) onChoose?.(option);
  };
  return (
    <>
      <Pressable
        role="button"
        aria-label={`${name}: ${value}`}
        disabled={!onChoose}
        onPress={() => setOpen(true)}
        style={[styles.choice, { borderColor: look.line }]}
      >
        <AppText kind="value">{value}</AppText>
      </Pressable>
      <Sheet title={name} open={open} onClose={() => setOpen(false)}>
        {spec.options.map((option) => (
          <Option key={option} title={option} chosen={option === value} onPress={() => choose(option)} />
        ))}
      </Sheet>
    </>
  );
}

const styles = StyleSheet.create({
  choice: {
    minHeight: TOUCH,
    minWidth: 96,
    paddingHorizontal: SPACE.m,
    justifyContent: 'center',
    alignItems: 'center',
    borderWidth: 1,
    borderRadius: CORNER.small,
  },
});
