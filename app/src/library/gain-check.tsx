import { skipToken } from '@reduxjs/toolkit/query';
import { View } from 'react-native';

import { specOf } from '@old-echo/core/desk/profile';
import { displayName, type SettingsByAddress } from '@old-echo/core/desk/state';
import { formatPeak, formatValue, fullSettingName, joinWithAnd } from '@old-echo/core/phrases/format-value';

import { useStemsQuery } from '../store/sound-api';
import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Card } from '../ui/layout';

const GAIN = /^([^/]+)\/preamp\/(gain|trim)$/;

/** Gains that would land on other sources than they were set for, with how high the stem of each goes where there is one. */
export function GainCheck({ now, settings }: { readonly now: LiveDesk; readonly settings: SettingsByAddress }) {
  const { data: stems = [] } = useStemsQuery(now.desk.scene?.productionId ?? skipToken);
  const gains = Object.entries(settings).flatMap(([address, value]) => {
    const strip = GAIN.exec(address)?.[1];
    const stays = strip !== undefined && now.state[strip]?.[address.slice(strip.length + 1)] === value;
    return strip === undefined || stays ? [] : [{ address, strip, value }];
  });
  if (gains.length === 0) return null;
  const name = (strip: string) => displayName(now.profile, now.state, strip);
  return (
    <Card edge="care">
      <View testID="gain-check">
        <AppText kind="strong">Check the gain of {joinWithAnd(gains.map(({ strip }) => name(strip)))}</AppText>
        <AppText tone="second">
          {gains.length === 1 ? 'It was' : 'They were'} set for{' '}
          {gains.length === 1 ? 'another source' : 'other sources'}.
        </AppText>
        {gains.map(({ address, strip, value }) => {
          const [spec, stem] = [specOf(now.profile, address), stems.find((one) => one.strip === strip)];
          return (
            <AppText key={address} tone="second">
              {fullSettingName(now.profile, address)} {spec ? formatValue(spec, value) : ''}
              {stem && stem.peak !== null ? `; the stem of ${name(strip)} peaks at ${formatPeak(stem.peak)}` : ''}
            </AppText>
          );
        })}
      </View>
    </Card>
  );
}
