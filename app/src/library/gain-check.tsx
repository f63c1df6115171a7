import { skipToken } from '@reduxjs/toolkit/query';
import { View } from 'react-native';

import { stripName, type Settings } from '@old-echo/core/desk/state';
import { fullSettingName, joined, showPeak, showValue } from '@old-echo/core/desk/format-value';
import { specAt } from '@old-echo/core/desk/profile';

import type { DeskNow } from '../store/use-live-desk';
import { useStemsQuery } from '../store/api';
import { Card } from '../ui/layout';
import { Words } from '../ui/app-text';

const GAIN = /^([^/]+)\/preamp\/(gain|trim)$/;

/** Gains that would land on other sources than they were set for, with how high the stem of each goes where there is one. */
export function GainCheck({ now, settings }: { readonly now: DeskNow; readonly settings: Settings }) {
  const { data: stems = [] } = useStemsQuery(now.desk.scene?.productionId ?? skipToken);
  const gains = Object.entries(settings).flatMap(([address, value]) => {
    const strip = GAIN.exec(address)?.[1];
    const stays = strip !== undefined && now.state[strip]?.[address.slice(strip.length + 1)] === value;
    return strip === undefined || stays ? [] : [{ address, strip, value }];
  });
  if (gains.length === 0) return null;
  const name = (strip: string) => stripName(now.profile, now.state, strip);
  return (
    <Card edge="care">
      <View testID="gain-check">
        <Words kind="strong">Check the gain of {joined(gains.map(({ strip }) => name(strip)))}</Words>
        <Words tone="second">It was set for another source.</Words>
        {gains.map(({ address, strip, value }) => {
          const [spec, stem] = [specAt(now.profile, address), stems.find((one) => one.strip === strip)];
          return (
            <Words key={address} tone="second">
              {fullSettingName(now.profile, address)} {spec ? showValue(spec, value) : ''}
              {stem && stem.peak !== null ? `; the stem of ${name(strip)} peaks at ${showPeak(stem.peak)}` : ''}
            </Words>
          );
        })}
      </View>
    </Card>
  );
}
