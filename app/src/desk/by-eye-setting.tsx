import { memo } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { isNumberSpec, type SettingSpec, type Value } from '@old-echo/core/desk/setting';
import { formatValue } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { stepValue } from '../ui/step-value';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import { TypedValue } from '../ui/typed-value';
import { ChoiceSheetButton } from './choice-sheet-button';

interface ByEyeSettingProps {
  readonly spec: SettingSpec;
  readonly address: string;
  readonly name: string;
  readonly value: Value;
  /** What it was in the scene, where that differs. */
  readonly was: Value | undefined;
  readonly onMove: ((address: string, value: Value, done: boolean, from: Value) => void) | undefined;
}

/** One control as it is read from the desk: its value large enough for arm's length, stepped, typed, or switched at one touch. */
export const ByEyeSetting = memo(function ByEyeSetting({ spec, address, name, value, was, onMove }: ByEyeSettingProps) {
  const look = useLook();
  const move = onMove ? (to: Value) => onMove(address, to, true, value) : undefined;
  const shown = (
    <AppText kind="figure" tone={was === undefined ? 'ink' : 'care'}>
      {formatValue(spec, value)}
    </AppText>
  );
  return (
    <View style={[styles.row, { borderColor: look.line }]}>
      <View style={styles.name}>
        <AppText numberOfLines={2}>{name}</AppText>
        {was === undefined ? null : (
          <AppText kind="value" tone="second">
            was {formatValue(spec, was)}
          </AppText>
        )}
      </View>
      {isNumberSpec(spec) ? (
        <>
          <Step
            title="−"
            name={`${name} down`}
            onPress={move && (() => move(stepValue(spec, Number(value), -1, false)))}
          />
          <TypedValue wide spec={spec} value={value} name={name} onMove={move}>
            {shown}
          </TypedValue>
          <Step
            title="+"
            name={`${name} up`}
            onPress={move && (() => move(stepValue(spec, Number(value), 1, false)))}
          />
        </>
      ) : spec.kind === 'switch' ? (
        <Pressable
          role="switch"
          aria-checked={value === true}
          aria-label={name}
          disabled={!move}
          onPress={() => move?.(value !== true)}
          style={[styles.switch, { borderColor: look.line, backgroundColor: value === true ? look.wash : look.card }]}
        >
          {shown}
        </Pressable>
      ) : spec.kind === 'choice' || spec.kind === 'reference' ? (
        <ChoiceSheetButton spec={spec} value={String(value)} name={name} onChoose={move} />
      ) : (
        <TypedValue wide spec={spec} value={value} name={name} onMove={spec.kind === 'text' ? move : undefined}>
          <AppText numberOfLines={2}>{formatValue(spec, value)}</AppText>
        </TypedValue>
      )}
    </View>
  );
});

function Step({ title, name, onPress }: { title: string; name: string; onPress: (() => void) | undefined }) {
  const look = useLook();
  return (
    <Pressable
      role="button"
      aria-label={name}
      disabled={!onPress}
      onPress={onPress}
      style={[styles.step, { borderColor: look.line }]}
    >
      <AppText kind="figure" tone="second">
        {title}
      </AppText>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH + SPACE.m, gap: SPACE.xs, borderTopWidth: 1 },
  name: { flex: 1, minWidth: 0 },
  step: {
    width: TOUCH,
    height: TOUCH,
    borderWidth: 1,
    borderRadius: CORNER.small,
    alignItems: 'center',
    justifyContent: 'center',
  },
  switch: {
    minWidth: 96,
    minHeight: TOUCH,
    borderWidth: 1,
    borderRadius: CORNER.small,
    alignItems: 'center',
    justifyContent: 'center',
  },
});
