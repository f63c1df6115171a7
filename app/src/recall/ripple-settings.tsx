import { StyleSheet, View } from 'react-native';

import { readAddress } from '@old-echo/core/desk/address';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, isOff, quantise, type Value } from '@old-echo/core/desk/setting';
import { displayName, type State } from '@old-echo/core/desk/state';
import { formatValue, fullSettingName, showOffset } from '@old-echo/core/phrases/format-value';

import { CheckRow } from '../components/check-row';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { toggled } from '../ui/toggle-in-set';

/** One value that is to be written. */
export interface RippleValue {
  readonly address: string;
  readonly strip: string;
  readonly value: Value;
  /** Where it was before, where that is known. */
  readonly was?: Value;
}

/** Whether a setting is one that hands ride while a show runs: a fader, a send, a mute. */
export const isRide = ({ address }: RippleValue): boolean =>
  ['fader', 'sends', 'mute'].includes(readAddress(address)?.section ?? '');

/** By how many dB a setting has moved; undefined where that cannot be told: what is not in dB, or was or is off. */
export function offsetOf(profile: Profile, { address, was, value }: RippleValue): number | undefined {
  const spec = specOf(profile, address);
  if (!spec || !isNumberSpec(spec) || spec.unit !== 'dB' || was === undefined) return undefined;
  if (isOff(spec, was) || isOff(spec, value)) return undefined;
  return quantise({ min: spec.min - spec.max, max: spec.max - spec.min, step: spec.step }, Number(value) - Number(was));
}

interface WrittenListProps {
  readonly title: string;
  readonly under?: string;
  readonly list: readonly RippleValue[];
  readonly profile: Profile;
  /** The state whose labels name the strips. */
  readonly state: State;
  /** Whether levels are moved from where each scene has them. */
  readonly byAmount: boolean;
  /** The addresses that are left out. */
  readonly without: ReadonlySet<string>;
  readonly onChange: (without: ReadonlySet<string>) => void;
}

/** Settings of which each is taken or left out, or all at once. */
export function WrittenList({ title, under, list, profile, state, byAmount, without, onChange }: WrittenListProps) {
  const addresses = list.map(({ address }) => address);
  const some = addresses.some((address) => !without.has(address));
  const shown = (written: RippleValue) => {
    const spec = specOf(profile, written.address);
    const by = byAmount ? offsetOf(profile, written) : undefined;
    if (by !== undefined && spec && isNumberSpec(spec)) return showOffset(spec, by);
    return spec ? formatValue(spec, written.value) : '';
  };
  return (
    <>
      <View style={styles.row}>
        <AppText kind="heading" style={styles.fill}>
          {title}
        </AppText>
        <Action
          kind="quiet"
          title={some ? 'Leave all out' : 'Take all'}
          onPress={() =>
            onChange(
              new Set(
                some ? [...without, ...addresses] : [...without].filter((address) => !addresses.includes(address)),
              ),
            )
          }
        />
      </View>
      {under ? (
        <AppText kind="small" tone="second">
          {under}
        </AppText>
      ) : null}
      {list.slice(0, MOST_SHOWN).map((written) => (
        <CheckRow
          key={written.address}
          name={`${displayName(profile, state, written.strip)} · ${fullSettingName(profile, written.address, state)}`}
          under={shown(written)}
          tick={without.has(written.address) ? 'none' : 'all'}
          testID={`ripple-${written.address}`}
          onPress={() => onChange(toggled(without, written.address))}
        />
      ))}
      {list.length > MOST_SHOWN ? (
        <AppText kind="small" tone="second">
          And {list.length - MOST_SHOWN} more, chosen or left out together.
        </AppText>
      ) : null}
    </>
  );
}

/** Rows that are drawn; more are told by their number. */
const MOST_SHOWN = 200;

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center' },
});
