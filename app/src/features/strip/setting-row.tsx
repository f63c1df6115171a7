import { memo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { Switch } from 'react-native-paper';

import { stripFamily, type Profile } from '@old-echo/core/desk/profile';
import { isNumberSpec, type ChoiceSpec, type SettingSpec, type Value } from '@old-echo/core/desk/setting';
import type { State } from '@old-echo/core/desk/state';
import { settingName, showValue } from '@old-echo/core/desk/wording';

import { Option } from '../../ui/option';
import { Sheet } from '../../ui/sheet';
import { useLook } from '../../ui/theme';
import { CORNER, ROW, SPACE, TOUCH } from '../../ui/tokens';
import { ValueLine } from '../../ui/value-line';
import { Words } from '../../ui/words';

interface SettingRowProps {
  readonly profile: Profile;
  readonly names: State;
  readonly strip: string;
  readonly settingKey: string;
  readonly value: Value;
  /** What it was in the scene, where that differs. */
  readonly echo: Value | undefined;
  readonly onMove: ((address: string, value: Value, done: boolean, from: Value) => void) | undefined;
}

/** One setting: its name, its control, its value, and what it was. */
export const SettingRow = memo(
  function SettingRow({ profile, names, strip, settingKey, value, echo, onMove }: SettingRowProps) {
    const look = useLook();
    const spec = stripFamily(profile, strip)?.settings[settingKey];
    if (!spec) return null;
    const name = settingName(profile, settingKey, names);
    const move = onMove ? (to: Value, done: boolean) => onMove(`${strip}/${settingKey}`, to, done, value) : undefined;
    return (
      <View style={[styles.row, { borderColor: look.line }]}>
        <Words style={styles.name} numberOfLines={2}>
          {name}
        </Words>
        <Control spec={spec} value={value} echo={echo} name={name} onMove={move} />
        {echo === undefined || isNumberSpec(spec) ? null : (
          <Words kind="value" tone="second">
            was {showValue(spec, echo)}
          </Words>
        )}
      </View>
    );
  },
  (a, b) => a.value === b.value && a.echo === b.echo && a.strip === b.strip && a.onMove === b.onMove,
);

interface ControlProps {
  readonly spec: SettingSpec;
  readonly value: Value;
  readonly echo: Value | undefined;
  readonly name: string;
  readonly onMove: ((value: Value, done: boolean) => void) | undefined;
}

function Control({ spec, value, echo, name, onMove }: ControlProps) {
  if (isNumberSpec(spec))
    return (
      <>
        <View style={styles.line}>
          <ValueLine
            spec={spec}
            value={Number(value)}
            echo={typeof echo === 'number' ? echo : undefined}
            name={name}
            onMove={onMove}
            focusable
          />
        </View>
        <View style={styles.value}>
          <Words kind="value">{showValue(spec, value)}</Words>
          {echo === undefined ? null : (
            <Words kind="value" tone="second">
              was {showValue(spec, echo, false)}
            </Words>
          )}
        </View>
      </>
    );
  if (spec.kind === 'switch')
    return (
      <Switch
        value={value === true}
        disabled={!onMove}
        onValueChange={(on) => onMove?.(on, true)}
        accessibilityLabel={name}
      />
    );
  if (spec.kind === 'choice' || spec.kind === 'reference')
    return <Choice spec={spec} value={String(value)} name={name} onMove={onMove} />;
  return <Words kind="value">{showValue(spec, value)}</Words>;
}

function Choice({
  spec,
  value,
  name,
  onMove,
}: {
  spec: ChoiceSpec;
  value: string;
  name: string;
  onMove: ControlProps['onMove'];
}) {
  const look = useLook();
  const [open, setOpen] = useState(false);
  const choose = (option: string) => {
    setOpen(false);
    if (option !== value) onMove?.(option, true);
  };
  return (
    <>
      <Pressable
        role="button"
        aria-label={`${name}: ${value}`}
        disabled={!onMove}
        onPress={() => setOpen(true)}
        style={[styles.choice, { borderColor: look.line }]}
      >
        <Words kind="value">{value}</Words>
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
  row: { flexDirection: 'row', alignItems: 'center', minHeight: ROW, gap: SPACE.s, borderTopWidth: 1 },
  name: { flex: 1, minWidth: 96 },
  line: { flex: 1.6, minWidth: 110 },
  value: { width: 84, alignItems: 'flex-end' },
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
