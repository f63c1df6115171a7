import { memo } from 'react';
import { StyleSheet, View } from 'react-native';
import { Switch } from 'react-native-paper';

import { isNumberSpec, type SettingSpec, type Value } from '@old-echo/core/desk/setting';
import { formatValue } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { useLook } from '../ui/theme';
import { ROW, SPACE } from '../ui/tokens';
import { TypedValue } from '../ui/typed-value';
import { ValueSlider } from '../ui/value-slider';
import { ChoiceSheetButton } from './choice-sheet-button';

interface SettingProps {
  readonly spec: SettingSpec | undefined;
  readonly address: string;
  readonly name: string;
  readonly value: Value | undefined;
  /** What it was in the scene, where that differs. */
  readonly echo: Value | undefined;
  /** Undefined while the desk is not linked. */
  readonly onMove: ((address: string, value: Value, done: boolean, from: Value) => void) | undefined;
}

const sameSetting = (a: SettingProps, b: SettingProps): boolean =>
  a.value === b.value && a.echo === b.echo && a.address === b.address && a.onMove === b.onMove && a.name === b.name;

/** One setting: its name, its control, its value, and what it was. */
export const SettingRow = memo(function SettingRow(props: SettingProps) {
  const look = useLook();
  return (
    <View style={[styles.row, { borderColor: look.line }]}>
      <AppText style={styles.name} numberOfLines={2}>
        {props.name}
      </AppText>
      <SettingControl {...props} />
    </View>
  );
}, sameSetting);

/** The control of a setting with its value, without its name. */
export const SettingControl = memo(function SettingControl({ spec, address, name, value, echo, onMove }: SettingProps) {
  if (!spec || value === undefined) return null;
  const move = onMove ? (to: Value, done: boolean) => onMove(address, to, done, value) : undefined;
  if (isNumberSpec(spec))
    return (
      <>
        <View style={styles.line}>
          <ValueSlider
            spec={spec}
            value={Number(value)}
            echo={typeof echo === 'number' ? echo : undefined}
            name={name}
            onMove={move}
            focusable
          />
        </View>
        <TypedValue spec={spec} value={value} name={name} onMove={move}>
          <AppText kind="value">{formatValue(spec, value)}</AppText>
          {echo === undefined ? null : (
            <AppText kind="value" tone="second">
              was {formatValue(spec, echo, false)}
            </AppText>
          )}
        </TypedValue>
      </>
    );
  return (
    <>
      {echo === undefined ? null : (
        <AppText kind="value" tone="second">
          was {formatValue(spec, echo)}
        </AppText>
      )}
      {spec.kind === 'switch' ? (
        <Switch
          value={value === true}
          disabled={!move}
          onValueChange={(on) => move?.(on, true)}
          accessibilityLabel={name}
        />
      ) : spec.kind === 'choice' || spec.kind === 'reference' ? (
        <ChoiceSheetButton
          spec={spec}
          value={String(value)}
          name={name}
          onChoose={move && ((option) => move(option, true))}
        />
      ) : spec.kind === 'text' ? (
        <TypedValue spec={spec} value={value} name={name} onMove={move}>
          <AppText kind="value" numberOfLines={2}>
            {formatValue(spec, value)}
          </AppText>
        </TypedValue>
      ) : (
        <AppText kind="value">{formatValue(spec, value)}</AppText>
      )}
    </>
  );
}, sameSetting);

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', minHeight: ROW, gap: SPACE.s, borderTopWidth: 1 },
  name: { flex: 1, minWidth: 96 },
  line: { flex: 1.6, minWidth: 110 },
});
