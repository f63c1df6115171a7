import { useMemo, useState } from 'react';
import { StyleSheet } from 'react-native';

import { stripFamily } from '@old-echo/core/desk/profile';
import { isOff, type Value } from '@old-echo/core/desk/setting';
import { displayName } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/phrases/format-value';

import { type LiveDesk, useBaseline } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { SettingRow } from './setting-row';

interface FeedsProps {
  readonly now: LiveDesk;
  readonly strip: string;
  readonly onMove: ((address: string, value: Value, done: boolean, from: Value) => void) | undefined;
}

/** Everything that is sent to a mix, a matrix or an effect, each with its level under the thumb; what sends nothing is folded away. */
export function Feeds({ now, strip, onMove }: FeedsProps) {
  const { profile, state } = now;
  const was = useBaseline();
  const [all, setAll] = useState(false);
  const level = `sends/${strip}/level`;
  const from = useMemo(
    () => profile.strips.filter((one) => stripFamily(profile, one)?.settings[level]),
    [profile, level],
  );
  if (from.length === 0) return null;
  const isSent = (one: string): boolean => {
    const spec = stripFamily(profile, one)?.settings[level];
    return spec !== undefined && !isOff(spec, state[one]?.[level]) && state[one]?.[`sends/${strip}/on`] !== false;
  };
  const sent = from.filter(isSent);
  return (
    <Card tight>
      <AppText kind="heading" style={styles.heading}>
        Fed by {sent.length === 0 ? 'nothing' : plural(sent.length, 'strip')}
      </AppText>
      {(all ? from : sent).map((one) => {
        const [value, before] = [state[one]?.[level], was?.[one]?.[level]];
        return (
          <SettingRow
            key={one}
            spec={stripFamily(profile, one)?.settings[level]}
            address={`${one}/${level}`}
            name={`${displayName(profile, state, one)}${state[one]?.[`sends/${strip}/tap`] === 'pre' ? ' · pre' : ''}`}
            value={value}
            echo={before === value ? undefined : before}
            onMove={onMove}
          />
        );
      })}
      {sent.length < from.length ? (
        <Action
          kind="quiet"
          title={all ? 'Only what is sent' : `Show the other ${from.length - sent.length}`}
          onPress={() => setAll(!all)}
        />
      ) : null}
    </Card>
  );
}

const styles = StyleSheet.create({ heading: { paddingVertical: SPACE.s } });
